import { FormatError } from "../format-error";

/** Pixels read at most; a small file can promise far more than memory holds. */
const MAX_PIXELS = 50_000_000;

/** @throws FormatError */
export function checkPictureSize(width: number, height: number): void {
  if (width === 0 || height === 0) throw new FormatError("it has no pixels.");
  if (width * height > MAX_PIXELS) {
    throw new FormatError(
      `it has ${width} × ${height} pixels; the limit is ${MAX_PIXELS / 1e6} million. Make it smaller first.`,
    );
  }
}
