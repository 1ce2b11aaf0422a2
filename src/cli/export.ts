import { writeFileSync } from "node:fs";
import { drawingOf } from "../core/draw/drawing";
import { writeCsv } from "../core/formats/write/csv";
import { writeGlb } from "../core/formats/write/glb";
import { mainDomain } from "../core/formats/write/values";
import type { Shape } from "../core/geometry/shape";
import type { Options } from "./options";
import { errorLines, openPiece, PieceError, parseFrames, WrongCall } from "./piece";

/** Writes one file a frame. */
export async function exportCommand(file: string, options: Options): Promise<void> {
  const { format, out } = options;
  if (format !== "glb" && format !== "csv") throw new WrongCall("--format is glb or csv.");
  if (!out) throw new WrongCall("Where to? --out PATH");
  const copies = options.copies ?? "instanced";
  if (copies !== "instanced" && copies !== "baked") throw new WrongCall("--copies is instanced or baked.");
  const piece = await openPiece(file);
  const start = piece.document.settings.first;
  const [first, last] = parseFrames(options.frames, [start, start]);
  if (last > first && !/#+/.test(out))
    throw new WrongCall("With several frames, PATH needs #### where the frame number goes.");
  for (let frame = first; frame <= last; frame++) {
    const { shape, report } = piece.evaluate(frame);
    if (!shape) throw new PieceError(errorLines(report).join("\n") || "Nothing reaches the stage.");
    const path = out.replace(/#+/, (hashes) => String(frame).padStart(hashes.length, "0"));
    writeFileSync(path, await encode(shape, format, copies, piece.document.name));
    console.log(path);
  }
}

const encode = async (
  shape: Shape,
  format: "glb" | "csv",
  copies: "instanced" | "baked",
  name: string,
): Promise<string | Uint8Array> =>
  format === "csv" ? writeCsv(mainDomain(shape).domain) : writeGlb(drawingOf(shape), { copies, name });
