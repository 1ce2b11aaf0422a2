/** Many frames as one GLB that moves; see core/formats/write/animated-glb.ts. */
import type { PieceDocument } from "@/core/document/schema";
import { EngineClient } from "@/engine/client";
import type { Delivered, Watch } from "./delivered";
import { type FrameRange, framesOf } from "./frame-range";

/** What is done when it is stopped is kept. @throws Error with a message for the designer */
export async function takeAnimation(
  piece: PieceDocument,
  range: FrameRange,
  { onFrame, stopped }: Watch,
): Promise<Delivered> {
  const frames = framesOf(range);
  const engine = EngineClient.forFiles();
  try {
    let done = 0;
    for (const frame of frames) {
      if (stopped()) break;
      await engine.animate(piece, frame, (frame - range.first) / piece.settings.fps, done === 0);
      onFrame(++done, frames.length);
    }
    const blob =
      done > 0 ? new Blob([await engine.animation(piece)], { type: "model/gltf-binary" }) : new Blob();
    return { blob, done, total: frames.length };
  } finally {
    engine.dispose();
  }
}
