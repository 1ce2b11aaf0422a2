/** Moving pictures for the shelf and still ones of versions: a strip of frames worked out by the engine and drawn by the stage. */
import { Box3 } from "three";
import type { PieceDocument } from "@/core/document/schema";
import { DEFAULT_VIEW } from "./default-view";
import { FrameStage } from "./frame-stage";

export const THUMBNAIL_FRAMES = 12;
const WIDTH = 240;
const HEIGHT = 160;

/** Resolves when the page has nothing better to do: pictures are made in between, and hold nobody up. */
const idle = (): Promise<void> =>
  new Promise((done) =>
    typeof requestIdleCallback === "function" ? requestIdleCallback(() => done()) : setTimeout(done, 50),
  );

/** Looks that a small picture is gathered of, where the piece has a Finish and one look takes no longer than so many milliseconds. */
const LOOKS = 8;
const QUICK = 400;

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
    const show = async (i: number) => {
      await idle();
      const frame = Math.round(first + ((last - first + 1) * i) / frames);
      return this.frames.show(piece, Math.min(last, frame));
    };
    // What grows must find room in all of them.
    const whole = new Box3();
    for (const i of new Set([0, Math.floor(frames / 3), Math.floor((2 * frames) / 3)])) {
      if (!(await show(i))) return null;
      const extent = stage.extent();
      if (extent) whole.union(extent);
    }
    stage.setView(piece.view ?? DEFAULT_VIEW);
    // Pictures are small: what is shown may touch their edges.
    if (!whole.isEmpty()) stage.frameAll(1, whole);
    for (let i = 0; i < frames; i++) {
      if (!(await show(i))) return null;
      const before = performance.now();
      context.drawImage(stage.drawNow(), i * WIDTH, 0);
      // Read, as cards take orders faster than they draw.
      context.getImageData(i * WIDTH, 0, 1, 1);
      if (!stage.isFinished || performance.now() - before > QUICK) continue;
      for (let look = 0; look < LOOKS; look++) context.drawImage(stage.gatherOne(look === 0), i * WIDTH, 0);
    }
    return new Promise((done) => strip.toBlob(done, "image/webp", 0.85));
  }

  dispose(): void {
    this.frames.dispose();
  }
}
