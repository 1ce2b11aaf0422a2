import { countUp, gather } from "../../../geometry/column";
import { placesOf } from "../../../geometry/domains";
import { makeMesh } from "../../../geometry/mesh";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { FacesOfRows } from "../../../surfaces/rows";
import { defineNode } from "../../define";
import { integer, out, shape, toggle } from "../../ports";

export const skinSites = defineNode({
  type: "skin-sites",
  family: "form",
  title: "Skin sites",
  about: "A surface through sites that stand in rows: a net, a cloth, a landscape that the sites carry.",
  synonyms: ["surface through points", "net", "cloth", "terrain", "sheet", "connect rows", "lattice to mesh"],
  inputs: {
    shape: shape({ about: "Sites row by row, as Grid sites gives them; without those, points." }),
    across: integer({ default: 10, min: 2, soft: [2, 100], about: "How many stand in a row." }),
    closeRows: toggle({
      default: false,
      label: "close rows",
      about: "Joins the end of each row to its beginning.",
    }),
    closeAll: toggle({ default: false, label: "close all", about: "Joins the last row to the first." }),
  },
  outputs: {
    shape: out.shape(
      "The surface, with what the sites carry; laid out for pictures along the rows and across them.",
    ),
  },
  summary: ({ across }) => `${across} in a row`,
  cost: ({ shape }) => {
    const points = placesOf(shape)?.count ?? 0;
    return { points, faces: points };
  },
  evaluate({ shape, across, closeRows, closeAll }, context) {
    const places = placesOf(shape);
    const rows = Math.floor((places?.count ?? 0) / across);
    if (!places || rows < 2) {
      context.warn(
        places
          ? `${places.count} arrive, which is less than two rows of ${across}.`
          : "No sites arrive, so there is nothing to span.",
        { input: places ? "across" : "shape" },
      );
      return { shape: EMPTY_SHAPE };
    }
    const over = places.count - rows * across;
    if (over > 0) context.warn(`The last ${over} do not fill a row and are left out.`, { input: "across" });
    const faces = new FacesOfRows();
    const count = (of: number, closed: boolean) => (closed ? of + 1 : of);
    const even = (of: number) => Float64Array.from({ length: of }, (_, i) => i / (of - 1));
    faces.add({
      rows,
      size: across,
      around: closeRows && across > 2,
      along: closeAll && rows > 2,
      u: even(count(rows, closeAll)),
      v: even(count(across, closeRows)),
      // Rows of a grid go along x and on along z: so it faces up.
      at: (i, j) => i * across + (across - 1 - j),
    });
    const kept = gather(places, countUp(rows * across));
    const { position, rotation: _turn, scale: _scale, source: _source, ...columns } = kept.columns;
    const mesh = makeMesh({
      position: position.lanes as [Float32Array, Float32Array, Float32Array],
      ...faces.parts,
      pointColumns: columns,
    });
    return { shape: { mesh } };
  },
});
