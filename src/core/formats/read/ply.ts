/** PLY, text and binary, through three's loader. A file without faces is a point cloud and becomes sites. */
import type { BufferGeometry } from "three";
import { PLYLoader } from "three/examples/jsm/loaders/PLYLoader.js";
import type { Shape } from "../../geometry/shape";
import { FormatError } from "../format-error";
import { cloudSites } from "./cloud";
import { weldTriangles } from "./weld";

/** @throws FormatError */
export function readPly(bytes: Uint8Array): Shape {
  checkHeader(bytes);
  const geometry = new PLYLoader().parse(bytes.slice().buffer);
  const { position, color } = geometry.attributes;
  if (!position || position.count === 0) throw new FormatError("there are no vertices.");
  const rgba = color && (spread(geometry, "color", 4, identity(position.count)) as Float32Array);
  const index = geometry.getIndex();
  if (!index) return { sites: cloudSites(position.array, rgba) };
  const corners = index.array;
  const bad = corners.findIndex((corner) => corner >= position.count);
  if (bad >= 0)
    throw new FormatError(
      `face ${Math.floor(bad / 3) + 1} points at vertex ${corners[bad]}, and there are ${position.count}.`,
    );
  return {
    mesh: weldTriangles({
      position: spread(geometry, "position", 3, corners) ?? [],
      normal: spread(geometry, "normal", 3, corners),
      uv: spread(geometry, "uv", 2, corners),
      color: spread(geometry, "color", 4, corners),
    }),
  };
}

const identity = (count: number): Uint32Array => Uint32Array.from({ length: count }, (_, i) => i);

/** An attribute corner by corner; components that the file lacks are 1. */
function spread(
  geometry: BufferGeometry,
  name: string,
  lanes: number,
  corners: ArrayLike<number>,
): Float32Array | undefined {
  const from = geometry.attributes[name];
  if (!from) return undefined;
  const values = new Float32Array(corners.length * lanes).fill(1);
  for (let c = 0; c < corners.length; c++) {
    for (let l = 0; l < Math.min(lanes, from.itemSize); l++)
      values[c * lanes + l] = from.getComponent(corners[c], l);
  }
  return values;
}

const KEYWORDS = /^(ply|(format|comment|obj_info|element|property)(\s.*)?)?$/;
const FORMATS = ["ascii", "binary_little_endian", "binary_big_endian"];

/** The loader trusts the header; counts that cannot be true are refused before memory is asked for. */
function checkHeader(bytes: Uint8Array): void {
  const text = new TextDecoder().decode(bytes.subarray(0, 64 * 1024));
  if (!text.startsWith("ply")) throw new FormatError('it does not begin with "ply".');
  const end = text.indexOf("end_header");
  if (end < 0) throw new FormatError('its header has no "end_header".');
  const header = text.slice(0, end);
  const strange = header.split("\n").findIndex((line) => !KEYWORDS.test(line.trim()));
  if (strange >= 0) throw new FormatError(`line ${strange + 1} of its header is not one that PLY knows.`);
  const format = /^format\s+(\S+)/m.exec(header)?.[1];
  if (!format || !FORMATS.includes(format))
    throw new FormatError(`its format is "${format ?? ""}"; ${FORMATS.join(", ")} are known.`);
  for (const [, name, count] of header.matchAll(/^element\s+(\S+)\s+(\S+)/gm)) {
    if (!/^\d+$/.test(count) || Number(count) > bytes.length) {
      throw new FormatError(`it promises ${count} × ${name}, more than its ${bytes.length} bytes can hold.`);
    }
  }
}
