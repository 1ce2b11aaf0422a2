/** Frames as pictures of any size, with an engine and a canvas apart from the studio's: several moments mixed, edges fine. */
import type { PieceDocument, View } from "@/core/document/schema";
import { FrameStage } from "../stage/frame-stage";
import { type FrameLook, LightSum, momentsOf } from "./frame-look";

export class FramePainter {
  private readonly maker = new FrameStage();
  private readonly canvas = document.createElement("canvas");
  private readonly context = this.canvas.getContext("2d", { willReadFrequently: true });

  constructor(
    private readonly piece: PieceDocument,
    view: View,
    private readonly look: FrameLook,
  ) {
    const { width, height, fine, transparent } = look;
    this.canvas.width = width;
    this.canvas.height = height;
    this.maker.stage.setTransparent(transparent);
    this.maker.stage.resize(width * fine, height * fine, 1);
    this.maker.stage.setView(view);
  }

  /**
   * A canvas with the frame, that of the next call too.
   * @throws Error naming the frame that cannot be worked out
   */
  async paint(frame: number): Promise<HTMLCanvasElement> {
    const { canvas, context, look } = this;
    if (!context) throw new Error("The browser gives no canvas to draw on.");
    const { width, height } = look;
    const moments = momentsOf(frame, look, this.piece.settings.fps);
    const sum = moments.length > 1 ? new LightSum(width * height) : null;
    for (const { frame: moment, drift } of moments) {
      if (!(await this.maker.show(this.piece, moment, drift)))
        throw new Error(
          `Frame ${frame} cannot be worked out${this.maker.fault ? `: ${this.maker.fault}` : "."}`,
        );
      context.clearRect(0, 0, width, height);
      context.imageSmoothingQuality = "high";
      context.drawImage(this.maker.stage.drawNow(), 0, 0, width, height);
      sum?.add(context.getImageData(0, 0, width, height).data);
    }
    if (sum) {
      const mean = context.createImageData(width, height);
      sum.into(mean.data);
      context.putImageData(mean, 0, 0);
    }
    return canvas;
  }

  async png(frame: number): Promise<Blob> {
    const canvas = await this.paint(frame);
    return new Promise((done, fail) =>
      canvas.toBlob(
        (blob) => (blob ? done(blob) : fail(new Error("The picture could not be encoded."))),
        "image/png",
      ),
    );
  }

  /** The bytes of the last frame: red, green, blue, straight alpha. */
  pixels(): Uint8ClampedArray {
    const { width, height } = this.look;
    return (this.context as CanvasRenderingContext2D).getImageData(0, 0, width, height).data;
  }

  dispose(): void {
    this.maker.dispose();
  }
}
