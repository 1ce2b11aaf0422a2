/** What is taken away of many frames, and how it is made. */
import type { PieceDocument, View } from "@/core/document/schema";
import { type ExportId, exportFormat } from "@/core/formats/write/export-formats";
import { fileStem } from "@/ui/download";
import { takeAnimation } from "./animation";
import type { Delivered, FrameFiles, Watch } from "./delivered";
import { type FilmKind, filmFrames, takeFilm } from "./film";
import type { FrameLook } from "./frame-look";
import { type FrameRange, framesOf } from "./frame-range";
import { fillFolder, takeSequence } from "./sequence";

export interface Delivery extends FrameRange {
  readonly id: string;
  readonly document: PieceDocument;
  /** A file for each frame, or one for all: a film, or a GLB that moves. */
  readonly kind: Exclude<ExportId, "piece">;
  readonly copies: "instanced" | "baked";
  /** Where the camera stands; frames are seen from one place. */
  readonly view: View;
  /** How pictures are drawn. */
  readonly look: FrameLook;
  /** Where files go; a .zip when missing. */
  readonly folder?: FileSystemDirectoryHandle;
}

const isFilm = (kind: Delivery["kind"]): kind is FilmKind => exportFormat(kind).group === "film";

/** Whether it can go on where it was left. */
export const goesOn = ({ kind }: Delivery): boolean => exportFormat(kind).resumes;

/** How many frames it is made of. */
export const framesIn = ({ kind, ...delivery }: Delivery): number =>
  (isFilm(kind) ? filmFrames({ ...delivery, kind }) : framesOf(delivery)).length;

/** The ending of the file that it makes. */
export const endingOf = ({ kind }: Delivery): string =>
  exportFormat(kind).frames === "range" ? exportFormat(kind).ending : "zip";

/** Beginning of the names of files. */
export const stemOf = ({ document }: Delivery): string => fileStem(document.name);

export const titleOf = ({ document, kind, first, last }: Delivery): string =>
  `${document.name}, ${exportFormat(kind).title}, frames ${first} to ${last}`;

/**
 * @param kept frames, or stretches of a film, that were made before, and where those that are made now are kept
 * @param done how many of them went into a folder before
 * @throws Error with a message for the designer
 */
export async function deliver(
  delivery: Delivery,
  watch: Watch,
  kept: FrameFiles,
  done: number,
): Promise<Delivered> {
  const { document, kind, folder } = delivery;
  if (kind === "moving") return takeAnimation(document, delivery, watch);
  if (isFilm(kind)) return takeFilm({ ...delivery, kind }, watch, kept);
  const sequence = { ...delivery, format: kind, name: stemOf(delivery) };
  if (folder) return fillFolder(sequence, watch, folder, done);
  return takeSequence(sequence, watch, kept);
}
