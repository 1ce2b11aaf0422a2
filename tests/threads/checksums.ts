/**
 * Prints the checksum of one large frame worked out by 1, 2 and 4 threads, and by 2 of which one is dead, as JSON, with
 * how many ranges the helpers took. Run by threads.test.ts in a process of its own, as Jest's modules cannot be threads.
 */
import { createHash } from "node:crypto";
import type { Worker } from "node:worker_threads";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { type HelperMessage, HelperPool, setHelpers } from "../../src/core/kernels/helpers";
import { startHelper } from "../../src/server/threads/start-helpers";
import { graphOf } from "../run-node";

const document = graphOf(
  {
    grid: { type: "grid-sites", set: { across: 400, deep: 300 } },
    hills: { type: "noise", set: { octaves: 3, speed: 0.7 } },
    near: { type: "falloff", set: { outer: 30, ease: "cosine" } },
    dice: { type: "random" },
    colors: { type: "gradient" },
    rise: { type: "move" },
    turn: { type: "rotate" },
    paint: { type: "tint" },
    broken: { type: "formula", set: { formula: "log(place.x)" } },
    size: { type: "scale" },
    stage: { type: "stage" },
  },
  [
    "grid.sites>rise.shape",
    "hills.vector>rise.by",
    "rise.shape>turn.shape",
    "dice.value>turn.amount",
    "turn.shape>paint.shape",
    "near.value>colors.value",
    "colors.color>paint.color",
    "paint.shape>size.shape",
    "broken.value>size.size",
    "size.shape>stage.shape",
  ],
);

let taken = 0;

function checksum(pool: HelperPool | null): { sum: string; taken: number; warnings: string[] } {
  taken = 0;
  setHelpers(pool);
  const { shape, report } = new Evaluator().evaluate(document, 12);
  const hash = createHash("sha256");
  for (const [name, { lanes }] of Object.entries(shape?.sites?.columns ?? {}).sort(([a], [b]) =>
    a < b ? -1 : 1,
  )) {
    hash.update(name);
    for (const lane of lanes) hash.update(new Uint8Array(lane.buffer, lane.byteOffset, lane.byteLength));
  }
  return { sum: hash.digest("hex"), taken, warnings: report.nodes.size.problems.map((p) => p.what) };
}

async function main(): Promise<void> {
  const workers = await Promise.all([startHelper(), startHelper(), startHelper()]);
  const counting = (worker: Worker) => ({
    postMessage(message: HelperMessage) {
      if ("job" in message) taken++;
      worker.postMessage(message);
    },
    terminate: () => worker.terminate(),
  });
  const poolOf = (count: number) => {
    const pool = new HelperPool();
    for (const worker of workers.slice(0, count)) pool.add(counting(worker));
    return pool;
  };
  const results = { one: checksum(null), two: checksum(poolOf(1)), four: checksum(poolOf(3)) };
  const dead = new HelperPool();
  dead.add({ postMessage: () => undefined, terminate: () => undefined });
  console.log(JSON.stringify({ ...results, dead: checksum(dead) }));
  await Promise.all(workers.map((worker) => worker.terminate()));
}

void main();
