/** One number for an edge, whichever way it is walked; exact for up to 2^26 points. */
export const edgeKey = (a: number, b: number): number => Math.min(a, b) * 2 ** 26 + Math.max(a, b);
