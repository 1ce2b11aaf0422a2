/** Helper threads of Node, for the command line and the server. */
import { once } from "node:events";
import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { HelperPool } from "../../core/kernels/helpers";
import { programFile } from "../files";

/** Threads at most; beyond this memory, not arithmetic, is what is short. */
const MOST = 8;

const spawn = (): Worker => new Worker(programFile("helper-thread"));

/** One thread, when it is ready. */
export async function startHelper(): Promise<Worker> {
  const worker = spawn();
  await once(worker, "message");
  return worker;
}

/** One for each further core, started when there is first work for them. They do not keep the process alive. */
export function helpersOnDemand(): HelperPool {
  let started = false;
  const wanted = () => {
    if (started) return;
    started = true;
    for (let i = 1; i < Math.min(MOST, availableParallelism()); i++) {
      const worker = spawn();
      worker.once("message", () => pool.add(worker));
      // Without it the work is done all the same.
      worker.on("error", () => undefined);
      worker.unref();
    }
  };
  const pool = new HelperPool({ wanted });
  return pool;
}
