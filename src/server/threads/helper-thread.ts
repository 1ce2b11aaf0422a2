/** A thread of Node that takes a share of the engine's work. Says once that it is ready. */
import { parentPort } from "node:worker_threads";
import { type HelperMessage, help } from "../../core/kernels/helpers";

parentPort?.on("message", (message: HelperMessage) => help(message));
parentPort?.postMessage("ready");
