/** Measures ratios in one run and writes docs/BENCH.md: every figure against something measured beside it. */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import type { Helper } from "../src/core/kernels/helpers";
import { startHelper } from "../src/server/threads/start-helpers";
import { composing, fractalPlacing, fusedChain, gradientNoise, steppedChain } from "./fields";
import { nothingChanged, twoThreads, wholeFrame } from "./frame";
import type { Pair } from "./measure";

const SIZES = [1e3, 1e4, 1e5, 1e6];

interface Row {
  readonly work: string;
  readonly against: string;
  readonly wanted: number;
  readonly measure: (count: number, runs: number) => Pair;
}

const rowsWith = (helper: Helper): readonly Row[] => [
  {
    work: "seven-step falloff chain",
    against: "a hand-fused JavaScript loop",
    wanted: 0.22,
    measure: fusedChain,
  },
  { work: "the same", against: "an array per step in JavaScript", wanted: 0.03, measure: steppedChain },
  {
    work: "gradient noise in 3D",
    against: "the simplex-noise package",
    wanted: 0.28,
    measure: gradientNoise,
  },
  {
    work: "4-octave noise for place, turn and size",
    against: "straightforward JavaScript",
    wanted: 0.15,
    measure: fractalPlacing,
  },
  {
    work: "4 × 4 matrices from place, turn, size",
    against: "three's compose",
    wanted: 0.22,
    measure: composing,
  },
  {
    work: "a whole frame: grid, noise, falloff, move, rotate, scale, tint, matrices, colours",
    against: "copying its output once",
    wanted: 6,
    measure: wholeFrame,
  },
  { work: "the same with 2 threads", against: "with 1 thread", wanted: 0.6, measure: twoThreads(helper) },
  {
    work: "a frame where nothing changed",
    against: "the first frame",
    wanted: 0.001,
    measure: nothingChanged,
  },
];

const figure = (n: number): string => (n >= 10 ? n.toFixed(0) : n.toPrecision(2));
/** Fewer runs for larger sizes; the slow sides take seconds. */
const runsFor = (count: number) => (count >= 1e6 ? 5 : count >= 1e5 ? 15 : 60);

async function main(): Promise<void> {
  const helper = await startHelper();
  const lines = rowsWith(helper).map((row) => {
    const pairs = SIZES.map((count) => row.measure(count, runsFor(count)));
    const last = pairs[pairs.length - 1];
    const ratios = pairs.map(({ ours, other }) => figure(ours / other));
    console.log(row.work, ratios.join("  "));
    return `| ${row.work} | ${row.against} | ${ratios.join(" | ")} | ${row.wanted} | ${figure(last.ours)} ms |`;
  });

  const text = `# Bench

Written by \`./run bench\` on ${cpus().length} × ${cpus()[0].model.trim()}, Node ${process.version}, one thread. Each
cell is our time over the other's, both medians of one run, taken in turns (5 to 60 runs by size); smaller is better.

| work | against | ${SIZES.map((n) => n.toLocaleString("en-GB")).join(" | ")} | wanted at a million | ours at a million |
|---|---|${SIZES.map(() => "---|").join("")}---|---|
${lines.join("\n")}

What limits the whole frame (profile of a million): moving noise reads two lattices an element, a quarter of the time. Columns are new
arrays each frame, and what a node writes is copied out of the kernels' memory and in again for the next node and for the matrices: another
third. Columns that live in the kernels' memory would not be copied. Matrices, colours and bounds are still composed by one
thread, which is what keeps two threads from halving the time.
`;
  writeFileSync("docs/BENCH.md", text);
  await helper.terminate();
}

void main();
