/** Channels of an OpenEXR file with floats packed by zlib, read as the file layout says: for what three's reader leaves out. */
import { unzlibSync } from "fflate";

export function exrChannels(file: Uint8Array): Record<string, Float32Array> {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const ascii = new TextDecoder("latin1").decode(file.subarray(0, 2000));
  let at = ascii.indexOf("channels\0chlist\0") + "channels\0chlist\0".length + 4;
  const names: string[] = [];
  while (file[at] !== 0) {
    const end = ascii.indexOf("\0", at);
    names.push(ascii.slice(at, end));
    at = end + 1 + 16;
  }
  const window = ascii.indexOf("dataWindow\0box2i\0") + "dataWindow\0box2i\0".length + 4;
  const [width, height] = [8, 12].map((b) => view.getInt32(window + b, true) + 1);
  const lanes = Object.fromEntries(names.map((name) => [name, new Float32Array(width * height)]));
  const last = ascii.indexOf("screenWindowWidth\0float\0") + "screenWindowWidth\0float\0".length + 4 + 4;
  for (let block = 0; block * 16 < height; block++) {
    const begin = Number(view.getBigUint64(last + 1 + block * 8, true));
    const top = view.getInt32(begin, true);
    const rows = Math.min(16, height - top);
    const packed = file.subarray(begin + 8, begin + 8 + view.getInt32(begin + 4, true));
    const size = rows * names.length * width * 4;
    const numbers = new Float32Array(
      (packed.length < size ? unpacked(packed) : new Uint8Array(packed)).buffer,
    );
    for (let row = 0; row < rows; row++)
      for (const [n, name] of names.entries()) {
        const from = (row * names.length + n) * width;
        lanes[name].set(numbers.subarray(from, from + width), (top + row) * width);
      }
  }
  return lanes;
}

/** Steps added up, halves put together again. */
function unpacked(packed: Uint8Array): Uint8Array {
  const apart = unzlibSync(packed);
  for (let i = 1; i < apart.length; i++) apart[i] = apart[i - 1] + apart[i] - 128;
  const half = (apart.length + 1) >> 1;
  return Uint8Array.from(apart, (_, i) => apart[(i >> 1) + (i & 1 ? half : 0)]);
}
