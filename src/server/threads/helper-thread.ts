/** A thread of Node that takes a share of the engine's work. Says once that it is ready. */
import { parentPort } from "node:worker_threads";
import { helpWithAny } from "../../core/evaluate/branches";

parentPort?.on("message", helpWithAny);
parentPort?.postMessage("ready");
