/** The engine's side of the asset worker: opens files by message. */
import type { OpenAsset } from "../core/evaluate/asset-shelf";
import { FormatError } from "../core/formats/format-error";
import type { AssetContent } from "../core/formats/read/asset";
import type { AssetReply, AssetRequest } from "./asset-worker";
import { startAssetWorker } from "./asset-worker-url";

interface Waiter {
  readonly done: (content: AssetContent) => void;
  readonly fail: (error: Error) => void;
}

/** One worker for all files, started with the first and started again after it died. */
export function assetReader(): OpenAsset {
  let worker: Worker | null = null;
  let nextId = 1;
  const waiting = new Map<number, Waiter>();
  const start = (): Worker => {
    const started = startAssetWorker();
    started.onmessage = ({ data }: MessageEvent<AssetReply>) => {
      const waiter = waiting.get(data.id);
      waiting.delete(data.id);
      if (data.ok) waiter?.done(data.content);
      else waiter?.fail(data.format ? new FormatError(data.message) : new Error(data.message));
    };
    started.onerror = () => {
      started.terminate();
      worker = null;
      for (const { fail } of waiting.values())
        fail(new Error("Reading the file stopped unexpectedly; there may be too little memory for it."));
      waiting.clear();
    };
    return started;
  };
  return (file, hash) =>
    new Promise((done, fail) => {
      worker ??= start();
      const id = nextId++;
      waiting.set(id, { done, fail });
      worker.postMessage({ id, file, hash } satisfies AssetRequest);
    });
}
