import { writeFileSync } from "node:fs";
import { FRAME_WRITERS, isFrameFormat } from "../core/formats/write/write-frame";
import type { Options } from "./options";
import { betweenFrames, errorLines, openPiece, PieceError, parseFrames, partOf, WrongCall } from "./piece";

/** Writes one file a frame. */
export async function exportCommand(file: string, options: Options): Promise<void> {
  const { format, out } = options;
  if (!isFrameFormat(format))
    throw new WrongCall(`--format is one of ${Object.keys(FRAME_WRITERS).join(", ")}.`);
  if (!out) throw new WrongCall("Where to? --out PATH");
  const copies = options.copies ?? "instanced";
  if (copies !== "instanced" && copies !== "baked") throw new WrongCall("--copies is instanced or baked.");
  const piece = await openPiece(file);
  const start = piece.document.settings.first;
  const [first, last] = parseFrames(options.frames, [start, start]);
  if (last > first && !/#+/.test(out))
    throw new WrongCall("With several frames, PATH needs #### where the frame number goes.");
  const [from, to] = partOf([first, last], options.part);
  for (let frame = from; frame <= to; frame++) {
    await betweenFrames();
    const { shape, report } = piece.evaluate(frame);
    if (!shape) throw new PieceError(errorLines(report).join("\n") || "Nothing reaches the stage.");
    const path = out.replace(/#+/, (hashes) => String(frame).padStart(hashes.length, "0"));
    writeFileSync(path, await FRAME_WRITERS[format].write(shape, { copies, name: piece.document.name }));
    console.log(path);
  }
}
