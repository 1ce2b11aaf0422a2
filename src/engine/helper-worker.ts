/** A thread that takes a share of the engine's blocks. Says once that it is ready. */
import { helpWithAny } from "../core/evaluate/branches";

self.onmessage = ({ data }) => helpWithAny(data);
self.postMessage("ready");
