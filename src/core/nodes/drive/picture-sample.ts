import {
  add,
  apply,
  applyAll,
  type ColorField,
  column,
  constant,
  constants,
  divide,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
} from "../../fields/expression";
import { OUTSIDE, type Picture } from "../../maths/picture";
import { LUMINANCE, PICTURE_LIES } from "../../maths/picture-in-space";
import { defineNode, NodeError } from "../define";
import { assetPicture, choice, field, length, out, toggle, vector } from "../ports";

/** A picture's place in the key of a step: the same object is the same picture. */
const numbers = new WeakMap<Picture, number>();
let nextNumber = 1;
function numberOf(picture: Picture): number {
  const known = numbers.get(picture) ?? nextNumber++;
  numbers.set(picture, known);
  return known;
}

const IN_SPACE = Object.keys(PICTURE_LIES) as (keyof typeof PICTURE_LIES)[];
const AROUND = "around the surface";
const LIES = [...IN_SPACE, AROUND] as const;

export const pictureSample = defineNode({
  type: "picture-sample",
  family: "drive",
  title: "Picture sample",
  about: "Brightness and colour of a picture laid into space, read where each element is.",
  synonyms: ["image", "texture", "photo", "bitmap", "map", "logo", "mask", "height map"],
  inputs: {
    file: assetPicture({ about: "One of the piece's pictures: PNG, JPEG, Radiance or OpenEXR." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is read; the element's position unless linked.",
      shownWhen: { input: "lies", is: IN_SPACE },
    }),
    lies: choice(LIES, {
      label: "laid",
      about:
        "How the picture is laid: flat through space, or around what the elements are of, by their attribute `uv`.",
    }),
    middle: vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      shownWhen: { input: "lies", is: IN_SPACE },
      about: "Where its middle is.",
    }),
    width: length({
      default: 4,
      min: 0,
      soft: [0.1, 20],
      shownWhen: { input: "lies", is: IN_SPACE },
      about: "How wide it is; its height follows.",
    }),
    outside: choice(OUTSIDE, {
      shownWhen: { input: "lies", is: IN_SPACE },
      about: "What is read beyond its edges.",
    }),
    smooth: toggle({ default: true, about: "Mix neighbouring pixels." }),
  },
  outputs: {
    value: out.number("Brightness, 0 to 1 in linear light, 0 where it is transparent."),
    color: out.color("Its colour."),
    alpha: out.number("How opaque it is, 0 to 1."),
  },
  summary: ({ file, width, lies }) =>
    !file ? "no picture yet" : lies === AROUND ? `${file}, around` : `${file}, ${width} units wide`,
  evaluate({ file, place, lies, middle, width, outside, smooth }, context) {
    if (!file) {
      context.warn("No picture is chosen yet. Choose one, or drop a PNG or JPEG on the studio.", {
        input: "file",
      });
      return { value: constant(0), color: constants([0, 0, 0, 1] as const), alpha: constant(0) };
    }
    if (width === 0 && lies !== AROUND) {
      throw new NodeError('"width" is 0, so there is no picture to read.', "width", {
        label: 'Set "width" to 4',
        input: "width",
        value: 4,
      });
    }
    const { picture } = file;
    const around = lies === AROUND;
    const at = around ? placeAround() : flatPlace(lies, picture, place, middle, width);
    const beyond = around ? "hold" : outside;
    const color = applyAll("picture", at, {
      key: `${numberOf(picture)}.${beyond}.${smooth}`,
      picture,
      outside: beyond,
      smooth,
    }) as unknown as ColorField;
    const bright = LUMINANCE.map((weight, c) => scaleBy(color[c], constant(weight))).reduce(add);
    return { value: scaleBy(bright, color[3]), color, alpha: color[3] };
  },
});

/**
 * What lies past one edge goes on at the other: triangles across the seam of a ball do, and shapes that are tiled. The edges
 * themselves stay where they are, for a sheet ends there.
 */
function placeAround(): Value[] {
  const none = constant(0);
  return [0, 1].map((axis) => {
    const at = column("uv", axis);
    const past = apply("minimum", [apply("floor", [subtract(constant(1), at)]), none]);
    const before = apply("minimum", [apply("floor", [at]), none]);
    return subtract(add(at, past), before);
  });
}

/** Where places lie on a picture that stands in space: 0 0 its top left. */
function flatPlace(
  lies: keyof typeof PICTURE_LIES,
  { width: across, height: down }: Picture,
  place: VectorField,
  middle: readonly number[],
  width: number,
): Value[] {
  const { right, up, upwards } = PICTURE_LIES[lies];
  const half = constant(0.5);
  const share = (axis: number, size: number): Value =>
    divide(subtract(place[axis], constant(middle[axis])), constant(size));
  // Rows run downwards.
  const fromTop = subtract(half, scaleBy(share(up, (width * down) / across), constant(upwards)));
  return [add(share(right, width), half), fromTop];
}
