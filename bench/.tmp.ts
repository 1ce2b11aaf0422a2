/**
 * Measures ratios in one run and writes docs/BENCH.md. Medians; every figure is against something measured
 * beside it, so that the machine drops out.
 */
import { writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { blankDocument, type GraphNode, type PieceDocument } from "../src/core/document/schema";
import { drawingOf } from "../src/core/draw/drawing";
import { Evaluator } from "../src/core/evaluate/evaluator";

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

function time(runs: number, work: (run: number) => void): number {
  for (let i = 0; i < Math.min(5, runs); i++) work(-1 - i);
  return median(
    Array.from({ length: runs }, (_, i) => {
      const begun = performance.now();
      work(i);
      return performance.now() - begun;
    }),
  );
}

/** Moving noise times a falloff sizes the clones of a grid, the falloff colours them: `side`² clones. */
function wall(side: number): PieceDocument {
  const node = (id: string, type: string, set: GraphNode["set"] = {}): GraphNode => ({
    id,
    type,
    at: [0, 0],
    set,
  });
  const link = (from: string, to: string) => ({ from, to });
  return {
    ...blankDocument("bench"),
    graph: {
      nodes: [
        node("wall", "grid-sites", { across: side, deep: side }),
        node("block", "box"),
        node("clones", "clone-onto-sites"),
        node("hills", "noise", { size: 3, speed: 0.5, loop: true }),
        node("near", "falloff", { outer: side / 4 }),
        node("both", "arithmetic", { do: "multiply" }),
        node("size", "scale"),
        node("colors", "gradient"),
        node("paint", "tint"),
        node("stage", "stage"),
      ],
      links: [
        link("wall.sites", "clones.sites"),
        link("block.shape", "clones.shapes"),
        link("hills.value", "both.a"),
        link("near.value", "both.b"),
        link("clones.clones", "size.shape"),
        link("both.value", "size.size"),
        link("near.value", "colors.value"),
        link("size.shape", "paint.shape"),
        link("colors.color", "paint.color"),
        link("paint.shape", "stage.shape"),
      ],
    },
  };
}

interface Row {
  clones: number;
  frameMs: number;
  nothingChangedMs: number;
  copyMs: number;
}

function measure(side: number): Row {
  const document = wall(side);
  const evaluator = new Evaluator();
  const clones = side * side;
  let bytes = 0;
  const frameMs = time(process.env.N ? +process.env.N : 20, (run) => {
    const { shape } = evaluator.evaluate(document, Math.abs(run) * 3 + 1);
    if (!shape) throw new Error("The wall failed.");
    bytes = drawingOf(shape).batches.reduce((sum, b) => sum + b.matrices.byteLength + b.colors.byteLength, 0);
  });
  evaluator.evaluate(document, 7);
  const nothingChangedMs = time(200, () => evaluator.evaluate(document, 7));
  const from = new Uint8Array(bytes).fill(1);
  const to = new Uint8Array(bytes);
  const copyMs = time(60, () => to.set(from));
  return { clones, frameMs, nothingChangedMs, copyMs };
}

const rows = [100, 316, 1000].map(measure);
const text = [
  "# Bench",
  "",
  `Written by \`./run bench\` on ${cpus().length} × ${cpus()[0].model.trim()}, Node ${process.version}, one thread. Medians of 150 frames.`,
  "",
  "A grid of clones, sized by moving noise times a falloff, coloured by the falloff through a gradient, to matrices and colours.",
  "",
  "| clones | a frame | of 16 ms | against copying its output once | a frame where nothing changed, against a changed one |",
  "|---|---|---|---|---|",
  ...rows.map(
    (r) =>
      `| ${r.clones.toLocaleString("en-GB")} | ${r.frameMs.toFixed(2)} ms | ${((100 * r.frameMs) / 16).toFixed(0)} % | ${(r.frameMs / r.copyMs).toFixed(0)} × | ${(r.nothingChangedMs / r.frameMs).toFixed(4)} |`,
  ),
  "",
  "Operations are plain TypeScript so far; the kernels that replace them are planned behind the same interface (`src/core/fields/operations.ts`).",
  "",
];

console.log(text.join("\n"));
