/** Masks that are painted: the brush's form, covering and taking away, mirrors, bad ones. */
import { brushAt, type Dab, maskFault } from "../../src/core/maths/painted-mask";
import type { Setting } from "../../src/core/nodes/ports";
import { formed, meshIn, pointsIn } from "../formed";
import type { NodeSpec } from "../run-node";

const SHEET: NodeSpec = { type: "plane", set: { width: 4, depth: 4, across: 40, deep: 40 } };
const painted = (dabs: readonly Dab[], set: Record<string, Setting> = {}): [number[], number[][]] => {
  const mask = { dabs } as unknown as Setting;
  const mesh = meshIn(
    formed({ sheet: SHEET, it: { type: "painted-mask", set: { mask, ...set } } }, ["sheet.shape>it.shape"]),
  );
  return [Array.from(mesh.points.columns.mask.lanes[0]), pointsIn(mesh)];
};
const dab = (at: Dab["at"], radius: number, amount: number): Dab => ({ at, radius, amount });

it("a touch is strongest in its middle and nothing at its edge, as the brush says", () => {
  for (const brush of ["soft", "even", "hard"] as const) {
    const [mask, places] = painted([dab([0, 0, 0], 1.5, 0.8)], { brush });
    for (const [p, [x, , z]] of places.entries())
      expect(mask[p]).toBeCloseTo(0.8 * brushAt(brush, Math.hypot(x, z) / 1.5), 5);
  }
  // The smooth step 3t² − 2t³ (GLSL 4.60 § 8.3).
  expect([brushAt("soft", 0), brushAt("soft", 0.5), brushAt("soft", 1)]).toEqual([1, 0.5, 0]);
});

it("covers up to 1, and what is taken away afterwards is gone", () => {
  const over = [dab([0, 0, 0], 1, 0.7), dab([0, 0, 0], 1, 0.7)];
  const [twice, places] = painted(over, { brush: "hard" });
  const middle = places.findIndex(([x, , z]) => x === 0 && z === 0);
  expect(twice[middle]).toBe(1);
  const [less] = painted([...over, dab([0, 0, 0], 0.5, -0.4)], { brush: "hard" });
  expect(less[middle]).toBeCloseTo(0.6, 6);
  const [before] = painted([dab([0, 0, 0], 0.5, -0.4), ...over], { brush: "hard" });
  expect(before[middle]).toBe(1);
});

it("paints the mirror image as well", () => {
  const [mask, places] = painted([dab([1, 0, 0.5], 0.4, 1)], { mirror: "x" });
  const at = (x: number, z: number) =>
    mask[places.findIndex((p) => Math.abs(p[0] - x) < 1e-6 && Math.abs(p[2] - z) < 1e-6)];
  expect([at(1, 0.5), at(-1, 0.5), at(-1, -0.5)]).toEqual([1, 1, 0]);
});

it("says what is wrong with a stored one", () => {
  expect(maskFault({ dabs: [dab([0, 0, 0], 1, 1), { at: [0, 0], radius: 1, amount: 1 }] })).toMatch(
    /^touch 2 needs/,
  );
  expect(maskFault({ dabs: [dab([0, 0, 0], 0, 1)] })).toMatch(/^touch 1/);
  expect(maskFault(null)).toBe("must be a painted mask");
});
