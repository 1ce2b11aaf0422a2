/** Handles on the stage: outlines against the falloff itself, pointer rays against three. */
import fc from "fast-check";
import { Plane, Ray, Vector3 } from "three";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeSites } from "../../src/core/geometry/shape";
import type { Vec3 } from "../../src/core/maths/vector";
import { FORMS } from "../../src/core/nodes/drive/falloff-forms";
import { type OutlineForm, outlineOf } from "../../src/studio/stage/handle-outline";
import {
  draggedTo,
  handlesOf,
  movedPlace,
  nearestAlong,
  spotPlace,
  steppedBy,
} from "../../src/studio/stage/handle-spots";
import { createStudioStore } from "../../src/studio/state/store";
import { graphOf, runNode } from "../run-node";

const FORM: Omit<OutlineForm, "form"> = {
  middle: [0.5, 1, -2],
  half: [1, 0.5, 2],
  facing: [1, 2, 0.5],
  radius: 1.5,
  length: 0,
  opening: 25,
};

describe("outlines", () => {
  it.each(FORMS.filter((form) => form !== "cone" && form !== "box"))(
    "of a %s lie where its distance is that",
    (form) => {
      const lines = outlineOf({ ...FORM, form }, 0.7);
      const count = lines.length / 3;
      const sites = makeSites(count, ({ position }) => {
        for (let i = 0; i < count; i++) for (let a = 0; a < 3; a++) position[a][i] = lines[i * 3 + a];
      });
      const { distance } = runNode("falloff", { ...FORM, form });
      const [away] = runValues([distance as Value], sites).lanes;
      expect(count).toBeGreaterThan(7);
      for (const d of away) expect(d).toBeCloseTo(0.7, 4);
    },
  );

  it("of a box are its twelve edges, moved out along each axis", () => {
    const lines = outlineOf({ ...FORM, form: "box" }, 0.5);
    expect(lines).toHaveLength(12 * 6);
    const extent = (a: number) => {
      const values = lines.filter((_, i) => i % 3 === a);
      return Math.max(...values) - Math.min(...values);
    };
    expect([0, 1, 2].map(extent)).toEqual([3, 2, 5]);
  });
});

const part = fc.double({ min: -5, max: 5, noNaN: true });
const vec = fc.tuple(part, part, part) as fc.Arbitrary<Vec3>;

describe("what the pointer comes to", () => {
  it("on a line is the point that is nearest to the ray, as searching along it with three finds", () => {
    fc.assert(
      fc.property(vec, vec, vec, vec, (from, to, origin, aim) => {
        const along = new Vector3(...to).normalize();
        const direction = new Vector3(...aim).sub(new Vector3(...origin)).normalize();
        fc.pre(along.length() > 0.5 && direction.length() > 0.5 && Math.abs(along.dot(direction)) < 0.95);
        const ray = { origin, direction: direction.toArray() };
        const t = nearestAlong(from, along.toArray(), ray);
        // The whole line, both ways: three's Ray begins at its origin, so distances are taken from the line itself.
        const gap = (s: number) => {
          const p = new Vector3(...from).addScaledVector(along, s).sub(new Vector3(...origin));
          return p.addScaledVector(direction, -p.dot(direction)).length();
        };
        for (const step of [0.01, 0.5]) {
          expect(gap(t)).toBeLessThanOrEqual(gap(t + step) + 1e-9);
          expect(gap(t)).toBeLessThanOrEqual(gap(t - step) + 1e-9);
        }
      }),
    );
  });

  it("for a place is where three's Ray meets its plane: the ground from above, else the one that faces the camera", () => {
    const place: Vec3 = [1, 2, 3];
    const origin = new Vector3(6, 9, 8);
    const direction = new Vector3(0.5, 1, 2.4).sub(origin).normalize();
    const ray = { origin: origin.toArray(), direction: direction.toArray() };
    const meets = (normal: Vector3) =>
      new Ray(origin, direction)
        .intersectPlane(
          new Plane().setFromNormalAndCoplanarPoint(normal, new Vector3(...place)),
          new Vector3(),
        )
        ?.toArray()
        .map((v) => expect.closeTo(v, 6));
    const steep: Vec3 = [0.4, 0.8, 0.45];
    const level = new Vector3(0.7, 0.1, 0.7).normalize();
    expect(movedPlace(place, ray, steep, false)).toEqual(meets(new Vector3(0, 1, 0)));
    expect(movedPlace(place, ray, level.toArray(), false)).toEqual(meets(level));
    const upright = movedPlace(place, ray, steep, true);
    expect([upright[0], upright[2]]).toEqual([1, 3]);
    expect(upright[1]).not.toBe(2);
  });
});

describe("handles of the chosen node", () => {
  const stateOf = (set: object, links: string[] = []) => {
    const store = createStudioStore(
      "p",
      graphOf({ near: { type: "falloff", set: set as never }, where: { type: "join-vector" } }, links),
    );
    store.getState().select(["near"]);
    return store.getState();
  };

  it("are a place and distances from it, with the lines that they reach", () => {
    const { spots, lines } = handlesOf(stateOf({ middle: [1, 2, 3], inner: 0.5, outer: 2 }), 0);
    expect(spots.map(({ input, kind, value }) => [input, kind, value])).toEqual([
      ["middle", "place", 0],
      ["inner", "distance", 0.5],
      ["outer", "distance", 2],
    ]);
    expect(new Vector3(...spotPlace(spots[2])).distanceTo(new Vector3(1, 2, 3))).toBeCloseTo(2, 9);
    expect(lines.length).toBeGreaterThan(100);
  });

  it("turn the way a form looks: the seed is put where the pointer is, and the direction is the way to it", () => {
    const { spots } = handlesOf(stateOf({ form: "plane", middle: [1, 2, 3], facing: [0, 2, 0] }), 0);
    const turn = spots.find(({ kind }) => kind === "direction");
    if (!turn) throw new Error("There is no handle that turns.");
    expect([turn.input, ...spotPlace(turn)]).toEqual(["facing", 1, 3.5, 3]);
    // Seen from straight above, the pointer over a place 1.5 to the side of the seed: half-way between up and +x.
    const ray = { origin: [2.5, 50, 3] as Vec3, direction: [0, -1, 0] as Vec3 };
    const way = draggedTo(turn, ray, [0, 1, 0], false) as Vec3;
    [Math.SQRT1_2, Math.SQRT1_2, 0].forEach((v, a) => {
      expect(way[a]).toBeCloseTo(v, 9);
    });
    const stepped = steppedBy(turn, [0, 0, 0.1]) as Vec3;
    expect(Math.hypot(...stepped)).toBeCloseTo(1, 9);
    expect(stepped[2]).toBeCloseTo(0.1 / Math.hypot(1.5, 0.1), 9);
    expect(steppedBy(spots[0], [0, 0.1, 0])).toEqual([1, 2.1, 3]);
  });

  it("are none where a link brings the place, and none of several nodes", () => {
    expect(handlesOf(stateOf({}, ["where.vector>near.middle"]), 0)).toEqual({ spots: [], lines: [] });
    const state = stateOf({});
    expect(handlesOf({ ...state, selected: new Set(["near", "where"]) }, 0).spots).toEqual([]);
    expect(handlesOf({ ...state, selected: new Set() }, 0).spots).toEqual([]);
  });
});
