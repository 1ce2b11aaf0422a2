/** Many frames as one .zip: pictures of the stage, 3D files or values, a file each. */
import { Zip, ZipPassThrough } from "fflate";
import type { PieceDocument, View } from "@/core/document/schema";
import type { FrameFormat } from "@/core/formats/write/write-frame";
import { EngineClient } from "@/engine/client";
import type { FrameLook } from "./frame-look";
import { FramePainter } from "./frame-painter";
import { type FrameRange, framesOf, frameText } from "./frame-range";

export interface Sequence extends FrameRange {
  readonly document: PieceDocument;
  readonly format: "png" | FrameFormat;
  readonly copies: "instanced" | "baked";
  /** Where the camera stands; frames are seen from one place. */
  readonly view: View;
  /** How pictures are drawn. */
  readonly look: FrameLook;
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
  const frames = framesOf(sequence);
  const zip = new ZipParts();
  const maker = makerOf(sequence);
  try {
    let done = 0;
    for (const frame of frames) {
      if (stopped()) break;
      zip.add(`${sequence.name}-${frameText(frame, frames)}.${sequence.format}`, await maker.make(frame));
      onFrame(++done, frames.length);
    }
    return { blob: zip.end(), done, total: frames.length };
  } finally {
    maker.dispose();
  }
}

/** What makes the file of a frame: pictures are drawn, values and 3D files need no stage. */
function makerOf({ document: piece, format, copies, view, look }: Sequence) {
  if (format === "png") {
    const painter = new FramePainter(piece, view, look);
    return {
      make: async (frame: number) => new Uint8Array(await (await painter.png(frame)).arrayBuffer()),
      dispose: () => painter.dispose(),
    };
  }
  const engine = new EngineClient({ evaluated: () => {}, failed: () => {}, busy: () => {} });
  return {
    make: (frame: number) => engine.export(piece, frame, { format, copies }),
    dispose: () => engine.dispose(),
  };
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
