/** Moving pictures for the shelf and still ones of versions: a strip of frames worked out by the engine and drawn by the stage. */
import type { PieceDocument } from "@/core/document/schema";
import { EngineClient } from "@/engine/client";
import type { FromEngine } from "@/engine/protocol";
import { DEFAULT_VIEW, StageView } from "./stage-view";

export const THUMBNAIL_FRAMES = 12;
const WIDTH = 240;
const HEIGHT = 160;

/** Works through pieces one at a time, with one engine and one canvas for all. */
export class ThumbnailMaker {
  private readonly canvas = document.createElement("canvas");
  private readonly stage = new StageView(this.canvas, { still: true });
  private waiting: ((message: Extract<FromEngine, { type: "evaluated" }> | null) => void) | null = null;
  private readonly engine = new EngineClient({
    evaluated: (message) => this.answer(message),
    failed: () => this.answer(null),
    busy: () => undefined,
  });

  /** A strip of frames side by side as WebP; null when the piece cannot be worked out. */
  async make(piece: PieceDocument, frames = THUMBNAIL_FRAMES): Promise<Blob | null> {
    this.stage.clear();
    this.engine.cleared();
    this.stage.resize(WIDTH, HEIGHT, 1);
    const strip = document.createElement("canvas");
    strip.width = WIDTH * frames;
    strip.height = HEIGHT;
    const context = strip.getContext("2d");
    if (!context) return null;
    const { first, last } = piece.settings;
    let framed = false;
    for (let i = 0; i < frames; i++) {
      const frame = Math.round(first + ((last - first + 1) * i) / frames);
      const result = await this.frame(piece, Math.min(last, frame));
      if (!result) return null;
      if (result.stage) this.stage.setStage(result.stage);
      if (result.drawing) {
        this.stage.show(result.drawing);
        this.engine.recycle(result.drawing);
      }
      if (!framed) {
        this.stage.setView(piece.view ?? DEFAULT_VIEW);
        // Pictures are small: what is shown may touch their edges.
        this.stage.frameAll(1);
        framed = true;
      }
      context.drawImage(this.stage.drawNow(), i * WIDTH, 0);
    }
    return new Promise((done) => strip.toBlob(done, "image/webp", 0.85));
  }

  dispose(): void {
    this.answer(null);
    this.engine.dispose();
    this.stage.dispose();
  }

  private frame(piece: PieceDocument, frame: number) {
    return new Promise<Extract<FromEngine, { type: "evaluated" }> | null>((done) => {
      this.waiting = done;
      this.engine.evaluate({ document: piece, frame, inspect: false });
    });
  }

  private answer(message: Extract<FromEngine, { type: "evaluated" }> | null): void {
    const { waiting } = this;
    this.waiting = null;
    waiting?.(message);
  }
}
