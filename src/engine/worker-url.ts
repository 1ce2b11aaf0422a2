/** The one place that knows where the engine's code is; bundlers find it by this very expression. */
export const startWorker = (): Worker =>
  new Worker(new URL("./worker.ts", import.meta.url), { type: "module", name: "glemmo-engine" });
