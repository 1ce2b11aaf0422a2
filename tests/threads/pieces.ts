/**
 * Prints checksums of all demo pieces worked out by 1, 2 and 4 threads, as JSON, and how many ranges helpers took. With "beyond"
 * everything stands past 2 GB of the memory, where addresses no longer fit into signed numbers, and 1 and 4 threads are enough.
 */
import type { Worker } from "node:worker_threads";
import { type HelperMessage, HelperPool, setHelpers } from "../../src/core/kernels/helpers";
import { engine } from "../../src/core/kernels/kernels";
import { demoAssets, demoNames, readDemo } from "../../src/server/demo";
import { startHelper } from "../../src/server/threads/start-helpers";
import { pieceChecksums } from "./piece-checksums";

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
  const one = await pieceChecksums(pieces, bytesOf);
  setHelpers(poolOf(workers.slice(0, 1)));
  const two = isBeyond ? undefined : await pieceChecksums(pieces, bytesOf);
  setHelpers(poolOf(workers));
  const four = await pieceChecksums(pieces, bytesOf);
  console.log(JSON.stringify({ one, two, four, taken }));
  await Promise.all(workers.map((worker) => worker.terminate()));
}

void main();
