/** Files to what they hold, by the ending of their name. A new format is one entry here. */
import { isFilled, type Shape } from "../../geometry/shape";
import type { Picture } from "../../maths/picture";
import { FormatError } from "../format-error";
import type { AssetContent, PictureAsset, ShapeAsset } from "./asset";
import { readExr, readRadiance } from "./bright-picture";
import { readCsv } from "./csv";
import { readCube } from "./cube";
import { readGlb, readGltf } from "./glb";
import { readJpeg } from "./jpeg";
import { readNrrd } from "./nrrd";
import { readObj } from "./obj";
import { readPly } from "./ply";
import { readPng } from "./png";
import { sfntOf } from "./sfnt";
import { readSlices } from "./slices";
import { readStl } from "./stl";
import { readSvg } from "./svg";

export interface AssetReader {
  readonly endings: readonly string[];
  readonly title: string;
  readonly holds: AssetContent["kind"];
  /** @throws FormatError */
  readonly read: (bytes: Uint8Array) => Promise<AssetContent>;
}

const whole = (shape: Shape): ShapeAsset => ({ kind: "shape", shape, parts: [] });
const pictured = (picture: Picture): PictureAsset => ({ kind: "picture", picture });

export const ASSET_READERS: readonly AssetReader[] = [
  { endings: ["obj"], title: "OBJ mesh", holds: "shape", read: async (bytes) => readObj(bytes) },
  { endings: ["svg"], title: "SVG drawing", holds: "shape", read: async (bytes) => readSvg(bytes) },
  { endings: ["glb"], title: "GLB (binary glTF 2.0)", holds: "shape", read: readGlb },
  { endings: ["gltf"], title: "glTF 2.0", holds: "shape", read: readGltf },
  { endings: ["stl"], title: "STL mesh", holds: "shape", read: async (bytes) => whole(readStl(bytes)) },
  {
    endings: ["ply"],
    title: "PLY mesh or point cloud",
    holds: "shape",
    read: async (bytes) => whole(readPly(bytes)),
  },
  {
    endings: ["csv"],
    title: "CSV point cloud",
    holds: "shape",
    read: async (bytes) => whole(readCsv(bytes)),
  },
  {
    endings: ["nrrd"],
    title: "NRRD volume",
    holds: "shape",
    read: async (bytes) => readNrrd(bytes),
  },
  {
    endings: ["zip"],
    title: "stack of pictures",
    holds: "shape",
    read: async (bytes) => readSlices(bytes),
  },
  {
    endings: ["png"],
    title: "PNG picture",
    holds: "picture",
    read: async (bytes) => pictured(readPng(bytes)),
  },
  {
    endings: ["jpg", "jpeg"],
    title: "JPEG picture",
    holds: "picture",
    read: async (bytes) => pictured(readJpeg(bytes)),
  },
  {
    endings: ["hdr"],
    title: "Radiance picture",
    holds: "picture",
    read: async (bytes) => readRadiance(bytes),
  },
  {
    endings: ["exr"],
    title: "OpenEXR picture",
    holds: "picture",
    read: async (bytes) => readExr(bytes),
  },
  {
    endings: ["cube"],
    title: "colour look-up",
    holds: "look-up",
    read: async (bytes) => readCube(bytes),
  },
  {
    endings: ["ttf", "otf", "woff"],
    title: "font",
    holds: "font",
    read: async (bytes) => ({ kind: "font", bytes: sfntOf(bytes) }),
  },
];

export const readerOf = (file: string): AssetReader | undefined => {
  const ending = file.slice(file.lastIndexOf(".") + 1).toLowerCase();
  return ASSET_READERS.find((r) => r.endings.includes(ending));
};

/** Endings with their dots, of all readers or of those for one kind of content. */
export const knownEndings = (holds?: AssetContent["kind"]): string[] =>
  ASSET_READERS.filter((r) => !holds || r.holds === holds).flatMap((r) => r.endings.map((e) => `.${e}`));

/**
 * @param file name, for its ending and for messages
 * @throws FormatError naming the file and what is wrong with it
 */
export async function readAsset(file: string, bytes: Uint8Array): Promise<AssetContent> {
  const reader = readerOf(file);
  if (!reader)
    throw new FormatError(`"${file}" cannot be read: files ending in ${knownEndings().join(", ")} can.`);
  if (bytes.length === 0) throw new FormatError(`"${file}" is empty.`);
  let content: AssetContent;
  try {
    content = await reader.read(bytes);
  } catch (error) {
    if (error instanceof FormatError) throw new FormatError(`"${file}": ${error.message}`);
    // What a library says then is about its own parts.
    throw new FormatError(
      `"${file}" is not a readable ${reader.title} file: its parts do not fit together. It may be damaged; save it anew.`,
    );
  }
  if (content.kind === "shape" && !holdsSomething(content.shape))
    throw new FormatError(`"${file}" holds no faces, no lines, no points and no voxels.`);
  return content;
}

const holdsSomething = (shape: Shape): boolean =>
  isFilled(shape) &&
  (shape.mesh?.faces.count ?? 0) +
    (shape.curves?.points.count ?? 0) +
    (shape.sites?.count ?? 0) +
    (shape.volume?.table.length ?? 0) >
    0;
