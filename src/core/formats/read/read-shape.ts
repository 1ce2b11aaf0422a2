/** Files to shapes, by the ending of their name. A new format is one entry here. */
import type { Shape } from "../../geometry/shape";
import { FormatError } from "../format-error";
import { readCsv } from "./csv";
import { readGlb } from "./glb";
import { readObj } from "./obj";
import { readPly } from "./ply";
import { readStl } from "./stl";

export interface ShapeReader {
  readonly endings: readonly string[];
  readonly title: string;
  /** @throws FormatError */
  readonly read: (bytes: Uint8Array) => Promise<Shape>;
}

export const SHAPE_READERS: readonly ShapeReader[] = [
  { endings: ["obj"], title: "OBJ mesh", read: async (bytes) => readObj(bytes) },
  { endings: ["glb"], title: "GLB (binary glTF 2.0)", read: readGlb },
  { endings: ["stl"], title: "STL mesh", read: async (bytes) => readStl(bytes) },
  { endings: ["ply"], title: "PLY mesh or point cloud", read: async (bytes) => readPly(bytes) },
  { endings: ["csv"], title: "CSV point cloud", read: async (bytes) => readCsv(bytes) },
];

/**
 * @param file name, for its ending and for messages
 * @throws FormatError naming the file and what is wrong with it
 */
export async function readShape(file: string, bytes: Uint8Array): Promise<Shape> {
  const ending = file.slice(file.lastIndexOf(".") + 1).toLowerCase();
  const reader = SHAPE_READERS.find((r) => r.endings.includes(ending));
  if (!reader) {
    const known = SHAPE_READERS.flatMap((r) => r.endings.map((e) => `.${e}`)).join(", ");
    throw new FormatError(`"${file}" cannot be read: files ending in ${known} can.`);
  }
  if (bytes.length === 0) throw new FormatError(`"${file}" is empty.`);
  let shape: Shape;
  try {
    shape = await reader.read(bytes);
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`"${file}": ${error.message}`);
    throw new FormatError(`"${file}" is not a readable ${reader.title} file: ${(error as Error).message}`);
  }
  if (!shape.mesh?.faces.count && !shape.sites?.count)
    throw new FormatError(`"${file}" holds no faces and no points.`);
  return shape;
}
