/** One frame by one thread and by several: the same bytes. */
import { execFileSync } from "node:child_process";
import { FIRST_FRAMES, FRAMES } from "../threads/piece-checksums";

interface Result {
  readonly sum: string;
  readonly taken: number;
  readonly warnings: readonly string[];
}

describe("threads", () => {
  const results = JSON.parse(
    execFileSync("npx", ["tsx", "tests/threads/checksums.ts"], { encoding: "utf8" }),
  ) as Record<"one" | "two" | "four" | "dead", Result>;

  it("give the same bytes with 1, 2 and 4 of them, and share the work", () => {
    expect(results.one.taken).toBe(0);
    expect(results.two.sum).toBe(results.one.sum);
    expect(results.four.sum).toBe(results.one.sum);
    expect(results.four.taken).toBe(3 * results.two.taken);
    expect(results.two.taken).toBeGreaterThan(2);
  });

  it("count what was not finite over all of them", () => {
    // log of a place left of the middle: half of 120,000 sites, for the size along three axes.
    expect(results.one.warnings[0]).toContain("not finite");
    expect(results.four.warnings).toEqual(results.one.warnings);
  });

  it("go on without a helper that does not answer, after one wait", () => {
    expect(results.dead.sum).toBe(results.one.sum);
    expect(results.dead.taken).toBe(0);
  });
});

describe("all demo pieces", () => {
  type Sums = Record<string, readonly string[]>;
  const checksums = <T extends string>(...more: string[]) =>
    JSON.parse(
      execFileSync("npx", ["tsx", "tests/threads/pieces.ts", ...more], { encoding: "utf8" }),
    ) as Record<T, Sums> & { taken: number };
  const { one, two, four, taken } = checksums<"one" | "two" | "four">();
  const firsts = Object.fromEntries(
    Object.entries(one).map(([name, sums]) => [name, sums.slice(0, FIRST_FRAMES)]),
  );

  it("are the same bits at 20 frames with 1 and 4 threads, at the first of them with 2", () => {
    expect(Object.keys(one).length).toBeGreaterThanOrEqual(10);
    expect(Object.values(one).every((sums) => sums.length === FRAMES)).toBe(true);
    expect(two).toEqual(firsts);
    expect(four).toEqual(one);
    expect(taken).toBeGreaterThan(100);
  });

  it("are the same beyond 2 GB of memory", () => {
    const beyond = checksums<"four">("beyond");
    expect(beyond.four).toEqual(firsts);
    // How many jobs helpers get depends on how long nodes have taken; that they get many does not.
    expect(beyond.taken).toBeGreaterThan(100);
  });
});

describe.each([[], ["beyond"]])("branches that do not need each other %s", (...more) => {
  interface Outcome {
    readonly sum: number;
    readonly complete: boolean;
    readonly warnings: readonly string[];
  }
  const result = JSON.parse(
    execFileSync("npx", ["tsx", "tests/threads/branches.ts", ...more], { encoding: "utf8" }),
  ) as Record<"one" | "several", Outcome[]> &
    Record<"after" | "without", Outcome> & {
      taken: number;
      used: number[];
      cut: string;
      usedAfter: number;
      notes: string[];
    };

  it("are given to helpers and give the very same, warnings included", () => {
    expect(result.taken).toBeGreaterThanOrEqual(6);
    expect(result.several).toEqual(result.one);
    expect(result.one[0].warnings.join()).toContain("no area");
  });

  it("leave no more memory in use frame after frame", () => {
    expect(result.used[5]).toBe(result.used[2]);
  });

  it("tell what was worked out once more because it needed more memory than was set aside", () => {
    expect(result.notes).toEqual([expect.stringMatching(/^It needs more than the 32 MB/)]);
  });

  it("can be cut short, and a helper that does not answer costs time only", () => {
    expect(result.cut).toBe("enough");
    expect(result.after).toEqual(result.one[3]);
    expect(result.usedAfter).toBe(result.used[3]);
    expect(result.without).toEqual(result.one[2]);
  });
});
