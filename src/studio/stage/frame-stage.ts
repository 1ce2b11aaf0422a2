/** Frames of a piece drawn apart from the studio's stage: an engine and a canvas of their own. */
import type { PieceDocument } from "@/core/document/schema";
import { EngineClient } from "@/engine/client";
import type { FromEngine } from "@/engine/protocol";
import { StageView } from "./stage-view";

type Evaluated = Extract<FromEngine, { type: "evaluated" }>;

export class FrameStage {
  private readonly canvas = document.createElement("canvas");
  readonly stage = new StageView(this.canvas, { still: true });
  private waiting: ((message: Evaluated | null) => void) | null = null;
  /** What was said of the last failure. */
  fault: string | null = null;
  readonly engine = new EngineClient({
    evaluated: (message) => this.answer(message),
    failed: (what) => {
      this.fault = what;
      this.answer(null);
    },
    busy: () => undefined,
  });

  /** Forgets what was shown, before another piece. */
  clear(): void {
    this.stage.clear();
    this.engine.cleared();
  }

  /**
   * Works a frame out and puts it on the stage; false when it cannot be worked out.
   * @param drift seconds by which it is moved on along its velocities
   */
  async show(piece: PieceDocument, frame: number, drift = 0): Promise<boolean> {
    const result = await new Promise<Evaluated | null>((done) => {
      this.waiting = done;
      this.engine.evaluate({ document: piece, frame, inspect: false, drift });
    });
    if (!result) return false;
    if (result.stage) this.stage.setStage(result.stage);
    if (result.drawing) {
      this.stage.show(result.drawing);
      this.engine.recycle(result.drawing);
    }
    return true;
  }

  dispose(): void {
    this.answer(null);
    this.engine.dispose();
    this.stage.dispose();
  }

  private answer(message: Evaluated | null): void {
    const { waiting } = this;
    this.waiting = null;
    waiting?.(message);
  }
}
