import { writeFileSync } from "node:fs";
import { AnimatedGlb } from "../core/formats/write/animated-glb";
import { FRAME_WRITERS, isFrameFormat } from "../core/formats/write/write-frame";
import type { Shape } from "../core/geometry/shape";
import { PieceError, WrongCall } from "./faults";
import type { Options } from "./options";
import { betweenFrames, errorLines, type OpenPiece, openPiece, parseFrames, partOf } from "./piece";

/** The format of one file for all frames. */
const ANIMATION = "animation";

/** Writes one file a frame, or one that holds them all. */
export async function exportCommand(file: string, options: Options): Promise<void> {
  const { format, out } = options;
  if (format !== ANIMATION && !isFrameFormat(format))
    throw new WrongCall(`--format is one of ${[...Object.keys(FRAME_WRITERS), ANIMATION].join(", ")}.`);
  if (!out) throw new WrongCall("Where to? --out PATH");
  const copies = options.copies ?? "instanced";
  if (copies !== "instanced" && copies !== "baked") throw new WrongCall("--copies is instanced or baked.");
  const piece = await openPiece(file);
  if (format === ANIMATION) return writeAnimation(piece, out, options);
  const start = piece.document.settings.first;
  const [first, last] = parseFrames(options.frames, [start, start]);
  if (last > first && !/#+/.test(out))
    throw new WrongCall("With several frames, PATH needs #### where the frame number goes.");
  const [from, to] = partOf([first, last], options.part);
  for (let frame = from; frame <= to; frame++) {
    await betweenFrames();
    const shape = shapeAt(piece, frame);
    const path = out.replace(/#+/, (hashes) => String(frame).padStart(hashes.length, "0"));
    writeFileSync(path, await FRAME_WRITERS[format].write(shape, { copies, name: piece.document.name }));
    console.log(path);
  }
}

async function writeAnimation(piece: OpenPiece, out: string, options: Options): Promise<void> {
  if (options.part) throw new WrongCall("An animation is one file: --part has no use for it.");
  const { settings, name } = piece.document;
  const [first, last] = parseFrames(options.frames, [settings.first, settings.last]);
  const animation = new AnimatedGlb();
  for (let frame = first; frame <= last; frame++) {
    await betweenFrames();
    animation.add(shapeAt(piece, frame), frame, (frame - first) / settings.fps);
  }
  writeFileSync(out, await animation.write(name));
  console.log(out);
}

function shapeAt(piece: OpenPiece, frame: number): Shape {
  const { shape, report } = piece.evaluate(frame);
  if (!shape) throw new PieceError(errorLines(report).join("\n") || "Nothing reaches the stage.");
  return shape;
}
