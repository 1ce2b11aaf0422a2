/** GIF frames, encoded in a worker of their own: choosing 256 colours takes long. */
import type { FramePainter } from "./frame-painter";
import { gifDelay } from "./gif-timing";
import type { FromGifWorker, ToGifWorker } from "./gif-worker";

/** What ends a GIF (GIF89a, § 27). */
export const GIF_END = Uint8Array.of(0x3b);

/** A stretch of frames; stretches follow each other in one file. */
export class GifWriter {
  private readonly worker = new Worker(new URL("./gif-worker.ts", import.meta.url), {
    type: "module",
    name: "glemmo-gif",
  });

  /**
   * @param rate frames a second, 50 at most; shown in hundredths of a second, so that the whole lasts as long as it should
   * @param count frames that come before
   */
  constructor(
    private readonly width: number,
    private readonly height: number,
    private readonly rate: number,
    private count: number,
  ) {}

  async add(painter: FramePainter): Promise<void> {
    const pixels = painter.pixels();
    const isFirst = this.count === 0;
    const delay = gifDelay(this.count++, this.rate);
    const { width, height } = this;
    await this.ask({ type: "frame", pixels, width, height, delay, isFirst }, [pixels.buffer]);
  }

  async end(): Promise<Uint8Array> {
    const { bytes } = await this.ask({ type: "end" }, []);
    this.drop();
    return bytes as Uint8Array;
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
