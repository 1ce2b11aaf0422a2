/** Many frames as files, in one .zip or in a folder: pictures of the stage, 3D files or values. */
import { Zip, ZipPassThrough } from "fflate";
import type { PieceDocument, View } from "@/core/document/schema";
import { exportFormat } from "@/core/formats/write/export-formats";
import type { FrameFormat } from "@/core/formats/write/write-frame";
import { EngineClient } from "@/engine/client";
import { isPicture, type PictureFormat } from "./deep-pictures";
import type { Delivered, FrameFiles, Watch } from "./delivered";
import type { FrameLook } from "./frame-look";
import { FramePainter } from "./frame-painter";
import { type FrameRange, framesOf, frameText } from "./frame-range";
import { lazily } from "./lazily";

export interface Sequence extends FrameRange {
  readonly document: PieceDocument;
  readonly format: PictureFormat | FrameFormat;
  readonly copies: "instanced" | "baked";
  /** Where the camera stands; frames are seen from one place. */
  readonly view: View;
  /** How pictures are drawn. */
  readonly look: FrameLook;
  /** Beginning of every file's name. */
  readonly name: string;
}

/**
 * What is done when it is stopped is kept: the .zip then holds the frames so far, and all that were made before.
 * @throws Error naming the frame that cannot be worked out
 */
export async function takeSequence(
  sequence: Sequence,
  { onFrame, stopped }: Watch,
  kept: FrameFiles,
): Promise<Delivered> {
  const frames = framesOf(sequence);
  const zip = new ZipParts();
  const maker = lazily(() => makerOf(sequence));
  try {
    let done = 0;
    for (const frame of frames) {
      const known = await kept.get(frame);
      if (!known && stopped()) break;
      const bytes = known ?? (await maker.get().make(frame));
      if (!known) await kept.put(frame, bytes);
      zip.add(nameOf(sequence, frame, frames), bytes);
      onFrame(++done, frames.length);
    }
    return { blob: zip.end(), done, total: frames.length };
  } finally {
    maker.known?.dispose();
  }
}

/**
 * Writes files into a folder, the first `done` of which are there.
 * @throws Error naming the frame that cannot be worked out, or of the browser when it cannot write
 */
export async function fillFolder(
  sequence: Sequence,
  { onFrame, stopped }: Watch,
  folder: FileSystemDirectoryHandle,
  done: number,
): Promise<Delivered> {
  const frames = framesOf(sequence);
  const maker = makerOf(sequence);
  let written = done;
  try {
    for (const frame of frames.slice(done)) {
      if (stopped()) break;
      const bytes = await maker.make(frame);
      const file = await folder.getFileHandle(nameOf(sequence, frame, frames), { create: true });
      const stream = await file.createWritable();
      await stream.write(bytes as Uint8Array<ArrayBuffer>);
      await stream.close();
      onFrame(++written, frames.length);
    }
    return { blob: null, done: written, total: frames.length };
  } finally {
    maker.dispose();
  }
}

const nameOf = ({ name, format }: Sequence, frame: number, frames: readonly number[]): string =>
  `${name}-${frameText(frame, frames)}.${exportFormat(format).ending}`;

/** What makes the file of a frame: pictures are drawn, values and 3D files need no stage. */
function makerOf({ document: piece, format, copies, view, look }: Sequence) {
  if (isPicture(format)) {
    const painter = new FramePainter(piece, view, look, format);
    return {
      make: async (frame: number) => new Uint8Array(await (await painter.file(frame)).arrayBuffer()),
      dispose: () => painter.dispose(),
    };
  }
  const engine = EngineClient.forFiles();
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
