/** A helper as a thread of Node. */
import { parentPort } from "node:worker_threads";
import { type HelperMessage, help } from "../../src/core/kernels/helpers";

parentPort?.on("message", (message: HelperMessage) => help(message));
parentPort?.postMessage("ready");
