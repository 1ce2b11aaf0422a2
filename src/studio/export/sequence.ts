/** Many frames as one .zip: pictures of the stage, 3D files or values, a file each. */
import { Zip, ZipPassThrough } from "fflate";
import type { PieceDocument, View } from "@/core/document/schema";
import type { FrameFormat } from "@/core/formats/write/write-frame";
import { FrameStage } from "../stage/frame-stage";
import { type FrameRange, framesOf, frameText } from "./frame-range";

export interface Sequence extends FrameRange {
  readonly document: PieceDocument;
  readonly format: "png" | FrameFormat;
  readonly copies: "instanced" | "baked";
  /** Where the camera stands; frames are seen from one place. */
  readonly view: View;
  /** Beginning of every file's name. */
  readonly name: string;
}

export interface SequenceWatch {
  readonly onFrame: (done: number, total: number) => void;
  readonly stopped: () => boolean;
}

/**
 * What is done when it is stopped is kept: the .zip then holds the frames so far.
 * @throws Error naming the frame that cannot be worked out
 */
export async function takeSequence(
  sequence: Sequence,
  { onFrame, stopped }: SequenceWatch,
): Promise<{ blob: Blob; done: number; total: number }> {
  const { document: piece, format, copies, name } = sequence;
  const frames = framesOf(sequence);
  const zip = new ZipParts();
  const maker = new FrameStage();
  try {
    maker.stage.resize(piece.settings.size[0], piece.settings.size[1], 1);
    maker.stage.setView(sequence.view);
    let done = 0;
    for (const frame of frames) {
      if (stopped()) break;
      const bytes =
        format === "png"
          ? await pictureOf(maker, piece, frame)
          : await maker.engine.export(piece, frame, { format, copies });
      zip.add(`${name}-${frameText(frame, frames)}.${format}`, bytes);
      onFrame(++done, frames.length);
    }
    return { blob: zip.end(), done, total: frames.length };
  } finally {
    maker.dispose();
  }
}

async function pictureOf(maker: FrameStage, piece: PieceDocument, frame: number): Promise<Uint8Array> {
  if (!(await maker.show(piece, frame)))
    throw new Error(`Frame ${frame} cannot be worked out${maker.fault ? `: ${maker.fault}` : "."}`);
  const [width, height] = piece.settings.size;
  const blob = await maker.stage.picture(width, height);
  return new Uint8Array(await blob.arrayBuffer());
}

/** Files of a .zip as they come; what is in them is packed already, or quickly read by whatever takes it. */
class ZipParts {
  private readonly parts: Blob[] = [];
  private fault: Error | null = null;
  private readonly zip = new Zip((error, chunk) => {
    if (error) this.fault = error;
    // The browser may keep blobs on disk.
    else this.parts.push(new Blob([chunk as Uint8Array<ArrayBuffer>]));
  });

  add(name: string, bytes: Uint8Array): void {
    const file = new ZipPassThrough(name);
    this.zip.add(file);
    file.push(bytes, true);
    if (this.fault) throw this.fault;
  }

  end(): Blob {
    this.zip.end();
    return new Blob(this.parts, { type: "application/zip" });
  }
}
