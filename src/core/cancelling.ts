/**
 * Cancelling from deep inside: loops over elements call `tick`, and the evaluation that surrounds them decides what
 * happens there. One evaluation runs at a time in a thread, so the check is kept beside it instead of being handed
 * through every function of geometry and formats.
 */

/** Units of work (about an element each) between two looks; some milliseconds at most. */
const WORK_BETWEEN = 16_384;

let check: (() => void) | null = null;
let left = WORK_BETWEEN;

/**
 * To be called by long loops with the number of elements done since the last call; an infinite number looks at
 * once. Throws when cancelled.
 */
export function tick(work = 1): void {
  left -= work;
  if (left > 0) return;
  left = WORK_BETWEEN;
  check?.();
}

/** Runs `work`; while it runs, `look` is called now and then, and stops it by throwing. */
export function cancellable<T>(look: (() => void) | undefined, work: () => T): T {
  const before = check;
  check = look ?? before;
  try {
    return work();
  } finally {
    check = before;
  }
}
