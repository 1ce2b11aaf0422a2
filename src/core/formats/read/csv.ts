/**
 * Point clouds as comma-separated values (RFC 4180) through Papa Parse: a header line naming x, y, z and, for colours, r, g, b
 * (0…1, or 0…255 when any is above 1, taken as sRGB). Names such as `position.x`, as Glemmo writes them, are known too.
 */
import Papa from "papaparse";
import type { Shape } from "../../geometry/shape";
import { decodeSrgb } from "../../maths/color";
import { FormatError } from "../format-error";
import { cloudSites } from "./cloud";

/** @throws FormatError naming line and column */
export function readCsv(bytes: Uint8Array): Shape {
  const { data } = Papa.parse<string[]>(new TextDecoder().decode(bytes).replace(/^\uFEFF/, ""), {
    skipEmptyLines: true,
  });
  const header = (data[0] ?? []).map((name) => name.trim().toLowerCase());
  const find = (...names: string[]) => header.findIndex((name) => names.includes(name));
  const place = ["x", "y", "z"].map((axis) => find(axis, `position.${axis}`));
  if (place.includes(-1)) throw new FormatError('its first line must name the columns "x", "y" and "z".');
  const tint = [find("r", "red"), find("g", "green"), find("b", "blue")];
  const linear = ["r", "g", "b"].map((c) => find(`color.${c}`));
  const colored = tint.includes(-1) ? (linear.includes(-1) ? null : linear) : tint;
  const cell = (line: number, column: number): number => {
    const text = (data[line][column] ?? "").trim();
    const value = Number(text);
    if (text === "" || !Number.isFinite(value)) {
      throw new FormatError(`line ${line + 1}, column "${header[column]}": "${text}" is not a number.`);
    }
    return value;
  };
  const count = data.length - 1;
  if (count < 1) throw new FormatError("there are no points under the header.");
  const xyz = new Float64Array(count * 3);
  const rgb = new Float64Array(count * 3);
  for (let i = 0; i < count; i++) {
    for (let a = 0; a < 3; a++) {
      xyz[i * 3 + a] = cell(i + 1, place[a]);
      if (colored) rgb[i * 3 + a] = cell(i + 1, colored[a]);
    }
  }
  return { sites: cloudSites(xyz, colored ? colors(rgb, colored === linear) : undefined) };
}

function colors(rgb: Float64Array, linear: boolean): Float32Array {
  const bytes = !linear && rgb.some((c) => c > 1);
  const rgba = new Float32Array((rgb.length / 3) * 4).fill(1);
  for (let i = 0; i < rgb.length; i++) {
    rgba[Math.floor(i / 3) * 4 + (i % 3)] = linear ? rgb[i] : decodeSrgb(bytes ? rgb[i] / 255 : rgb[i]);
  }
  return rgba;
}
