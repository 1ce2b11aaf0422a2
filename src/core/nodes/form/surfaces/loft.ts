import { mergeCurves } from "../../../geometry/curves";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { loft as lofted } from "../../../surfaces/loft";
import { defineNode } from "../../define";
import { choice, integer, out, shapes, toggle } from "../../ports";

export const loft = defineNode({
  type: "loft",
  family: "form",
  title: "Loft",
  about:
    "Spans a surface from outline to outline, of any counts of points; where each begins is matched so that nothing twists.",
  synonyms: ["span", "bridge", "skin between", "morph surface", "connect outlines", "blend", "hull of ship"],
  inputs: {
    outlines: shapes({ about: "Curves in the order in which they are joined, in one shape or several." }),
    points: integer({
      default: 0,
      min: 0,
      soft: [0, 128],
      about:
        "For each outline; 0 for as many as the one that has most. Their own points stay where there is room for them.",
    }),
    rows: integer({
      default: 8,
      min: 1,
      max: 1000,
      soft: [1, 32],
      about: "Rows of faces from one outline to the next.",
    }),
    through: choice(["in a curve", "straight"], { about: "How it goes from each outline to the next." }),
    round: toggle({ default: false, about: "From the last outline to the first again." }),
    caps: toggle({ default: true, about: "Closes the first and the last outline." }),
  },
  outputs: { shape: out.shape("The surface; laid out for pictures from outline to outline and around.") },
  summary: ({ rows, through }) => `${rows} rows, ${through}`,
  cost: ({ outlines, points: around, rows }) => {
    let [count, most] = [0, around];
    for (const { curves } of outlines) {
      if (!curves) continue;
      count += curves.curves.count;
      for (let k = 0; around === 0 && k < curves.curves.count; k++)
        most = Math.max(most, curves.curveStarts[k + 1] - curves.curveStarts[k]);
    }
    const points = count * most * rows;
    return { points, faces: points, milliseconds: points * 0.002 };
  },
  evaluate({ outlines, points, rows, through, round, caps }, context) {
    const curves = mergeCurves(outlines.flatMap((shape) => (shape.curves ? [shape.curves] : [])));
    const made = curves && lofted(curves, { points, rows, smooth: through === "in a curve", round, caps });
    if (!made) {
      context.warn(
        curves && curves.points.count > 0
          ? "Only one outline arrives; a surface is spanned between two or more. Link another one."
          : "No curves arrive, so there is nothing to span.",
        { input: "outlines" },
      );
      return { shape: EMPTY_SHAPE };
    }
    if (made.isMixed)
      context.warn("Some outlines are open and some closed; all are taken to be open.", {
        input: "outlines",
      });
    if (new Set(made.before).size > 1)
      context.note(`The outlines have ${made.before.join(", ")} points; each was given ${made.after}.`);
    return { shape: { mesh: made.mesh } };
  },
});
