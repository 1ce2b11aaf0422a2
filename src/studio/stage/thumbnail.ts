/** Moving pictures for the shelf and still ones of versions: a strip of frames worked out by the engine and drawn by the stage. */
import type { PieceDocument } from "@/core/document/schema";
import { FrameStage } from "./frame-stage";
import { DEFAULT_VIEW } from "./stage-view";

export const THUMBNAIL_FRAMES = 12;
const WIDTH = 240;
const HEIGHT = 160;

/** Works through pieces one at a time, with one engine and one canvas for all. */
export class ThumbnailMaker {
  private readonly frames = new FrameStage();

  /** A strip of frames side by side as WebP; null when the piece cannot be worked out. */
  async make(piece: PieceDocument, frames = THUMBNAIL_FRAMES): Promise<Blob | null> {
    const { stage } = this.frames;
    this.frames.clear();
    stage.resize(WIDTH, HEIGHT, 1);
    const strip = document.createElement("canvas");
    strip.width = WIDTH * frames;
    strip.height = HEIGHT;
    const context = strip.getContext("2d");
    if (!context) return null;
    const { first, last } = piece.settings;
    let framed = false;
    for (let i = 0; i < frames; i++) {
      const frame = Math.round(first + ((last - first + 1) * i) / frames);
      if (!(await this.frames.show(piece, Math.min(last, frame)))) return null;
      if (!framed) {
        stage.setView(piece.view ?? DEFAULT_VIEW);
        // Pictures are small: what is shown may touch their edges.
        stage.frameAll(1);
        framed = true;
      }
      context.drawImage(stage.drawNow(), i * WIDTH, 0);
    }
    return new Promise((done) => strip.toBlob(done, "image/webp", 0.85));
  }

  dispose(): void {
    this.frames.dispose();
  }
}
