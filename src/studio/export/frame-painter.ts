/** Frames as pictures of any size, with an engine and a canvas apart from the studio's: gathered of several moments and looks. */
import type { PieceDocument, View } from "@/core/document/schema";
import { asTakenAway } from "@/core/evaluate/taken-away";
import { exportFormat } from "@/core/formats/write/export-formats";
import { noiseOfMean } from "@/core/maths/picture-noise";
import { FrameStage } from "../stage/frame-stage";
import type { Passes } from "../stage/passes";
import { type Tile, tilesOf } from "../stage/picture-part";
import { deepPng, layeredExr, type PictureFormat } from "./deep-pictures";
import { type FrameLook, isNoiseAsked, type Moment, momentOfLooks, momentsOf } from "./frame-look";

/** Pixels along a picture that tells what glows on a large one. */
const SMALL = 1280;

export class FramePainter {
  private readonly piece: PieceDocument;
  private readonly maker = new FrameStage();
  private readonly canvas = document.createElement("canvas");
  /** Of several looks, or because more is written than the canvas has. */
  private readonly isGathered: boolean;
  private readonly tiles: readonly Tile[] | null;
  private readonly context = this.canvas.getContext("2d", { willReadFrequently: true });

  constructor(
    piece: PieceDocument,
    view: View,
    private readonly look: FrameLook,
    private readonly format: PictureFormat = "png",
  ) {
    this.piece = asTakenAway(piece);
    const { width, height, transparent, looks, samples } = look;
    const { stage } = this.maker;
    this.canvas.width = width;
    this.canvas.height = height;
    stage.setTransparent(transparent);
    this.isGathered = format !== "png" || looks > 1 || samples > 1;
    stage.setSamples(this.isGathered ? Math.max(looks, samples) : null);
    this.tiles = tilesOf(width, height);
    if (!this.tiles) stage.resize(width, height, 1);
    stage.setView(view);
  }

  /**
   * A canvas with the frame, that of the next call too.
   * @throws Error naming the frame that cannot be worked out
   */
  async paint(frame: number): Promise<HTMLCanvasElement> {
    const { canvas, context, look, tiles } = this;
    if (!context) throw new Error("The browser gives no canvas to draw on.");
    const { width, height } = look;
    context.clearRect(0, 0, width, height);
    if (!tiles) {
      context.drawImage(await this.gather(frame, width, height), 0, 0);
      return canvas;
    }
    const { stage } = this.maker;
    // What is bright spreads over all tiles: it is taken from a small picture of the whole.
    const scale = SMALL / Math.max(width, height);
    const small = [Math.round(width * scale), Math.round(height * scale)] as const;
    stage.setPart(null);
    stage.resize(...small, 1);
    await this.show(frame, { frame, drift: 0 });
    if (stage.hasGlow) await this.gather(frame, ...small);
    for (const { x, y, width: wide, height: high, drawn } of tiles) {
      stage.setPart(drawn);
      const tile = await this.gather(frame, drawn.width, drawn.height);
      context.drawImage(tile, x - drawn.x, y - drawn.y, wide, high, x, y, wide, high);
    }
    return canvas;
  }

  /** A canvas with what the stage shows of a frame, so many pixels large. */
  private async gather(frame: number, width: number, height: number): Promise<HTMLCanvasElement> {
    const { look } = this;
    const moments = momentsOf(frame, look, this.piece.settings.fps);
    const { stage } = this.maker;
    let shown = -1;
    let drawn = this.canvas;
    let half: Float32Array | null = null;
    for (const [i, moment] of momentOfLooks(moments.length, look.looks).entries()) {
      if (moment !== shown) await this.show(frame, moments[moment]);
      shown = moment;
      drawn = this.isGathered ? stage.gatherOne(i === 0) : stage.drawNow();
      if (!isNoiseAsked(look, i + 1)) continue;
      const all = stage.pixels("developed");
      if (half && all && noiseOfMean(half, all, width, height) < look.noise) break;
      half = all;
    }
    return drawn;
  }

  private async show(frame: number, { frame: moment, drift }: Moment): Promise<void> {
    if (await this.maker.show(this.piece, moment, drift)) return;
    const { fault } = this.maker;
    throw new Error(`Frame ${frame} cannot be worked out${fault ? `: ${fault}` : "."}`);
  }

  /** The file of a frame. */
  async file(frame: number): Promise<Blob> {
    if (this.format === "png") return this.png(frame);
    await this.paint(frame);
    const { width, height } = this.look;
    const { stage } = this.maker;
    const pixels = stage.pixels(this.format === "exr" ? "gathered" : "developed");
    if (!pixels) throw new Error("The stage gives no light to write.");
    const bytes =
      this.format === "exr"
        ? layeredExr(width, height, pixels, await this.passes(frame))
        : deepPng(width, height, pixels);
    return new Blob([bytes], { type: exportFormat(this.format).mediaType });
  }

  private async passes(frame: number): Promise<Passes> {
    const { stage } = this.maker;
    await this.show(frame, { frame: frame + 1, drift: 0 });
    const then = stage.standing();
    await this.show(frame, { frame, drift: 0 });
    return stage.passes(then);
  }

  private async png(frame: number): Promise<Blob> {
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
