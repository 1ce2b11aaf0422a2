/** The one place that knows where the workers' code is; bundlers find it by these very expressions. */
export const startWorker = (): Worker =>
  new Worker(new URL("./worker.ts", import.meta.url), { type: "module", name: "glemmo-engine" });

export const startAssetWorker = (): Worker =>
  new Worker(new URL("./asset-worker.ts", import.meta.url), { type: "module", name: "glemmo-assets" });
