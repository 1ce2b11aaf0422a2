/** How deep parsed JSON may go: what holds itself within itself without end is refused before anything walks it. */

/** Deeper than any setting of ours by far. */
export const MOST_DEPTH = 64;

/** The way to the first value that lies too deep; null when all is within. Without recursion. */
export function tooDeep(root: unknown): (string | number)[] | null {
  const stack: {
    readonly value: unknown;
    readonly depth: number;
    readonly key: string | number;
    readonly up: number;
  }[] = [{ value: root, depth: 0, key: "", up: -1 }];
  for (let i = 0; i < stack.length; i++) {
    const { value, depth } = stack[i];
    if (value === null || typeof value !== "object") continue;
    if (depth >= MOST_DEPTH) {
      const way: (string | number)[] = [];
      for (let at = i; at > 0; at = stack[at].up) way.unshift(stack[at].key);
      return way;
    }
    for (const [key, inner] of Array.isArray(value) ? value.entries() : Object.entries(value))
      if (inner !== null && typeof inner === "object")
        stack.push({ value: inner, depth: depth + 1, key, up: i });
  }
  return null;
}
