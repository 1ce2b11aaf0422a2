/** Encodes the frames of a GIF one after the other (GIF89a). */
import { applyPalette, GIFEncoder, quantize } from "gifenc";

export type ToGifWorker =
  | {
      readonly type: "frame";
      readonly pixels: Uint8ClampedArray;
      readonly width: number;
      readonly height: number;
      /** Milliseconds. */
      readonly delay: number;
      /** It begins the file. */
      readonly isFirst: boolean;
    }
  | { readonly type: "end" };

export interface FromGifWorker {
  /** All frames, at the end. */
  readonly bytes: Uint8Array | null;
}

const gif = GIFEncoder({ auto: false });
/** Pixels below this opacity are left out. */
const OPAQUE = 127;

self.onmessage = ({ data }: MessageEvent<ToGifWorker>) => {
  if (data.type === "end") {
    const bytes = gif.bytes();
    self.postMessage({ bytes } satisfies FromGifWorker, { transfer: [bytes.buffer] });
    return;
  }
  const { pixels, width, height, delay, isFirst } = data;
  const isClear = pixels.some((byte, i) => i % 4 === 3 && byte <= OPAQUE);
  const format = isClear ? "rgba4444" : "rgb565";
  const palette = quantize(pixels, 256, isClear ? { format, oneBitAlpha: OPAQUE } : { format });
  const index = applyPalette(pixels, palette, format);
  const clear = isClear ? palette.findIndex((color) => color[3] === 0) : -1;
  if (isFirst) gif.writeHeader();
  gif.writeFrame(index, width, height, {
    first: isFirst,
    palette,
    delay,
    ...(clear >= 0 ? { transparent: true, transparentIndex: clear, dispose: 2 } : {}),
  });
  self.postMessage({ bytes: null } satisfies FromGifWorker);
};
