/**
 * Point clouds as comma-separated values (RFC 4180) through Papa Parse: a header line naming x, y, z and, for colours, r, g, b
 * (0…1, or 0…255 when any is above 1, taken as sRGB). Names such as `position.x`, as Glemmo writes them, are known too.
 */
import Papa from "papaparse";
import { tick } from "../../cancelling";
import { widened } from "../../geometry/column";
import type { Shape } from "../../geometry/shape";
import { MOST_SITES } from "../../limits";
import { decodeSrgb } from "../../maths/color";
import { FormatError } from "../format-error";
import { cloudSites } from "./cloud";

interface Columns {
  readonly header: readonly string[];
  readonly place: readonly number[];
  /** Of red, green and blue; null when there are none. */
  readonly colored: readonly number[] | null;
  /** Whether colours are linear light already. */
  readonly linear: boolean;
}

/** Line by line, so that a large file takes no more room than its points. @throws FormatError naming line and column */
export function readCsv(bytes: Uint8Array): Shape {
  const text = new TextDecoder().decode(bytes).replace(/^\uFEFF/, "");
  let columns: Columns | null = null;
  const xyz = new NumberList();
  const rgb = new NumberList();
  let fault: FormatError | null = null;
  Papa.parse<string[]>(text, {
    skipEmptyLines: true,
    step({ data }, parser) {
      try {
        tick(4);
        if (!columns) columns = columnsOf(data);
        else takeRow(data, columns, xyz, rgb);
      } catch (error) {
        // The parser would swallow it.
        fault = error as FormatError;
        parser.abort();
      }
    },
  });
  if (fault) throw fault;
  const known = columns as Columns | null;
  if (!known || xyz.length === 0) {
    if (!known) columnsOf([]);
    throw new FormatError("there are no points under the header.");
  }
  return { sites: cloudSites(xyz.values(), known.colored ? colors(rgb.values(), known.linear) : undefined) };
}

function columnsOf(names: readonly string[]): Columns {
  const header = names.map((name) => name.trim().toLowerCase());
  const find = (...wanted: string[]) => header.findIndex((name) => wanted.includes(name));
  const place = ["x", "y", "z"].map((axis) => find(axis, `position.${axis}`));
  if (place.includes(-1)) throw new FormatError('its first line must name the columns "x", "y" and "z".');
  const tint = [find("r", "red"), find("g", "green"), find("b", "blue")];
  const linear = ["r", "g", "b"].map((c) => find(`color.${c}`));
  const isLinear = tint.includes(-1);
  return {
    header,
    place,
    colored: isLinear ? (linear.includes(-1) ? null : linear) : tint,
    linear: isLinear,
  };
}

function takeRow(
  row: readonly string[],
  { header, place, colored }: Columns,
  xyz: NumberList,
  rgb: NumberList,
): void {
  const line = xyz.length / 3 + 2;
  if (line > MOST_SITES + 1)
    throw new FormatError(`it holds more than ${MOST_SITES} points, which is the limit.`);
  const cell = (column: number): number => {
    const text = (row[column] ?? "").trim();
    const value = Number(text);
    if (text === "" || !Number.isFinite(Math.fround(value)))
      throw new FormatError(
        `line ${line}, column "${header[column]}": "${text}" is not a number${text !== "" && Number.isFinite(value) ? " of a size that can be held" : ""}.`,
      );
    return value;
  };
  for (const column of place) xyz.push(cell(column));
  for (const column of colored ?? []) rgb.push(cell(column));
}

/** Numbers one after the other. */
class NumberList {
  private array = new Float64Array(4096);
  length = 0;

  push(value: number): void {
    if (this.length === this.array.length) this.array = widened(this.array, this.length * 2);
    this.array[this.length++] = value;
  }

  values(): Float64Array {
    return this.array.subarray(0, this.length);
  }
}

function colors(rgb: Float64Array, linear: boolean): Float32Array {
  const bytes = !linear && rgb.some((c) => c > 1);
  const rgba = new Float32Array((rgb.length / 3) * 4).fill(1);
  for (let i = 0; i < rgb.length; i++) {
    rgba[Math.floor(i / 3) * 4 + (i % 3)] = linear ? rgb[i] : decodeSrgb(bytes ? rgb[i] / 255 : rgb[i]);
  }
  return rgba;
}
