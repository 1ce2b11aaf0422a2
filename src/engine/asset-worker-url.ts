/** The same for the asset worker, in a file of its own: a worker that could start itself is a ring to a bundler. */
export const startAssetWorker = (): Worker =>
  new Worker(new URL("./asset-worker.ts", import.meta.url), { type: "module", name: "glemmo-assets" });
