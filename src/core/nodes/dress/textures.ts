import { MOST_ACROSS } from "../../draw/texture-sheet";
import { constant } from "../../fields/expression";
import type { PictureAsset } from "../../formats/read/asset";
import {
  TEXTURE_COVERS,
  TEXTURE_LIES,
  TEXTURE_USES,
  type TextureSet,
  type TextureSettings,
  textureSet,
} from "../../geometry/textures";
import { THICKNESS } from "../../geometry/thickness";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { assetPicture, choice, length, number, out, shape } from "../ports";

const WRAPPED = { input: "lies", is: ["from six sides"] } as const;
const BY_UV = { input: "lies", is: ["by UV"] } as const;

type Pictures = Readonly<Record<(typeof TEXTURE_USES)[number], PictureAsset | null>>;

/** The pictures that a Textures node is given, null without any. */
export function texturesOf(inputs: Readonly<Record<string, unknown>>): TextureSet | null {
  const given = inputs as unknown as Pictures & TextureSettings;
  const pictures = Object.fromEntries(
    TEXTURE_USES.flatMap((use) => (given[use] ? [[use, given[use].picture]] : [])),
  );
  return textureSet(pictures, given);
}

export const textures = defineNode({
  type: "textures",
  family: "dress",
  title: "Textures",
  about: "Pictures on surfaces: their colour, how rough, metallic and bright they are, and bumps.",
  synonyms: [
    "texture",
    "image",
    "picture on a surface",
    "map",
    "uv map",
    "triplanar",
    "box projection",
    "bump map",
    "roughness map",
    "decal",
    "label",
    "sprite",
    "cut out",
  ],
  inputs: {
    shape: shape({ about: "Clones, a mesh, or bare sites, whose dots show the colour." }),
    on: onElements(["sites", "points"]),
    color: assetPicture({ label: "colour", about: "What it shows." }),
    roughness: assetPicture({ about: "Times how rough it is: black is polished." }),
    metalness: assetPicture({ about: "Times how much of a metal it is." }),
    emission: assetPicture({ about: "Times what it gives off by itself." }),
    bump: assetPicture({ label: "bumps", about: "How high it seems to be: white is highest." }),
    lies: choice(TEXTURE_LIES, {
      label: "laid",
      about: "Where the mesh says that it lies on pictures, or on planes from all six sides of it.",
    }),
    times: number({
      default: 1,
      min: 0.001,
      soft: [1, 20],
      unit: "×",
      shownWhen: BY_UV,
      about: "How often the picture lies there, along both of its sides.",
    }),
    size: length({
      default: 1,
      min: 0.001,
      soft: [0.1, 4],
      shownWhen: WRAPPED,
      about: "How wide the picture is, in units of the mesh; its height follows. It repeats.",
    }),
    covers: choice(TEXTURE_COVERS, {
      label: "clear parts",
      about:
        "The colour below shows through where the picture is clear, or is multiplied by it; or nothing is there where it is clear.",
    }),
    height: length({
      default: 0.05,
      soft: [0, 0.5],
      about: "How high white seems to be over black, in units of the mesh; below 0 it is deep.",
    }),
  },
  outputs: { shape: out.shape("The same, with the pictures on it.") },
  summary: ({ lies, color }) => (color ? `${color}, ${lies}` : String(lies)),
  overrides: () => ["textures"],
  evaluate(inputs, context) {
    const { shape, on, lies } = inputs;
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    const set = texturesOf(inputs);
    if (!set) {
      context.warn("No picture is chosen yet. Choose one, or drop a PNG or JPEG on the studio.", {
        input: "color",
      });
      return { shape };
    }
    if (elements.on === "curve points") {
      context.warn("Lines take no pictures. Put a tube or a ribbon around them first.", { input: "shape" });
      return { shape };
    }
    if (elements.on === "points" && lies === "by UV" && !shape.mesh?.corners.columns.uv)
      context.warn(
        'The mesh does not say where it lies on pictures. Use one of the "UV" nodes first, or lay them from six sides.',
        { input: "lies" },
      );
    if (elements.on === "sites" && !shape.sources?.length && !elements.domain.columns[THICKNESS])
      context.note("Dots are a few pixels across. Line thickness says how many units a picture is.");
    for (const picture of Object.values(set.pictures)) {
      const across = Math.max(picture.width, picture.height);
      if (across > MOST_ACROSS)
        context.note(`A picture has ${across} pixels on its longer side; ${MOST_ACROSS} are shown.`);
    }
    return {
      shape: withElements(shape, elements, {
        textures: runColumn("number", [constant(set.number)], elements, context),
      }),
    };
  },
});
