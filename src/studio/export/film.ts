/** A range of frames as one film: MP4 (H.264), WebM (VP9) or GIF. */
import {
  ALL_FORMATS,
  BufferSource,
  BufferTarget,
  CanvasSource,
  canEncodeVideo,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  Input,
  Mp4OutputFormat,
  Output,
  QUALITY_VERY_HIGH,
  WebMOutputFormat,
} from "mediabunny";
import type { PieceDocument, View } from "@/core/document/schema";
import type { Delivered, FrameFiles, Watch } from "./delivered";
import type { FrameLook } from "./frame-look";
import { FramePainter } from "./frame-painter";
import { type FrameRange, framesOf } from "./frame-range";
import { gifFrames, gifRate } from "./gif-timing";
import { GIF_END, GifWriter } from "./gif-writer";
import { lazily } from "./lazily";

export type FilmKind = "mp4" | "webm" | "gif";

export interface Film extends FrameRange {
  readonly document: PieceDocument;
  readonly kind: FilmKind;
  readonly view: View;
  readonly look: FrameLook;
}

/** Frames a second that are asked for. */
const rateOf = ({ document, step }: Pick<Film, "document" | "step">): number =>
  document.settings.fps / Math.max(1, Math.round(step));

/** The frames that a film shows: a GIF leaves out those that come too fast for it, so that it lasts as long as it should. */
export const filmFrames = (film: Pick<Film, "document" | "kind" | keyof FrameRange>): number[] =>
  film.kind === "gif" ? gifFrames(framesOf(film), rateOf(film)) : framesOf(film);

/** Frames that are encoded by themselves, so that a film can go on where it was left: about a key frame's distance. */
const STRETCH = 48;

/** A stretch of a film that takes its frames one after the other. */
interface StretchWriter {
  add(painter: FramePainter, canvas: HTMLCanvasElement): Promise<void>;
  end(): Promise<Uint8Array>;
  /** Leaves nothing behind. */
  drop(): void;
}

/** How a kind of film is made of stretches. */
interface FilmKit {
  /** @param first how many frames come before */
  begin(first: number, canvas: HTMLCanvasElement): Promise<StretchWriter>;
  join(stretches: readonly Uint8Array[]): Promise<Blob>;
}

/**
 * What is done when it is stopped is kept: the film then ends there.
 * @param kept stretches that were made before, by number, and where those that are made now are kept
 * @throws Error when the browser cannot write the kind at this size, or naming the frame that cannot be worked out
 */
export async function takeFilm(
  film: Film,
  { onFrame, stopped }: Watch,
  kept: FrameFiles,
): Promise<Delivered> {
  const frames = filmFrames(film);
  const rate = rateOf(film);
  const kit = film.kind === "gif" ? gifKit(film, gifRate(rate)) : videoKit(film.kind, film, rate);
  const painter = lazily(() => new FramePainter(film.document, film.view, film.look));
  const stretches: Uint8Array[] = [];
  let done = 0;
  try {
    while (done < frames.length) {
      const number = done / STRETCH;
      const wanted = frames.slice(done, done + STRETCH);
      let bytes = await kept.get(number);
      if (!bytes) {
        if (stopped()) break;
        const before = done;
        bytes = await makeStretch(kit, before, wanted, painter.get(), () => {
          onFrame(++done, frames.length);
          return stopped();
        });
        if (done - before === wanted.length) await kept.put(number, bytes);
      } else onFrame((done += wanted.length), frames.length);
      stretches.push(bytes);
      if (stopped() && done % STRETCH !== 0) break;
    }
    const blob = stretches.length > 0 ? await kit.join(stretches) : null;
    return { blob, done, total: frames.length };
  } finally {
    painter.known?.dispose();
  }
}

/** @param made is called after every frame and says whether to end there */
async function makeStretch(
  kit: FilmKit,
  first: number,
  frames: readonly number[],
  painter: FramePainter,
  made: () => boolean,
): Promise<Uint8Array> {
  let writer: StretchWriter | null = null;
  try {
    for (const frame of frames) {
      const canvas = await painter.paint(frame);
      writer ??= await kit.begin(first, canvas);
      await writer.add(painter, canvas);
      if (made()) break;
    }
    return await (writer as StretchWriter).end();
  } catch (error) {
    writer?.drop();
    throw error;
  }
}

const gifKit = ({ look }: Film, rate: number): FilmKit => ({
  begin: async (first) => new GifWriter(look.width, look.height, rate, first),
  join: async (stretches) =>
    new Blob([...(stretches as Uint8Array<ArrayBuffer>[]), GIF_END], { type: "image/gif" }),
});

const CODECS = { mp4: "avc", webm: "vp9" } as const;
const CODEC_NAMES = { mp4: "MP4 (H.264)", webm: "WebM (VP9)" } as const;

/** Stretches are films of their own; their packets, moved in time, are the whole one. */
function videoKit(kind: "mp4" | "webm", { look }: Film, rate: number): FilmKit {
  const codec = CODECS[kind];
  const newOutput = () =>
    new Output({
      format: kind === "mp4" ? new Mp4OutputFormat() : new WebMOutputFormat(),
      target: new BufferTarget(),
    });
  const alpha = look.transparent && kind === "webm" ? "keep" : "discard";
  const track = { frameRate: rate, canBeTransparent: alpha === "keep" };
  const bytesOf = async (output: ReturnType<typeof newOutput>) => {
    await output.finalize();
    return new Uint8Array((output.target as BufferTarget).buffer as ArrayBuffer);
  };
  return {
    async begin(_first, canvas) {
      const { width, height } = canvas;
      if (!(await canEncodeVideo(codec, { width, height, quality: QUALITY_VERY_HIGH })))
        throw new Error(
          `This browser cannot write ${CODEC_NAMES[kind]} at ${width} × ${height}. Choose another kind or a smaller size.`,
        );
      const output = newOutput();
      const source = new CanvasSource(canvas, { codec, quality: QUALITY_VERY_HIGH, alpha });
      output.addVideoTrack(source, track);
      await output.start();
      let count = 0;
      return {
        add: () => source.add(count++ / rate, 1 / rate),
        end: () => bytesOf(output),
        drop: () => void output.cancel(),
      };
    },
    async join(stretches) {
      const type = `video/${kind}`;
      if (stretches.length === 1) return new Blob(stretches as Uint8Array<ArrayBuffer>[], { type });
      const output = newOutput();
      const source = new EncodedVideoPacketSource(codec);
      output.addVideoTrack(source, track);
      await output.start();
      for (const [i, bytes] of stretches.entries()) {
        const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes) });
        const part = await input.getPrimaryVideoTrack();
        if (!part) throw new Error("A part of the film holds no picture.");
        const decoderConfig = (await part.getDecoderConfig()) ?? undefined;
        for await (const packet of new EncodedPacketSink(part).packets())
          await source.add(packet.clone({ timestamp: packet.timestamp + (i * STRETCH) / rate }), {
            decoderConfig,
          });
      }
      return new Blob([await bytesOf(output)], { type });
    },
  };
}
