/** Looks that are gathered one after the other while the stage rests, so that the page stays its designer's. */

/** Milliseconds that looks are gathered for without being asked. */
const PATIENCE = 10_000;
/** Milliseconds from which a look is slow: that many looks would outlast the patience, and each holds up the page. */
const SLOW = 150;
/** Milliseconds from which a look is too much for a page that its designer works in; a card draws it, no processor. */
const HEAVY = 1000;

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
  /** Milliseconds that the last two looks took. */
  private lastTook: [number, number] = [0, 0];

  /**
   * @param look gathers one more
   * @param state how many there are, of how many that are wanted
   */
  constructor(
    private readonly look: () => void,
    private readonly state: () => Omit<Gathered, "waits">,
    private readonly tell: (gathered: Gathered) => void,
  ) {}

  /**
   * Goes on where it stopped, until all looks are there.
   * @param asked goes on for as long as it takes; else it waits to be asked when it lasts, after one look where looks are slow, and before it
   * where they are heavy
   */
  start(asked: boolean): void {
    this.stop();
    if (!asked && this.least > HEAVY) {
      this.tell({ ...this.state(), waits: true });
      return;
    }
    const begun = performance.now();
    const next = async () => {
      const before = performance.now();
      this.look();
      const { done, wanted } = this.state();
      const waits = !asked && (this.least > SLOW || before - begun > PATIENCE);
      this.tell({ done, wanted, waits });
      if (done >= wanted) return;
      await shown();
      const took = performance.now() - before;
      // The first look makes what the others use.
      if (done > 1 || took > HEAVY) this.lastTook = [this.lastTook[1], took];
      if (waits) return;
      // The page has as much time as the picture.
      if (this.next === next) this.timer = window.setTimeout(next, took);
    };
    this.next = next;
    this.timer = window.setTimeout(next);
  }

  /** What the quicker of the last two looks took: a hitch makes no card slow. */
  private get least(): number {
    return Math.min(...this.lastTook);
  }

  stop(): void {
    clearTimeout(this.timer);
    this.next = null;
  }
}
