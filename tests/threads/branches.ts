/**
 * Prints what comes of independent heavy nodes with and without helpers, as JSON. Run by threads.test.ts in a process of
 * its own, as Jest's modules cannot be threads. With "beyond" all of it stands past 2 GB of the memory.
 */
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { arraysOf } from "../../src/core/geometry/domains";
import { HelperPool, setHelpers } from "../../src/core/kernels/helpers";
import { engine } from "../../src/core/kernels/kernels";
import { mixSigned } from "../../src/core/maths/random";
import { startHelper } from "../../src/server/threads/start-helpers";
import { graphOf, type NodeSpec } from "../run-node";

const count = 20_000;
const nodes: Record<string, NodeSpec> = {
  ball: { type: "sphere", set: { build: "geodesic", detail: 3 } },
  hills: { type: "noise", set: { speed: 1 } },
  wobble: { type: "move", set: {} },
  a: { type: "scatter-sites", set: { count, seed: 1 } },
  b: { type: "scatter-sites", set: { count, seed: 2, spread: "evenly" } },
  c: { type: "scatter-sites", set: { count: 300, seed: 3 } },
  // Its surface has no area.
  flat: { type: "scatter-sites", set: { count, seed: 4, weight: 0 } },
  // Fields that read a surface, a table of colours and turns that remember their angles; together they decide where clones go.
  near: { type: "nearest", set: { to: "surface" } },
  ray: { type: "cast-ray" },
  tints: { type: "gradient" },
  angles: { type: "noise", set: { speed: 2, seed: 4 } },
  placed: { type: "place", set: {} },
  tinted: { type: "tint", set: {} },
  turned: { type: "rotate", set: {} },
  all: { type: "merge" },
  stage: { type: "stage" },
};
const document = graphOf(nodes, [
  "ball.shape>wobble.shape",
  "hills.vector>wobble.by",
  ...["a", "b", "c", "flat"].flatMap((id) => [`wobble.shape>${id}.shape`, `${id}.sites>all.shapes`]),
  "wobble.shape>near.shape",
  "wobble.shape>ray.shape",
  "all.shape>placed.shape",
  "near.place>placed.at",
  "ray.hit>placed.amount",
  "near.distance>tints.value",
  "placed.shape>tinted.shape",
  "tints.color>tinted.color",
  "tinted.shape>turned.shape",
  "angles.vector>turned.turn",
  "turned.shape>stage.shape",
]);

/** Two that need far more than a helper is given at first: what turning makes is not guessed before it runs. */
const large = graphOf(
  {
    grid: { type: "grid-sites", set: { across: 1000, deep: 2300 } },
    here: { type: "rotate", set: { turn: [0, 40, 0], pivot: [1, 0, 0] } },
    there: { type: "rotate", set: { turn: [0, 20, 0], pivot: [1, 0, 0] } },
    all: { type: "blend-poses", set: { amount: 0 } },
    stage: { type: "stage" },
  },
  [
    "grid.sites>here.shape",
    "grid.sites>there.shape",
    "here.shape>all.shape",
    "there.shape>all.to",
    "all.shape>stage.shape",
  ],
);

function evaluate(evaluator: Evaluator, frame: number) {
  const { shape, report } = evaluator.evaluate(document, frame, { heavyFrom: 0 });
  let sum = 1;
  for (const array of shape ? arraysOf(shape) : [])
    for (const word of new Uint32Array(array.buffer, array.byteOffset, array.length))
      sum = mixSigned(sum ^ word);
  const warnings = Object.values(report.nodes).flatMap(({ problems }) => problems.map(({ what }) => what));
  return { sum, complete: report.complete, warnings };
}

async function main(): Promise<void> {
  if (process.argv.includes("beyond")) engine().memory.allocate(2 ** 31);
  const workers = await Promise.all([startHelper(), startHelper()]);
  let taken = 0;
  const pool = new HelperPool();
  for (const worker of workers)
    pool.add({
      postMessage(message) {
        if ("region" in message) taken++;
        worker.postMessage(message);
      },
      terminate: () => worker.terminate(),
    });
  const frames = [0, 1, 2, 3, 4, 5];
  const alone = new Evaluator();
  const one = frames.map((frame) => evaluate(alone, frame));
  const helped = new Evaluator();
  setHelpers(pool);
  const used: number[] = [];
  const several = frames.map((frame) => {
    const result = evaluate(helped, frame);
    used.push(engine().memory.used);
    return result;
  });
  // Cut short while helpers run.
  let looks = 0;
  const checkCancelled = () => {
    if (looks++ > 12) throw new Error("enough");
  };
  let cut = "";
  try {
    helped.evaluate(document, 9, { heavyFrom: 0, checkCancelled });
  } catch (error) {
    cut = (error as Error).message;
  }
  const after = evaluate(helped, 3);
  const usedAfter = engine().memory.used;
  const notes = Object.values(new Evaluator().evaluate(large, 0, { heavyFrom: 0 }).report.nodes).flatMap(
    ({ problems }) => problems.map(({ what }) => what),
  );
  // A helper that never answers.
  const dead = new HelperPool();
  dead.add({ postMessage: () => undefined, terminate: () => undefined });
  setHelpers(dead);
  const without = evaluate(new Evaluator(), 2);
  console.log(JSON.stringify({ one, several, taken, used, cut, after, usedAfter, without, notes }));
  await Promise.all(workers.map((worker) => worker.terminate()));
}

void main();
