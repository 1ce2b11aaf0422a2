import { makeColumn, makeFloats, makeLanes, withColumns } from "../../geometry/column";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { cellsOf, rowsOf } from "../../maths/picture-cells";
import { PICTURE_LIES } from "../../maths/picture-in-space";
import { defineNode } from "../define";
import { assetPicture, choice, integer, length, number, out } from "../ports";

export const pictureSites = defineNode({
  type: "picture-sites",
  family: "layout",
  title: "Picture sites",
  about: "A site for each cell of a picture that is bright enough, with its colour and brightness.",
  synonyms: ["image", "photo", "bitmap", "logo", "halftone", "pixels", "mosaic", "raster"],
  inputs: {
    file: assetPicture({ about: "One of the piece's pictures: PNG or JPEG." }),
    across: integer({ default: 40, min: 1, soft: [4, 200], about: "Cells from left to right; rows follow." }),
    lies: choice(Object.keys(PICTURE_LIES) as (keyof typeof PICTURE_LIES)[], {
      label: "plane",
      about: "How the picture is laid.",
    }),
    width: length({ default: 4, min: 0, soft: [0.1, 20], about: "How wide it is; its height follows." }),
    keep: choice(["what is bright", "what is dark"], { about: "Which cells get a site." }),
    limit: number({
      default: 0.05,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "From this brightness on, in linear light; what is transparent gets none.",
    }),
  },
  outputs: {
    sites: out.shape(
      "The sites, row by row from the top, with `color`, `brightness` and `size`, the side of a cell.",
    ),
  },
  summary: ({ file, across }) => (file ? `${file}, ${across} across` : "no picture yet"),
  cost: ({ file, across }) => ({ sites: file ? across * rowsOf(file.picture, across) : 0 }),
  evaluate({ file, across, lies, width, keep, limit }, context) {
    if (!file) {
      context.warn("No picture is chosen yet. Choose one, or drop a PNG or JPEG on the studio.", {
        input: "file",
      });
      return { sites: EMPTY_SHAPE };
    }
    const { picture } = file;
    const rows = rowsOf(picture, across);
    const cells = cellsOf(picture, across, rows);
    const kept: number[] = [];
    for (let c = 0; c < across * rows; c++) {
      const passes = keep === "what is bright" ? cells.brightness[c] >= limit : cells.brightness[c] < limit;
      if (cells.alpha[c] >= 0.5 && passes) kept.push(c);
    }
    if (kept.length === 0) context.warn("No cell of the picture is kept at this limit.", { input: "limit" });
    const { right, up, upwards } = PICTURE_LIES[lies];
    const side = width / across;
    const sites = makeSites(kept.length, ({ position }) => {
      kept.forEach((c, i) => {
        position[right][i] = ((c % across) + 0.5 - across / 2) * side;
        position[up][i] = upwards * (rows / 2 - 0.5 - Math.floor(c / across)) * side;
      });
    });
    // A site keeps its id, the number of its cell, when the limit moves.
    sites.columns.id.lanes[0].set(kept);
    const color = makeLanes("color", kept.length);
    const bright = makeFloats(kept.length);
    kept.forEach((c, i) => {
      for (let l = 0; l < 3; l++) color[l][i] = cells.rgb[l][c];
      color[3][i] = 1;
      bright[i] = cells.brightness[c];
    });
    return {
      sites: {
        sites: withColumns(sites, {
          color: makeColumn("color", color),
          brightness: makeColumn("number", [bright]),
          size: makeColumn("number", [makeFloats(kept.length).fill(side)]),
        }),
      },
    };
  },
});
