/** The engine worker's helpers: one for each further core, started when there is first work for them. */
import { HelperPool } from "../core/kernels/helpers";
import { startHelperWorker } from "./helper-worker-url";

/** Threads at most; beyond this memory, not arithmetic, is what is short. */
const MOST = 8;

/** Null where memory cannot be shared: the page is not isolated. */
export function startHelpers(): HelperPool | null {
  if (typeof SharedArrayBuffer !== "function" || !self.crossOriginIsolated) return null;
  let started = false;
  const wanted = () => {
    if (started) return;
    started = true;
    const others = Math.min(MOST, navigator.hardwareConcurrency || 1) - 1;
    for (let i = 0; i < others; i++) {
      const worker = startHelperWorker();
      worker.onmessage = () => pool.add(worker);
    }
  };
  const pool = new HelperPool({ wanted });
  return pool;
}
