/** What a PLY file (G. Turk, 1994) says about itself: elements with their properties, in order, and where the data begins. */
import { FormatError } from "../format-error";

/** Bytes of each type of number, by both of its names. */
const TYPES = {
  char: 1,
  uchar: 1,
  short: 2,
  ushort: 2,
  int: 4,
  uint: 4,
  float: 4,
  double: 8,
} as const;
const OTHER_NAMES: Readonly<Record<string, keyof typeof TYPES>> = {
  int8: "char",
  uint8: "uchar",
  int16: "short",
  uint16: "ushort",
  int32: "int",
  uint32: "uint",
  float32: "float",
  float64: "double",
};

export type PlyType = keyof typeof TYPES;

export const bytesOfType = (type: PlyType): number => TYPES[type];

export interface PlyProperty {
  readonly name: string;
  readonly type: PlyType;
  /** Of the count before each list; undefined for single numbers. */
  readonly countType?: PlyType;
}

export interface PlyElement {
  readonly name: string;
  readonly count: number;
  readonly properties: readonly PlyProperty[];
}

const FORMATS = ["ascii", "binary_little_endian", "binary_big_endian"] as const;

export interface PlyHeader {
  readonly format: (typeof FORMATS)[number];
  readonly elements: readonly PlyElement[];
  /** Bytes of the header. */
  readonly length: number;
}

/** Bytes within which a header has to end. */
const LONGEST = 64 * 1024;

/** @throws FormatError, also when more is promised than the file's bytes can hold */
export function plyHeader(bytes: Uint8Array): PlyHeader {
  const text = new TextDecoder("latin1").decode(bytes.subarray(0, LONGEST));
  if (!/^ply\r?\n/.test(text)) throw new FormatError('it does not begin with "ply".');
  const end = /^end_header[ \t]*\r?\n?/m.exec(text);
  if (!end) throw new FormatError('its header has no "end_header".');
  let format: PlyHeader["format"] | undefined;
  const elements: { name: string; count: number; properties: PlyProperty[] }[] = [];
  text
    .slice(0, end.index)
    .split("\n")
    .forEach((line, i) => {
      const words = line.trim().split(/\s+/);
      const strange = () =>
        new FormatError(
          `line ${i + 1} of its header is not one that PLY knows: "${line.trim().slice(0, 60)}".`,
        );
      switch (words[0]) {
        case "ply":
        case "comment":
        case "obj_info":
        case "":
          return;
        case "format":
          format = FORMATS.find((name) => name === words[1]);
          if (!format)
            throw new FormatError(`its format is "${words[1] ?? ""}"; ${FORMATS.join(", ")} are known.`);
          return;
        case "element": {
          const [, name, count] = words;
          if (!name || !/^\d+$/.test(count ?? "")) throw strange();
          elements.push({ name, count: Number(count), properties: [] });
          return;
        }
        case "property": {
          const property = propertyOf(words.slice(1));
          if (!property || elements.length === 0) throw strange();
          elements[elements.length - 1].properties.push(property);
          return;
        }
        default:
          throw strange();
      }
    });
  if (!format) throw new FormatError("its header names no format.");
  const length = end.index + end[0].length;
  for (const { name, count, properties } of elements) {
    const least = format === "ascii" ? properties.length * 2 : leastBytes(properties);
    if (count * Math.max(1, least) > bytes.length - length + 1)
      throw new FormatError(`it promises ${count} × ${name}, more than its ${bytes.length} bytes can hold.`);
  }
  return { format, elements, length };
}

const leastBytes = (properties: readonly PlyProperty[]): number =>
  properties.reduce((sum, { type, countType }) => sum + bytesOfType(countType ?? type), 0);

function propertyOf(words: readonly string[]): PlyProperty | null {
  const typeOf = (word: string | undefined): PlyType | undefined => {
    const name = OTHER_NAMES[word ?? ""] ?? word;
    return name !== undefined && Object.hasOwn(TYPES, name) ? (name as PlyType) : undefined;
  };
  if (words[0] === "list") {
    const [, counts, items, name] = words;
    const [countType, type] = [typeOf(counts), typeOf(items)];
    return countType && type && name ? { name, type, countType } : null;
  }
  const type = typeOf(words[0]);
  return type && words[1] ? { name: words[1], type } : null;
}
