/** Look-up tables of colour (.cube, Adobe's "Cube LUT Specification" 1.0): for each of size³ colours another one. */
import { FloatType } from "three";
import { LUTCubeLoader } from "three/examples/jsm/loaders/LUTCubeLoader.js";
import { FormatError } from "../format-error";
import type { LookUpAsset } from "./asset";

/** The most along an edge that the specification has. */
const MOST = 256;

/** @throws FormatError naming the line */
export function readCube(bytes: Uint8Array): LookUpAsset {
  const text = new TextDecoder().decode(bytes).replace(/\r\n?/g, "\n");
  if (/^\s*LUT_1D_SIZE/m.test(text))
    throw new FormatError("its table has one dimension; save it as one with three (LUT_3D_SIZE).");
  const size = Number(/^\s*LUT_3D_SIZE\s+(\d+)/m.exec(text)?.[1]);
  if (!(size >= 2 && size <= MOST))
    throw new FormatError(`it does not say how large its table is (a line LUT_3D_SIZE from 2 to ${MOST}).`);
  let entries = 0;
  for (const [l, line] of text.split("\n").entries()) {
    if (!/^\s*[-+.\d]/.test(line)) continue;
    const numbers = line.trim().split(/\s+/).map(Number);
    if (numbers.length !== 3 || !numbers.every(Number.isFinite))
      throw new FormatError(`line ${l + 1} should have three numbers and has "${line.trim().slice(0, 40)}".`);
    entries++;
  }
  if (entries !== size ** 3)
    throw new FormatError(`it has ${entries} colours, and a table of ${size} has ${size ** 3}.`);
  const { texture3D, domainMin, domainMax } = new LUTCubeLoader().setType(FloatType).parse(tidied(text));
  if (!(domainMin.x < domainMax.x && domainMin.y < domainMax.y && domainMin.z < domainMax.z))
    throw new FormatError("its domain is empty (DOMAIN_MIN is to be below DOMAIN_MAX).");
  return {
    kind: "look-up",
    lookUp: {
      size,
      colors: texture3D.image.data as Float32Array,
      least: domainMin.toArray(),
      most: domainMax.toArray(),
    },
  };
}

/** As the library wants it: one blank between numbers, none around them. */
const tidied = (text: string): string =>
  text
    .split("\n")
    .map((line) => line.trim().replace(/\s+/g, " "))
    .join("\n");
