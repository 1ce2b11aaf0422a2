/** GIF frames, encoded in a worker of their own: choosing 256 colours takes long. */
import type { FramePainter } from "./frame-painter";
import type { FromGifWorker, ToGifWorker } from "./gif-worker";

export class GifWriter {
  private readonly worker = new Worker(new URL("./gif-worker.ts", import.meta.url), {
    type: "module",
    name: "glemmo-gif",
  });
  private count = 0;

  /** @param rate frames a second; shown in hundredths of a second, so that the whole lasts as long as it should */
  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly rate: number,
  ) {}

  async add(painter: FramePainter): Promise<void> {
    const pixels = painter.pixels();
    const delay = gifDelay(this.count++, this.rate);
    await this.ask({ type: "frame", pixels, width: this.width, height: this.height, delay }, [pixels.buffer]);
  }

  async end(): Promise<Blob> {
    const { bytes } = await this.ask({ type: "end" }, []);
    this.drop();
    return new Blob([bytes as Uint8Array<ArrayBuffer>], { type: "image/gif" });
  }

  drop(): void {
    this.worker.terminate();
  }

  private ask(message: ToGifWorker, transfer: Transferable[]): Promise<FromGifWorker> {
    return new Promise((done, fail) => {
      this.worker.onmessage = ({ data }: MessageEvent<FromGifWorker>) => done(data);
      this.worker.onerror = ({ message: what }) => fail(new Error(`The GIF could not be encoded: ${what}`));
      this.worker.postMessage(message, transfer);
    });
  }
}

/** Milliseconds that frame i is shown, in whole hundredths of a second: rounding never adds up. Browsers slow below 0.02 s. */
export function gifDelay(i: number, rate: number): number {
  const until = (n: number) => Math.round((n * 100) / rate);
  return Math.max(2, until(i + 1) - until(i)) * 10;
}
