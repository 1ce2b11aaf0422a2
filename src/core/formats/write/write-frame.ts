/** Files that one frame can leave as. A new format is one entry here. */
import { drawingOf } from "../../draw/drawing";
import type { Shape } from "../../geometry/shape";
import { writeCsv } from "./csv";
import { type GlbOptions, writeGlb } from "./glb";
import { writeNrrd } from "./nrrd";
import { writePly } from "./ply";
import { writeSlices } from "./slices";
import { writeObj, writeStl } from "./triangle-files";
import { mainDomain } from "./values";

interface FrameWriter {
  /** @throws FormatError */
  readonly write: (shape: Shape, options: GlbOptions) => Uint8Array | Promise<Uint8Array>;
}

export const FRAME_WRITERS = {
  glb: { write: (shape, options) => writeGlb(drawingOf(shape), options) },
  obj: { write: (shape) => writeObj(drawingOf(shape)) },
  ply: { write: (shape) => writePly(drawingOf(shape)) },
  stl: { write: (shape) => writeStl(drawingOf(shape)) },
  nrrd: { write: (shape) => writeNrrd(shape) },
  slices: { write: (shape) => writeSlices(shape, "png") },
  "slices-exr": { write: (shape) => writeSlices(shape, "exr") },
  csv: { write: (shape) => new TextEncoder().encode(writeCsv(mainDomain(shape).domain)) },
} as const satisfies Record<string, FrameWriter>;

export type FrameFormat = keyof typeof FRAME_WRITERS;

export const isFrameFormat = (name: string | undefined): name is FrameFormat =>
  name !== undefined && name in FRAME_WRITERS;
