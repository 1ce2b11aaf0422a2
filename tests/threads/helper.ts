/** A helper as a thread of Node. */
import { parentPort } from "node:worker_threads";
import { helpWithRange, type RangeMessage } from "../../src/core/fields/helpers";

parentPort?.on("message", (message: RangeMessage) => helpWithRange(message));
parentPort?.postMessage("ready");
