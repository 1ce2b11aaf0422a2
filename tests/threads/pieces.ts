/**
 * Prints checksums of all demo pieces as JSON, and how many ranges helpers took: of all frames worked out by 1 and 4 threads, of
 * the first ones by 2. With "beyond" everything stands past 2 GB of the memory, where addresses no longer fit into signed
 * numbers, and it is the first frames by 4 threads, of which this one takes ranges too.
 */
import type { Worker } from "node:worker_threads";
import { type HelperMessage, HelperPool, setHelpers } from "../../src/core/kernels/helpers";
import { engine } from "../../src/core/kernels/kernels";
import { demoAssets, demoNames, readDemo } from "../../src/server/demo";
import { startHelper } from "../../src/server/threads/start-helpers";
import { FIRST_FRAMES, FRAMES, pieceChecksums } from "./piece-checksums";

/** Elements from which a range is shared out here: demo pieces are smaller than what is worth it. */
const SHARED_FROM = 1024;

async function main(): Promise<void> {
  const isBeyond = process.argv.includes("beyond");
  if (isBeyond) engine().memory.allocate(2 ** 31);
  const assets = demoAssets();
  const pieces = demoNames().map((name) => ({ name, document: readDemo(name) }));
  const bytesOf = (hash: string) => assets.get(hash)?.bytes ?? new Uint8Array();
  const workers = await Promise.all([startHelper(), startHelper(), startHelper()]);
  let taken = 0;
  const poolOf = (helpers: readonly Worker[]) => {
    const pool = new HelperPool({ sharedFrom: SHARED_FROM });
    for (const worker of helpers)
      pool.add({
        postMessage(message: HelperMessage) {
          if ("job" in message) taken++;
          worker.postMessage(message);
        },
        terminate: () => worker.terminate(),
      });
    return pool;
  };
  const withHelpers = (helpers: readonly Worker[], frames: number) => {
    setHelpers(poolOf(helpers));
    return pieceChecksums(pieces, bytesOf, frames);
  };
  const sums = isBeyond
    ? { four: await withHelpers(workers, FIRST_FRAMES) }
    : {
        one: await pieceChecksums(pieces, bytesOf, FRAMES),
        two: await withHelpers(workers.slice(0, 1), FIRST_FRAMES),
        four: await withHelpers(workers, FRAMES),
      };
  console.log(JSON.stringify({ ...sums, taken }));
  await Promise.all(workers.map((worker) => worker.terminate()));
}

void main();
