import { writeFileSync } from "node:fs";
import type { Evaluation } from "../core/evaluate/evaluator";
import { AnimatedGlb } from "../core/formats/write/animated-glb";
import { EXPORT_FORMATS, type ExportFormat, exportFormat } from "../core/formats/write/export-formats";
import { FRAME_WRITERS, isFrameFormat } from "../core/formats/write/write-frame";
import type { Shape } from "../core/geometry/shape";
import { PieceError, WrongCall } from "./faults";
import type { Options } from "./options";
import { betweenFrames, errorLines, type OpenPiece, openPiece, parseFrames, partOf } from "./piece";

/** Names of formats, and of the one that is one file for all frames. */
const NAMES = EXPORT_FORMATS.flatMap((format: ExportFormat) => format.command ?? []);
const ANIMATION = exportFormat("moving").command;

/** Writes one file a frame, or one that holds them all. */
export async function exportCommand(file: string, options: Options): Promise<void> {
  const { format, out } = options;
  const writer = isFrameFormat(format) ? FRAME_WRITERS[format] : null;
  if (!writer && format !== ANIMATION) throw new WrongCall(`--format is one of ${NAMES.join(", ")}.`);
  if (!out) throw new WrongCall("Where to? --out PATH");
  const copies = options.copies ?? "instanced";
  if (copies !== "instanced" && copies !== "baked") throw new WrongCall("--copies is instanced or baked.");
  const piece = await openPiece(file, { takenAway: true });
  if (!writer) return writeAnimation(piece, out, options);
  const start = piece.document.settings.first;
  const [first, last] = parseFrames(options.frames, [start, start]);
  if (last > first && !/#+/.test(out))
    throw new WrongCall("With several frames, PATH needs #### where the frame number goes.");
  const [from, to] = partOf([first, last], options.part);
  for (let frame = from; frame <= to; frame++) {
    await betweenFrames();
    const { shape, textures } = resultAt(piece, frame);
    const path = out.replace(/#+/, (hashes) => String(frame).padStart(hashes.length, "0"));
    writeFileSync(path, await writer.write(shape, { copies, name: piece.document.name, textures }));
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
    const { shape, textures } = resultAt(piece, frame);
    animation.add(shape, frame, (frame - first) / settings.fps, textures);
  }
  writeFileSync(out, await animation.write(name));
  console.log(out);
}

function resultAt(piece: OpenPiece, frame: number): Evaluation & { readonly shape: Shape } {
  const result = piece.evaluate(frame);
  const { shape, report } = result;
  if (!shape) throw new PieceError(errorLines(report).join("\n") || "Nothing reaches the stage.");
  return { ...result, shape };
}
