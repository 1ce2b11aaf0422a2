/** Rotations and matrices against three and gl-matrix, and the worked values of the check list. */
import fc from "fast-check";
import { mat4, quat } from "gl-matrix";
import { Euler, Matrix4, Quaternion as ThreeQuaternion, Vector3 } from "three";
import { interleave } from "../../src/core/kernels/placing";
import { multiplyMatrix } from "../../src/core/maths/matrix";
import {
  between,
  fromAxisAngle,
  fromBasis,
  fromEuler,
  multiply,
  pointing,
  rotate,
} from "../../src/core/maths/quaternion";
import { normalise, type Vec3 } from "../../src/core/maths/vector";

const angle = fc.double({ min: -7, max: 7, noNaN: true });
const coordinate = fc.double({ min: -10, max: 10, noNaN: true });
const size = fc.double({ min: 0.1, max: 5, noNaN: true });
const expectClose = (actual: ArrayLike<number>, expected: ArrayLike<number>, digits = 6) => {
  for (let i = 0; i < expected.length; i++) expect(actual[i]).toBeCloseTo(expected[i], digits);
};

describe("quaternions", () => {
  it("from Euler angles XYZ [ROT-09]", () => {
    expectClose(
      fromEuler(0.1, 0.2, 0.3, [0, 0, 0, 1]),
      [0.06407134771, 0.09115754934, 0.153439302, 0.9818561729],
      9,
    );
  });

  it("from Euler angles as three gives them", () => {
    fc.assert(
      fc.property(angle, angle, angle, (x, y, z) => {
        expectClose(
          fromEuler(x, y, z, [0, 0, 0, 1]),
          new ThreeQuaternion().setFromEuler(new Euler(x, y, z, "XYZ")).toArray(),
        );
      }),
    );
  });

  it("multiply by Hamilton's rule [ROT-05] and as gl-matrix does", () => {
    expectClose(multiply([1, 0, 0, 0], [0, 1, 0, 0], [0, 0, 0, 1]), [0, 0, 1, 0]);
    const ninety = Math.PI / 2;
    const both = multiply(fromAxisAngle([1, 0, 0], ninety), fromAxisAngle([0, 1, 0], ninety), [0, 0, 0, 1]);
    expectClose(rotate(both, [0, 0, 1]), [1, 0, 0]);
    const part = fc.tuple(angle, angle, angle);
    fc.assert(
      fc.property(part, part, (a, b) => {
        const [p, q] = [fromEuler(...a, [0, 0, 0, 1]), fromEuler(...b, [0, 0, 0, 1])];
        expectClose(multiply(p, q, [0, 0, 0, 1]), quat.multiply(quat.create(), [...p], [...q]), 5);
      }),
    );
  });

  it("rotate vectors by Rodrigues' formula [ROT-07]", () => {
    const q = fromAxisAngle(normalise([1, 2, 3]), 1);
    expectClose(rotate(q, [1, 0, 0]), [0.5731378554, 0.7403488405, -0.3512785121], 8);
    expectClose(rotate(q, [0, 1, 0]), [-0.6090066421, 0.6716445042, 0.4219058779], 8);
  });

  it("come back from a basis, half turns included [ROT-08]", () => {
    for (const q of [
      [1, 0, 0, 0],
      [0, 1, 0, 0],
      [0, 0, 1, 0],
      fromAxisAngle(normalise([1, 2, 3]), 1),
    ] as const) {
      expectClose(fromBasis(rotate(q, [1, 0, 0]), rotate(q, [0, 1, 0]), rotate(q, [0, 0, 1])), q, 6);
    }
  });

  it("turn one direction to another the short way [ROT-13]", () => {
    expectClose(between([1, 0, 0], [0, 1, 0]), [0, 0, Math.SQRT1_2, Math.SQRT1_2]);
    expectClose(
      between(normalise([1, 2, 3]), normalise([-2, 1, 0.5])),
      [-0.1521805435, -0.4945867663, 0.3804513587, 0.7664735981],
    );
    expectClose(rotate(between([1, 0, 0], [-1, 0, 0]), [1, 0, 0]), [-1, 0, 0]);
  });

  it("point any own axis anywhere, keeping the second axis near up", () => {
    const direction = fc.tuple(coordinate, coordinate, coordinate).filter((d) => Math.hypot(...d) > 0.1);
    fc.assert(
      fc.property(direction, fc.constantFrom("x", "y", "z"), (d, axis) => {
        const own: Vec3 = axis === "x" ? [1, 0, 0] : axis === "y" ? [0, 1, 0] : [0, 0, 1];
        const q = pointing(axis as "x", d, [0, 1, 0]);
        expect(Math.hypot(...q)).toBeCloseTo(1, 6);
        expectClose(rotate(q, own), normalise(d), 5);
      }),
    );
  });
});

describe("matrices", () => {
  it("compose T·R·S [ROT-11] and as three does", () => {
    const compose = (...parts: readonly number[]) =>
      interleave("composeMatrices", parts, 16, new Float32Array(16));
    const q = fromAxisAngle(normalise([1, 2, 3]), 1);
    const m = compose(1, 2, 3, ...q, 2, 3, 4);
    const point = new Vector3(1, 1, 1).applyMatrix4(new Matrix4().fromArray(m));
    expectClose(point.toArray(), [2.512423023, 5.384114062, 6.906449618], 5);
    fc.assert(
      fc.property(
        fc.tuple(coordinate, coordinate, coordinate),
        fc.tuple(angle, angle, angle),
        fc.tuple(size, size, size),
        (t, e, s) => {
          const r = fromEuler(...e, [0, 0, 0, 1]);
          const expected = new Matrix4().compose(
            new Vector3(...t),
            new ThreeQuaternion(...r),
            new Vector3(...s),
          );
          expectClose(compose(...t, ...r, ...s), expected.elements, 4);
        },
      ),
    );
  });

  it("multiply as gl-matrix does", () => {
    fc.assert(
      fc.property(fc.array(coordinate, { minLength: 32, maxLength: 32 }), (n) => {
        const [a, b] = [Float32Array.from(n.slice(0, 16)), Float32Array.from(n.slice(16))];
        const out = new Float32Array(16);
        multiplyMatrix(out, 0, a, 0, b, 0);
        expectClose(out, mat4.multiply(mat4.create(), a, b), 3);
      }),
    );
  });
});
