/** Lines that show how far a falloff reaches: where its distance has one value. */
import { besides, normalise, plus, type Vec3 } from "@/core/maths/vector";
import type { Form } from "@/core/nodes/drive/falloff-forms";

export interface OutlineForm {
  readonly form: Form;
  readonly middle: Vec3;
  readonly half: Vec3;
  readonly facing: Vec3;
  readonly radius: number;
  /** 0 is endless. */
  readonly length: number;
  /** Degrees. */
  readonly opening: number;
}

/** Pieces of a circle. */
const AROUND = 48;
/** Half the side of a patch of a plane, half the length of an endless cylinder, the length of a cone: units. */
const SHOWN = 3;

/** Ends of segments, three numbers each. */
export function outlineOf(form: OutlineForm, distance: number): number[] {
  const { middle, half } = form;
  const axis = normalise(form.facing);
  const [u, v] = besides(axis);
  const at = (along: number, center: Vec3 = middle): Vec3 => plus(center, axis, along);
  switch (form.form) {
    case "ball":
      return [
        ...circle(middle, [1, 0, 0], [0, 1, 0], distance),
        ...circle(middle, [0, 1, 0], [0, 0, 1], distance),
        ...circle(middle, [1, 0, 0], [0, 0, 1], distance),
      ];
    case "box":
      return box(middle, half.map((h) => h + distance) as unknown as Vec3);
    case "plane": {
      const corners = [
        [1, 1],
        [1, -1],
        [-1, -1],
        [-1, 1],
      ].map(([a, b]) => plus(plus(at(distance), u, a * SHOWN), v, b * SHOWN));
      return corners.flatMap((corner, i) => [...corner, ...corners[(i + 1) % 4]]);
    }
    case "cylinder": {
      const [reach, high] = [form.radius + distance, form.length > 0 ? form.length / 2 + distance : SHOWN];
      return [
        ...circle(at(high), u, v, reach),
        ...circle(at(-high), u, v, reach),
        ...[u, v].flatMap((side) =>
          [1, -1].flatMap((sign) => [
            ...plus(at(high), side, sign * reach),
            ...plus(at(-high), side, sign * reach),
          ]),
        ),
      ];
    }
    case "ring":
      return [
        ...circle(middle, u, v, form.radius + distance),
        ...(form.radius > distance ? circle(middle, u, v, form.radius - distance) : []),
        ...[u, v].flatMap((side) =>
          [1, -1].flatMap((sign) => circle(plus(middle, side, sign * form.radius), side, axis, distance)),
        ),
      ];
    case "cone": {
      const slope = (form.opening * Math.PI) / 180;
      const wide = Math.tan(Math.min(slope, 1.5)) * SHOWN + distance;
      return [
        ...circle(at(SHOWN), u, v, wide),
        ...[u, v].flatMap((side) =>
          [1, -1].flatMap((sign) => [...middle, ...plus(at(SHOWN), side, sign * wide)]),
        ),
      ];
    }
  }
}

function circle(middle: Vec3, u: Vec3, v: Vec3, radius: number): number[] {
  const at = (i: number) => {
    const angle = (i / AROUND) * 2 * Math.PI;
    return plus(plus(middle, u, Math.cos(angle) * radius), v, Math.sin(angle) * radius);
  };
  return Array.from({ length: AROUND }, (_, i) => [...at(i), ...at(i + 1)]).flat();
}

function box(middle: Vec3, half: Vec3): number[] {
  const corner = (bits: number): Vec3 =>
    [0, 1, 2].map((a) => middle[a] + ((bits >> a) & 1 ? half[a] : -half[a])) as unknown as Vec3;
  return [0, 1, 2].flatMap((a) =>
    Array.from({ length: 8 }, (_, bits) => bits)
      .filter((bits) => !((bits >> a) & 1))
      .flatMap((bits) => [...corner(bits), ...corner(bits | (1 << a))]),
  );
}
