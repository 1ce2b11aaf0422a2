/** Starts helper threads of Node, for tests and measurements. */
import { once } from "node:events";
import { Worker } from "node:worker_threads";

export async function startHelper(): Promise<Worker> {
  // A thread does not inherit the loader for TypeScript; it registers its own.
  const file = JSON.stringify(new URL("./helper.ts", import.meta.url).href);
  const boot = `import("tsx/esm/api").then(({ register }) => (register(), import(${file})))`;
  const worker = new Worker(boot, { eval: true });
  await once(worker, "message");
  return worker;
}
