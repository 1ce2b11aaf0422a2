/** Looks that are gathered one after the other while the stage rests, so that the page stays its designer's. */

/** Milliseconds that looks are gathered for without being asked, and that one of them may take. */
const PATIENCE = 10_000;
const SLOW = 700;

/** Resolves once what was drawn is on the screen: a browser asks for the next picture but one when it has shown the last. */
const shown = (): Promise<void> =>
  new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done())));

export interface Gathered {
  readonly done: number;
  readonly wanted: number;
  /** It goes on only when it is asked to. */
  readonly waits: boolean;
}

export class Gathering {
  private timer = 0;
  /** What takes the next look; one that is not this any more, as it waited for the screen meanwhile, takes none. */
  private next: (() => void) | null = null;

  /** @param look gathers one more, and says how many there are of how many that are wanted */
  constructor(
    private readonly look: () => Omit<Gathered, "waits">,
    private readonly tell: (gathered: Gathered) => void,
  ) {}

  /** Goes on where it stopped, until all looks are there or it takes long. */
  start(): void {
    this.stop();
    const begun = performance.now();
    let slowest = 0;
    const next = async () => {
      const before = performance.now();
      const { done, wanted } = this.look();
      // On a card that is slow, or after a while, the page is left alone.
      const waits = slowest > SLOW || before - begun > PATIENCE;
      this.tell({ done, wanted, waits });
      if (waits || done >= wanted) return;
      await shown();
      const took = performance.now() - before;
      // The first look makes what the others use.
      if (done > 1) slowest = Math.max(slowest, took);
      // The page has as much time as the picture.
      if (this.next === next) this.timer = window.setTimeout(next, took);
    };
    this.next = next;
    this.timer = window.setTimeout(next);
  }

  stop(): void {
    clearTimeout(this.timer);
    this.next = null;
  }
}
