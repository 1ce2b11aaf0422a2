/** ELK in a worker of its own, begun when something is tidied for the first time. */
import type { ELK } from "elkjs/lib/elk-api";

let engine: Promise<ELK> | null = null;

export const tidyEngine = (): Promise<ELK> =>
  (engine ??= import("elkjs/lib/elk-api").then(
    ({ default: Elk }) =>
      new Elk({
        workerFactory: () =>
          new Worker(new URL("./tidy-worker.ts", import.meta.url), { type: "module", name: "glemmo-tidy" }),
      }),
  ));
