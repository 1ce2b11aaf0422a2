import { tick } from "../../cancelling";
import { column } from "../../fields/expression";
import { type Column, makeColumn, makeFloats, makeLanes } from "../../geometry/column";
import { clip } from "../../maths/clip";
import { parseHex, type Rgba } from "../../maths/color";
import { lengthOf } from "../../maths/exact";
import { mixStops } from "../../maths/gradient";
import { BRUSHES, type Brush, brushAt, type Dab, NOTHING_PAINTED } from "../../maths/painted-mask";
import type { Vec3 } from "../../maths/vector";
import { HashGrid } from "../../spatial/hash-grid";
import { isAttributeName } from "../attribute-name";
import { defineNode, NodeError } from "../define";
import { elementsOf, onElements, withElements } from "../elements";
import { choice, out, painted, shape, text, toggle } from "../ports";

const AXES = { x: 0, y: 1, z: 2 } as const;

/** What is not painted, and what is, where it is shown. */
const [PLAIN, PAINTED] = ["#efe3c8", "#e8735a"];

export const paintedMask = defineNode({
  type: "painted-mask",
  family: "adjust",
  title: "Painted mask",
  about:
    "A mask that you paint on the stage with a brush: a number from 0 to 1 on points or clones, for any amount.",
  synonyms: ["brush", "paint", "weight", "select by hand", "vertex paint", "draw mask", "soft selection"],
  inputs: {
    shape: shape({ about: "What is painted on: a mesh, clones or curves." }),
    on: onElements(["sites", "points", "curve points"]),
    mask: painted({
      default: NOTHING_PAINTED,
      about:
        "Choose the node and press Paint on the stage. Touches stay where they were made: paint before anything moves the surface.",
    }),
    brush: choice(BRUSHES, { about: "How the brush gets weaker towards its edge." }),
    mirror: choice(["no", "x", "y", "z"], { about: "Paints the mirror image across an axis as well." }),
    name: text({ default: "mask", about: "The attribute that it is kept as." }),
    show: toggle({ default: true, about: "Colours what is painted, to see it." }),
  },
  outputs: {
    shape: out.shape("The same, with the attribute."),
    value: out.number("The mask, where the same elements arrive."),
  },
  summary: ({ mask }) => `${(mask as unknown as { dabs: readonly unknown[] }).dabs.length} touches`,
  cost: ({ mask }) => ({ milliseconds: mask.dabs.length * 0.02 }),
  evaluate({ shape, on, mask, brush, mirror, name, show }, context) {
    if (!isAttributeName(name))
      throw new NodeError(
        `"${name}" cannot be the name of an attribute: letters and digits, no spaces.`,
        "name",
      );
    const value = column(name, 0);
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape, value };
    const lanes = elements.domain.columns.position.lanes as readonly Float32Array[];
    const dabs = mirror === "no" ? mask.dabs : mask.dabs.flatMap((dab) => [dab, mirrored(dab, AXES[mirror])]);
    const lane = paintedLane(lanes, dabs, brush);
    const columns = { [name]: makeColumn("number", [lane]), ...(show && { color: shownColors(lane) }) };
    return { shape: withElements(shape, elements, columns), value };
  },
});

const mirrored = (dab: Dab, axis: 0 | 1 | 2): Dab => ({
  ...dab,
  at: dab.at.map((v, a) => (a === axis ? -v : v)) as unknown as Vec3,
});

/** Touch after touch, each clipped to 0 … 1, as a brush covers and an eraser takes away. */
function paintedLane(lanes: readonly Float32Array[], dabs: readonly Dab[], brush: Brush): Float32Array {
  const out = makeFloats(lanes[0].length);
  if (dabs.length === 0) return out;
  const [x, y, z] = lanes;
  const widest = dabs.reduce((most, { radius }) => Math.max(most, radius), 0);
  const grid = new HashGrid([x, y, z], widest);
  for (const { at, radius, amount } of dabs)
    grid.within(at[0], at[1], at[2], radius, (p) => {
      tick();
      const away = lengthOf(x[p] - at[0], y[p] - at[1], z[p] - at[2]) / radius;
      out[p] = clip(out[p] + amount * brushAt(brush, away), 0, 1);
      return undefined;
    });
  return out;
}

function shownColors(mask: Float32Array): Column {
  const lanes = makeLanes("color", mask.length);
  const [from, to] = [PLAIN, PAINTED].map((hex) => parseHex(hex) as Rgba);
  for (let p = 0; p < mask.length; p++) {
    const mixed = mixStops("oklab", from, to, mask[p]);
    for (let l = 0; l < 4; l++) lanes[l][p] = mixed[l];
  }
  return makeColumn("color", lanes);
}
