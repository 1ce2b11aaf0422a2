/** What a helper and whoever asked it share about one task: four numbers that both can see. */
import { cancellable } from "../cancelling";
import { OutOfMemory } from "./memory";

const DONE = 0;
const RESULT = 1;
/** Counts up while the helper works. */
const BEAT = 2;
/** Set to stop the helper. */
const STOP = 3;
const PLACES = 4;

const FINISHED = 1;
const FAILED = 2;
/** The memory that it had for itself was too little. */
const SHORT = 3;

/** Milliseconds without a beat after which a helper is taken to be dead. */
const SILENCE = 4000;
/** Milliseconds between two looks at whether what is waited for is still wanted. */
const LOOK_EVERY = 10;

export class Task {
  /** @param places of the task that a helper was sent; new ones when missing */
  constructor(readonly places: Int32Array = new Int32Array(new SharedArrayBuffer(PLACES * 4))) {}

  /** For the helper: does the work, which may be stopped wherever it looks for cancelling. */
  perform(work: () => number): void {
    const { places } = this;
    const look = () => {
      Atomics.add(places, BEAT, 1);
      if (Atomics.load(places, STOP) !== 0) throw new Error("No longer wanted.");
    };
    try {
      places[RESULT] = cancellable(look, work);
      Atomics.store(places, DONE, FINISHED);
    } catch (error) {
      Atomics.store(places, DONE, error instanceof OutOfMemory ? SHORT : FAILED);
    }
    Atomics.notify(places, DONE);
  }

  stop(): void {
    Atomics.store(this.places, STOP, 1);
  }

  /** Waits until the helper has done; false when it has gone silent. `look` is called now and then. */
  wait(look?: () => void): boolean {
    const { places } = this;
    let beat = -1;
    let quiet = 0;
    while (Atomics.wait(places, DONE, 0, LOOK_EVERY) === "timed-out") {
      look?.();
      const now = Atomics.load(places, BEAT);
      quiet = now === beat ? quiet + LOOK_EVERY : 0;
      beat = now;
      if (quiet >= SILENCE) return false;
    }
    return true;
  }

  /** It would have needed more memory than it was given. */
  get wasShort(): boolean {
    return this.places[DONE] === SHORT;
  }

  /** What the work returned, an address or a count: 0 … 2³² − 1; null when it failed or was stopped. */
  get result(): number | null {
    // The shared numbers have signs; addresses beyond 2 GB have none.
    return this.places[DONE] === FINISHED ? this.places[RESULT] >>> 0 : null;
  }
}
