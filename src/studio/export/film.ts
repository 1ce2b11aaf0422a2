/** A range of frames as one film: MP4 (H.264), WebM (VP9) or GIF. */
import {
  BufferTarget,
  CanvasSource,
  canEncodeVideo,
  Mp4OutputFormat,
  Output,
  QUALITY_VERY_HIGH,
  WebMOutputFormat,
} from "mediabunny";
import type { PieceDocument, View } from "@/core/document/schema";
import type { Delivered, Watch } from "./delivered";
import type { FrameLook } from "./frame-look";
import { FramePainter } from "./frame-painter";
import { type FrameRange, framesOf } from "./frame-range";
import { GifWriter } from "./gif-writer";

export const FILM_KINDS = ["mp4", "webm", "gif"] as const;
export type FilmKind = (typeof FILM_KINDS)[number];

export interface Film extends FrameRange {
  readonly document: PieceDocument;
  readonly kind: FilmKind;
  readonly view: View;
  readonly look: FrameLook;
}

/** Takes frames one after the other and makes a file of them. */
interface FilmWriter {
  add(painter: FramePainter, canvas: HTMLCanvasElement): Promise<void>;
  end(): Promise<Blob>;
  /** Leaves nothing behind. */
  drop(): void;
}

/**
 * What is done when it is stopped is kept: the film then ends there.
 * @throws Error when the browser cannot write the kind at this size, or naming the frame that cannot be worked out
 */
export async function takeFilm(film: Film, { onFrame, stopped }: Watch): Promise<Delivered> {
  const frames = framesOf(film);
  const { fps } = film.document.settings;
  const { width, height } = film.look;
  const rate = fps / Math.max(1, Math.round(film.step));
  const painter = new FramePainter(film.document, film.view, film.look);
  let writer: FilmWriter | null = null;
  try {
    writer = film.kind === "gif" ? new GifWriter(width, height, rate) : null;
    let done = 0;
    for (const frame of frames) {
      if (stopped()) break;
      const canvas = await painter.paint(frame);
      writer ??= await videoWriter(film.kind, canvas, rate, film.look.transparent);
      await writer.add(painter, canvas);
      onFrame(++done, frames.length);
    }
    const blob = done > 0 && writer ? await writer.end() : new Blob();
    return { blob, done, total: frames.length };
  } catch (error) {
    writer?.drop();
    throw error;
  } finally {
    painter.dispose();
  }
}

const CODECS = { mp4: "avc", webm: "vp9" } as const;
const CODEC_NAMES = { mp4: "MP4 (H.264)", webm: "WebM (VP9)" } as const;

/** @param clear keep the alpha of the canvas; VP9 can */
async function videoWriter(
  kind: FilmKind,
  canvas: HTMLCanvasElement,
  rate: number,
  clear: boolean,
): Promise<FilmWriter> {
  const container = kind === "mp4" ? "mp4" : "webm";
  const codec = CODECS[container];
  const { width, height } = canvas;
  if (!(await canEncodeVideo(codec, { width, height, quality: QUALITY_VERY_HIGH })))
    throw new Error(
      `This browser cannot write ${CODEC_NAMES[container]} at ${width} × ${height}. Choose another kind or a smaller size.`,
    );
  const target = new BufferTarget();
  const format = container === "mp4" ? new Mp4OutputFormat() : new WebMOutputFormat();
  const output = new Output({ format, target });
  const source = new CanvasSource(canvas, {
    codec,
    quality: QUALITY_VERY_HIGH,
    alpha: clear && kind === "webm" ? "keep" : "discard",
  });
  output.addVideoTrack(source, { frameRate: rate });
  await output.start();
  let count = 0;
  return {
    add: () => source.add(count++ / rate, 1 / rate),
    end: async () => {
      await output.finalize();
      return new Blob([target.buffer as ArrayBuffer], { type: `video/${container}` });
    },
    drop: () => void output.cancel(),
  };
}
