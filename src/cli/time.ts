import { drawingOf } from "../core/draw/drawing";
import { PieceError } from "./faults";
import type { Options } from "./options";
import { betweenFrames, errorLines, openPiece, parseFrames } from "./piece";

/** Prints milliseconds a frame and the slowest nodes, over a range of frames. */
export async function timeCommand(file: string, options: Options): Promise<void> {
  const piece = await openPiece(file);
  const { first, last } = piece.document.settings;
  const [from, to] = parseFrames(options.frames, [first, Math.min(last, first + 49)]);
  const perNode = new Map<string, number>();
  const frames: number[] = [];
  for (let frame = from; frame <= to; frame++) {
    await betweenFrames();
    const begun = performance.now();
    const { shape, report } = piece.evaluate(frame);
    if (!shape) throw new PieceError(errorLines(report).join("\n") || "Nothing reaches the stage.");
    drawingOf(shape);
    frames.push(performance.now() - begun);
    for (const [node, { ms }] of Object.entries(report.nodes))
      perNode.set(node, (perNode.get(node) ?? 0) + ms);
  }
  const sorted = [...frames].sort((a, b) => a - b);
  console.log(
    `frames ${from}..${to}: first ${frames[0].toFixed(2)} ms, median ${sorted[Math.floor(sorted.length / 2)].toFixed(2)} ms, slowest ${sorted[sorted.length - 1].toFixed(2)} ms`,
  );
  for (const [node, ms] of [...perNode].sort((a, b) => b[1] - a[1]).slice(0, 8)) {
    console.log(`  ${node.padEnd(20)} ${(ms / frames.length).toFixed(3)} ms a frame`);
  }
}
