import { makeColumn, withColumns } from "../../../geometry/column";
import { makeCurves } from "../../../geometry/curves";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { anyAcross, cross, normalise, type Vec3 } from "../../../maths/vector";
import { defineNode } from "../../define";
import { elementsOf, onElements, SILENTLY } from "../../elements";
import { field, length, number, out, shape } from "../../ports";

/** Points of an arrow: two of its shaft, three of its head. */
const POINTS = 5;
/** How far the sides of a head stand off, as a part of its length. */
const OPEN = 0.45;

export const arrows = defineNode({
  type: "arrows",
  family: "form",
  title: "Arrows",
  about: "Draws a vector at every element as an arrow: speeds, forces, flows, facings.",
  synonyms: [
    "velocity",
    "vector display",
    "show direction",
    "visualise field",
    "force arrows",
    "quiver",
    "streaks",
    "speed lines",
    "debug",
  ],
  inputs: {
    shape: shape({
      about: "Particles, sites or clones; without those, points; or the elements that are named.",
    }),
    on: onElements(),
    vector: field.vector({
      default: [0, 1, 0],
      implicit: "velocity",
      about: "What is drawn; the velocity unless linked.",
    }),
    size: number({ default: 0.3, soft: [0, 2], unit: "×", about: "Times the vector's own length." }),
    head: length({
      default: 0.08,
      min: 0,
      soft: [0, 0.3],
      about: "Of the tip, at most a third of the arrow; 0 leaves bare streaks.",
    }),
  },
  outputs: { shape: out.shape("Curves: a shaft and a head each, in the colours of their elements.") },
  summary: ({ size }) => `${size} × the vector`,
  cost: ({ shape }) => ({ points: POINTS * (elementsOf(shape, SILENTLY)?.domain.count ?? 0) }),
  evaluate({ shape, on, vector, size, head }, context) {
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape: EMPTY_SHAPE };
    const { domain } = elements;
    const { lanes } = domain.columns.position;
    const ways = context.run(vector, domain);
    const drawn: number[] = [];
    for (let i = 0; i < domain.count; i++) if (ways.some((lane) => lane[i] !== 0)) drawn.push(i);
    if (drawn.length === 0) {
      context.note("The vector is nothing everywhere, so there are no arrows.");
      return { shape: EMPTY_SHAPE };
    }
    const position = [0, 1, 2].map(() => new Float32Array(drawn.length * POINTS)) as [
      Float32Array,
      Float32Array,
      Float32Array,
    ];
    for (const [n, i] of drawn.entries()) {
      const from: Vec3 = [lanes[0][i], lanes[1][i], lanes[2][i]];
      const way: Vec3 = [ways[0][i] * size, ways[1][i] * size, ways[2][i] * size];
      const along = normalise(way);
      const far = Math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]);
      const tip = Math.min(head, far / 3);
      const side = cross(along, anyAcross(along));
      const put = (p: number, back: number, off: number) => {
        for (let a = 0; a < 3; a++)
          position[a][n * POINTS + p] = from[a] + along[a] * (far - back) + side[a] * off;
      };
      put(0, far, 0);
      put(1, 0, 0);
      put(2, tip, tip * OPEN);
      put(3, 0, 0);
      put(4, tip, -tip * OPEN);
    }
    const curves = makeCurves({
      position,
      curveStarts: Int32Array.from(
        { length: drawn.length * 2 + 1 },
        (_, c) => (c >> 1) * POINTS + (c & 1) * 2,
      ),
    });
    const { color } = domain.columns;
    const colors = color?.lanes.map((lane) =>
      Float32Array.from({ length: drawn.length * POINTS }, (_, p) => lane[drawn[Math.floor(p / POINTS)]]),
    );
    return {
      shape: {
        curves: colors
          ? { ...curves, points: withColumns(curves.points, { color: makeColumn("color", colors) }) }
          : curves,
      },
    };
  },
});
