/** Pictures of more than eight bits: PNG of 16 bits a part, as it is shown; and OpenEXR with the light itself and what compositing asks for. */
import { encode } from "fast-png";
import { type EXPORT_FORMATS, type ExportId, exportFormat } from "@/core/formats/write/export-formats";
import { type ExrChannel, writeExr } from "@/core/formats/write/exr";
import { fromTop, type Passes } from "../stage/passes";

export type PictureFormat = Extract<(typeof EXPORT_FORMATS)[number], { readonly group: "picture" }>["id"];

export const isPicture = (id: ExportId): id is PictureFormat => exportFormat(id).group === "picture";

const GREATEST = 65535;

/** @param pixels as they are shown, premultiplied, rows from the bottom */
export function deepPng(width: number, height: number, pixels: Float32Array): Uint8Array<ArrayBuffer> {
  const lanes = [0, 1, 2, 3].map((c) => fromTop(pixels, c, width, height));
  const data = new Uint16Array(width * height * 4);
  for (let i = 0; i < width * height; i++) {
    const alpha = Math.min(1, Math.max(0, lanes[3][i]));
    // PNG has colours that are not multiplied by how much of them there is (ISO/IEC 15948, § 12.4).
    for (let c = 0; c < 3; c++)
      data[i * 4 + c] = alpha > 0 ? Math.round(Math.min(1, Math.max(0, lanes[c][i] / alpha)) * GREATEST) : 0;
    data[i * 4 + 3] = Math.round(alpha * GREATEST);
  }
  return encode({ width, height, data, channels: 4, depth: 16 }) as Uint8Array<ArrayBuffer>;
}

/** @param pixels linear light, premultiplied as OpenEXR has it, rows from the bottom */
export function layeredExr(
  width: number,
  height: number,
  pixels: Float32Array,
  { depth, normal, mask, motion, emission }: Passes,
): Uint8Array<ArrayBuffer> {
  const channels: ExrChannel[] = ["R", "G", "B", "A"].map((name, c) => ({
    name,
    values: fromTop(pixels, c, width, height),
  }));
  channels.push({ name: "Z", values: depth }, { name: "mask.id", values: mask });
  for (const [c, name] of ["X", "Y", "Z"].entries())
    channels.push({ name: `normal.${name}`, values: normal[c] });
  for (const [c, name] of ["X", "Y"].entries()) channels.push({ name: `motion.${name}`, values: motion[c] });
  for (const [c, name] of ["R", "G", "B"].entries())
    channels.push({ name: `emission.${name}`, values: emission[c] });
  return writeExr(width, height, channels);
}
