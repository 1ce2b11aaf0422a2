/** Moving pictures of demo pieces and starters that ship, so that the first shelf is full at once. */
import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { writeValue } from "../core/document/read";
import type { PieceDocument } from "../core/document/schema";
import { workText } from "../core/document/work-text";
import { sha256 } from "./demo";
import { DEMO_FOLDER } from "./files";

export const PICTURES_FOLDER = join(DEMO_FOLDER, "pictures");
/** Which state of its document each picture was made from. */
export const MADE = join(PICTURES_FOLDER, "made.json");
/** Frames side by side in each. */
export const SHIPPED_FRAMES = 12;

/** Stands for all of a document that its picture shows. */
export const pictureMark = (document: PieceDocument): string =>
  sha256(Buffer.from(`${workText(document)} ${writeValue(document.view)}`)).slice(0, 16);

export const picturesMade = (): Readonly<Record<string, string>> =>
  existsSync(MADE) ? (JSON.parse(readFileSync(MADE, "utf8")) as Record<string, string>) : {};

/** The picture of a demo piece or a starter, as WebP; null when there is none of the document as it is. */
export function shippedPicture(name: string, document: PieceDocument): Buffer | null {
  const file = join(PICTURES_FOLDER, `${name}.webp`);
  if (picturesMade()[name] !== pictureMark(document) || !existsSync(file)) return null;
  return readFileSync(file);
}
