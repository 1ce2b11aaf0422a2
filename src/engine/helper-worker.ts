/** A thread that takes a share of the engine's blocks. Says once that it is ready. */
import { type HelperMessage, help } from "../core/kernels/helpers";

self.onmessage = ({ data }: MessageEvent<HelperMessage>) => help(data);
self.postMessage("ready");
