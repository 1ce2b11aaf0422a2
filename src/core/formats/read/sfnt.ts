/** Font files: what they are, and unpacked. */
import { unzlibSync } from "fflate";
import { FormatError } from "../format-error";

const WOFF = 0x774f4646;
/** TrueType, OpenType with cubic outlines, and what older systems of one maker call TrueType. */
const SFNT: ReadonlySet<number> = new Set([0x00010000, 0x4f54544f, 0x74727565]);
const MOST_BYTES = 64 * 2 ** 20;
const NEEDED = ["cmap", "head", "hhea", "hmtx", "maxp"];

/**
 * The TrueType or OpenType file that bytes are, unpacked from WOFF 1.0 (W3C, 2012) where they are one.
 * @throws FormatError saying what is wrong
 */
export function sfntOf(bytes: Uint8Array): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12) throw new FormatError("this is too short for a font.");
  const mark = view.getUint32(0);
  if (mark === 0x774f4632)
    throw new FormatError("this is WOFF2, which cannot be read here. Save it as TTF, OTF or WOFF.");
  const sfnt = mark === WOFF ? unpacked(bytes, view) : bytes;
  const all = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  if (!SFNT.has(all.getUint32(0))) throw new FormatError("this is no TTF, OTF or WOFF font.");
  const found = new Set<string>();
  for (let i = 0; i < all.getUint16(4); i++) {
    const at = 12 + i * 16;
    if (at + 16 > sfnt.length)
      throw new FormatError("the font ends within its list of tables; it is cut short.");
    const tag = String.fromCharCode(...sfnt.subarray(at, at + 4));
    if (all.getUint32(at + 8) + all.getUint32(at + 12) > sfnt.length)
      throw new FormatError(`the font's table "${tag}" ends beyond the file; it is cut short.`);
    found.add(tag);
  }
  const missing = NEEDED.find((tag) => !found.has(tag));
  if (missing) throw new FormatError(`the font has no table "${missing}", without which no text can be set.`);
  if (!found.has("glyf") && !found.has("CFF ") && !found.has("CFF2"))
    throw new FormatError("the font has no outlines; fonts of pictures cannot be used.");
  return sfnt;
}

function unpacked(bytes: Uint8Array, view: DataView): Uint8Array {
  const count = bytes.length >= 44 ? view.getUint16(12) : 0;
  if (count === 0 || 44 + count * 20 > bytes.length) throw new FormatError("the WOFF file is cut short.");
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + i * 20;
    const [offset, packed, length] = [4, 8, 12].map((k) => view.getUint32(at + k));
    if (offset + packed > bytes.length) throw new FormatError("the WOFF file is cut short.");
    return { tag: view.getUint32(at), sum: view.getUint32(at + 16), offset, packed, length };
  });
  const whole = tables.reduce((sum, { length }) => sum + ((length + 3) & ~3), 12 + count * 16);
  if (whole > MOST_BYTES) throw new FormatError("the WOFF file says that it is larger than any font is.");
  const out = new Uint8Array(whole);
  const head = new DataView(out.buffer);
  head.setUint32(0, view.getUint32(4));
  head.setUint16(4, count);
  let at = 12 + count * 16;
  for (const [i, { tag, sum, offset, packed, length }] of tables.entries()) {
    [tag, sum, at, length].forEach((value, k) => {
      head.setUint32(12 + i * 16 + k * 4, value);
    });
    const part = bytes.subarray(offset, offset + packed);
    let plain: Uint8Array;
    try {
      // Room for one byte more: what unpacks to more than it says is refused instead of cut.
      plain = packed < length ? unzlibSync(part, { out: new Uint8Array(length + 1) }) : part;
    } catch {
      throw new FormatError("a table of the WOFF file cannot be unpacked; it is damaged.");
    }
    if (plain.length !== length) throw new FormatError("a table of the WOFF file is not as long as it says.");
    out.set(plain, at);
    at += (length + 3) & ~3;
  }
  return out;
}
