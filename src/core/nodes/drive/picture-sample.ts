import {
  add,
  applyAll,
  type ColorField,
  constant,
  constants,
  divide,
  scaleBy,
  subtract,
  type Value,
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

export const pictureSample = defineNode({
  type: "picture-sample",
  family: "drive",
  title: "Picture sample",
  about: "Brightness and colour of a picture laid into space, read where each element is.",
  synonyms: ["image", "texture", "photo", "bitmap", "map", "logo", "mask", "height map"],
  inputs: {
    file: assetPicture({ about: "One of the piece's pictures: PNG or JPEG." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is read; the element's position unless linked.",
    }),
    lies: choice(Object.keys(PICTURE_LIES) as (keyof typeof PICTURE_LIES)[], {
      about: "How the picture is laid.",
    }),
    middle: vector({ default: [0, 0, 0], soft: [-10, 10], about: "Where its middle is." }),
    width: length({ default: 4, min: 0, soft: [0.1, 20], about: "How wide it is; its height follows." }),
    outside: choice(OUTSIDE, { about: "What is read beyond its edges." }),
    smooth: toggle({ default: true, about: "Mix neighbouring pixels." }),
  },
  outputs: {
    value: out.number("Brightness, 0 to 1 in linear light, 0 where it is transparent."),
    color: out.color("Its colour."),
    alpha: out.number("How opaque it is, 0 to 1."),
  },
  summary: ({ file, width }) => (file ? `${file}, ${width} units wide` : "no picture yet"),
  evaluate({ file, place, lies, middle, width, outside, smooth }, context) {
    if (!file) {
      context.warn("No picture is chosen yet. Choose one, or drop a PNG or JPEG on the studio.", {
        input: "file",
      });
      return { value: constant(0), color: constants([0, 0, 0, 1] as const), alpha: constant(0) };
    }
    if (width === 0) {
      throw new NodeError('"width" is 0, so there is no picture to read.', "width", {
        label: 'Set "width" to 4',
        input: "width",
        value: 4,
      });
    }
    const { picture } = file;
    const { right, up, upwards } = PICTURE_LIES[lies];
    const height = (width * picture.height) / picture.width;
    const half = constant(0.5);
    const across = (axis: number, size: number): Value =>
      divide(subtract(place[axis], constant(middle[axis])), constant(size));
    const u = add(across(right, width), half);
    // Rows run downwards.
    const v = subtract(half, scaleBy(across(up, height), constant(upwards)));
    const color = applyAll("picture", [u, v], {
      key: `${numberOf(picture)}.${outside}.${smooth}`,
      picture,
      outside,
      smooth,
    }) as unknown as ColorField;
    const bright = LUMINANCE.map((weight, c) => scaleBy(color[c], constant(weight))).reduce(add);
    return { value: scaleBy(bright, color[3]), color, alpha: color[3] };
  },
});
