/** Limits that several parts of the core share. */

/** Sites, clones and points of clouds at most: more than this neither fits well into memory nor is seen. */
export const MOST_SITES = 4_000_000;
