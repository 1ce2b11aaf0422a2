/** A thread that takes a share of the engine's blocks. Says once that it is ready. */
import { helpWithRange, type RangeMessage } from "../core/fields/helpers";

self.onmessage = ({ data }: MessageEvent<RangeMessage>) => helpWithRange(data);
self.postMessage("ready");
