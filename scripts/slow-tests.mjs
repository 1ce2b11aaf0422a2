/** Tests that start programs, threads and many evaluations, the longest first: half of the time of all. A quick run leaves them out. */
export const SLOW_TESTS = [
  "tests/server/threads.test.ts",
  "tests/core/pieces.test.ts",
  "tests/server/cli.test.ts",
  "tests/server/api.test.ts",
  "tests/core/memory.test.ts",
];
