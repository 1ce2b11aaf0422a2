import { column, constant } from "../../../fields/expression";
import { gradientColor } from "../../../fields/gradient-color";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { levelName } from "../../../geometry/volume";
import { rangeOf } from "../../../kernels/statistics";
import { SLICE_AXES, sliceOf } from "../../../volumes/slice";
import { defineNode } from "../../define";
import { elementsOf, runColumn, withElements } from "../../elements";
import { choice, gradient, number, out, shape, text, toggle } from "../../ports";
import { hasAttribute, volumeOf } from "./input-volume";

export const volumeSlice = defineNode({
  type: "volume-slice",
  family: "form",
  title: "Volume slice",
  about: "A sheet through a volume, coloured by what its voxels say there.",
  synonyms: ["cross section", "cut", "inspect volume", "heat map", "density picture", "layer"],
  inputs: {
    shape: shape({ about: "A volume." }),
    axis: choice(SLICE_AXES, { default: "z", about: "Which way the sheet faces." }),
    along: number({
      default: 0.5,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "Where it lies, from one side to the other.",
    }),
    attribute: text({
      default: "",
      about: "Another attribute of the voxels than their distance or density, as `velocity`: its length.",
    }),
    fits: toggle({
      default: true,
      label: "its own range",
      about: "The colours go from the least value on the sheet to the greatest.",
    }),
    low: number({
      default: 0,
      soft: [-1, 1],
      shownWhen: { input: "fits", is: [false] },
      about: "Gets the first colour.",
    }),
    high: number({
      default: 1,
      soft: [-1, 1],
      shownWhen: { input: "fits", is: [false] },
      about: "Gets the last colour.",
    }),
    colors: gradient({
      default: {
        space: "oklab",
        stops: [
          { at: 0, color: "#f0b03a" },
          { at: 0.45, color: "#c8543c" },
          { at: 0.75, color: "#3b2f55" },
          { at: 1, color: "#101814" },
        ],
      },
      about: "The colours between low and high.",
    }),
  },
  outputs: { shape: out.shape("The sheet, with `value` at its points.") },
  summary: ({ axis, along }) => `across ${axis}, at ${Math.round(Number(along) * 100)} %`,
  evaluate({ shape, axis, along, attribute, fits, low, high, colors }, context) {
    const volume = volumeOf(shape, "cut through", context);
    if (!volume) return { shape: EMPTY_SHAPE };
    const name = attribute || levelName(volume);
    if (!hasAttribute(volume, name, context)) return { shape: EMPTY_SHAPE };
    const mesh = sliceOf(volume, axis, along, name);
    if (!mesh) return { shape: EMPTY_SHAPE };
    const found = rangeOf(mesh.points.columns.value.lanes[0] as Float32Array) ?? { min: 0, max: 1 };
    const [from, to] = fits ? [found.min, found.max] : [low, high];
    context.note(`From ${found.min.toPrecision(3)} to ${found.max.toPrecision(3)} here.`);
    const last = to === from ? from + 1 : to;
    const color = gradientColor(colors, column("value", 0, 0), constant(from), constant(last));
    const sheet = { mesh };
    const elements = elementsOf(sheet, context);
    if (!elements) return { shape: sheet };
    return { shape: withElements(sheet, elements, { color: runColumn("color", color, elements, context) }) };
  },
});
