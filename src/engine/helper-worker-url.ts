/** Beside worker-url.ts, in a file of its own for the same reason as asset-worker-url.ts. */
export const startHelperWorker = (): Worker =>
  new Worker(new URL("./helper-worker.ts", import.meta.url), { type: "module", name: "glemmo-helper" });
