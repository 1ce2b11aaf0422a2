import { simplified } from "../../curves/simplify";
import { evenedOut } from "../../curves/smooth";
import { tracedAt } from "../../curves/trace";
import { makeColumn, withColumns } from "../../geometry/column";
import { type Curves, makeCurves } from "../../geometry/curves";
import type { Outline } from "../../geometry/outlines";
import { EMPTY_SHAPE } from "../../geometry/shape";
import { type Rgba, toOklab } from "../../maths/color";
import { lengthOf } from "../../maths/exact";
import { cellsOf, rowsOf } from "../../maths/picture-cells";
import { PICTURE_LIES } from "../../maths/picture-in-space";
import { defineNode } from "../define";
import { assetPicture, choice, color, integer, length, number, out } from "../ports";

const BY = ["brightness", "darkness", "alpha", "colour"] as const;

export const tracePicture = defineNode({
  type: "trace-picture",
  family: "make",
  title: "Trace picture",
  about:
    "Outlines of what is bright, dark, there or of a colour in a picture, at one level or several, holes kept.",
  synonyms: [
    "vectorise",
    "image to curve",
    "contour",
    "silhouette",
    "logo",
    "outline",
    "bitmap",
    "threshold",
  ],
  inputs: {
    file: assetPicture({ about: "One of the piece's pictures: PNG, JPEG, Radiance or OpenEXR." }),
    by: choice(BY, {
      about: "What is outlined: what is bright or dark, what is not transparent, or what is of a colour.",
    }),
    colour: color({ default: "#e8735a", shownWhen: { input: "by", is: ["colour"] }, about: "Which colour." }),
    level: number({
      default: 0.5,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "From where on something is inside; of several levels the lowest one.",
    }),
    levels: integer({
      default: 1,
      min: 1,
      max: 64,
      soft: [1, 12],
      about: "How many outlines, from the level up to 1.",
    }),
    detail: integer({
      default: 160,
      min: 2,
      max: 4096,
      soft: [16, 512],
      about: "Cells from left to right that are looked at.",
    }),
    smooth: integer({
      default: 3,
      min: 0,
      max: 200,
      soft: [0, 20],
      about: "Rounds in which points go between their neighbours.",
    }),
    simplify: length({
      default: 0.005,
      min: 0,
      soft: [0, 0.05],
      about: "How far a point may lie off what is left when it is left out.",
    }),
    lies: choice(Object.keys(PICTURE_LIES) as (keyof typeof PICTURE_LIES)[], {
      label: "plane",
      default: "upright, facing z",
      about: "How the picture is laid.",
    }),
    width: length({ default: 4, min: 0, soft: [0.1, 20], about: "How wide it is; its height follows." }),
  },
  outputs: {
    shape: out.shape(
      "Closed curves: edges run counter-clockwise, holes clockwise; `level` is the level of each.",
    ),
  },
  summary: ({ file, by }) => (file ? `${file}, by ${by}` : "no picture yet"),
  cost: ({ file, detail, levels, smooth }) => {
    const cells = file ? detail * rowsOf(file.picture, detail) : 0;
    return {
      points: detail * 8 * levels,
      milliseconds: cells * levels * 2e-4 + detail * levels * smooth * 0.002,
    };
  },
  evaluate({ file, by, colour, level, levels, detail, smooth, simplify, lies, width }, context) {
    if (!file) {
      context.warn("No picture is chosen yet. Choose one, or drop a PNG or JPEG on the studio.", {
        input: "file",
      });
      return { shape: EMPTY_SHAPE };
    }
    const rows = rowsOf(file.picture, detail);
    const values = valuesOf(cellsOf(file.picture, detail, rows), by, colour);
    const { right, up, upwards } = PICTURE_LIES[lies];
    const side = width / detail;
    const outlines: Outline[] = [];
    const at: number[] = [];
    for (let k = 0; k < levels; k++) {
      const here = level + ((1 - level) * k) / levels;
      const found = tracedAt(values, detail, here);
      outlines.push(...found);
      at.push(...found.map(() => here));
    }
    if (outlines.length === 0) {
      context.warn("Nothing in the picture is above this level.", { input: "level" });
      return { shape: EMPTY_SHAPE };
    }
    const placed = curvesOf(outlines, (x, y) => {
      const place = [0, 0, 0];
      place[right] = (x - detail / 2) * side;
      place[up] = upwards * (rows / 2 - y) * side;
      return place;
    });
    const made = simplified(
      evenedOut(placed, smooth, new Float32Array(placed.points.count).fill(1)),
      simplify,
    );
    context.note(`${made.curves.count} outlines of ${made.points.count} points.`);
    const own = { level: makeColumn("number", [Float32Array.from(at)]) };
    return { shape: { curves: { ...made, curves: withColumns(made.curves, own) } } };
  },
});

/** 0 … 1 of each cell; what is transparent is nothing. */
function valuesOf(cells: ReturnType<typeof cellsOf>, by: (typeof BY)[number], colour: Rgba): Float32Array {
  if (by === "alpha") return Float32Array.from(cells.alpha);
  const wanted = toOklab(colour[0], colour[1], colour[2]);
  return Float32Array.from(cells.alpha, (alpha, c) => {
    // Light as it is seen: its cube root runs evenly (Oklab's L of greys).
    if (by !== "colour") {
      const light = toOklab(cells.brightness[c], cells.brightness[c], cells.brightness[c])[0];
      return (by === "brightness" ? light : 1 - light) * alpha;
    }
    const own = toOklab(cells.rgb[0][c], cells.rgb[1][c], cells.rgb[2][c]);
    const off = lengthOf(own[0] - wanted[0], own[1] - wanted[1], own[2] - wanted[2]);
    return Math.max(0, 1 - off / FAR) * alpha;
  });
}

/** Distance in Oklab from which on a colour is another one altogether. */
const FAR = 0.5;

function curvesOf(outlines: readonly Outline[], place: (x: number, y: number) => readonly number[]): Curves {
  const curveStarts = new Int32Array(outlines.length + 1);
  for (const [k, outline] of outlines.entries()) curveStarts[k + 1] = curveStarts[k] + outline.length / 2;
  const lanes = [0, 1, 2].map(() => new Float32Array(curveStarts[outlines.length]));
  for (const [k, outline] of outlines.entries())
    for (let i = 0; i < outline.length; i += 2) {
      const at = place(outline[i], outline[i + 1]);
      for (let a = 0; a < 3; a++) lanes[a][curveStarts[k] + i / 2] = at[a];
    }
  return makeCurves({
    position: [lanes[0], lanes[1], lanes[2]],
    curveStarts,
    closed: new Int32Array(outlines.length).fill(1),
  });
}
