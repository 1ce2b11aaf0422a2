/** HarfBuzz as one module; harfbuzz.js is made by scripts/make-text-parts.mjs. */
export { Blob, Buffer, Face, Feature, Font, shape } from "harfbuzzjs";

/** Nothing else may be used before it is there. */
export const ready: Promise<void>;
