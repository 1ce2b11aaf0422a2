import { add, type ColorField, clamp, constant, type Value } from "../../fields/expression";
import { LOOK_NAMES, type LookName, SHADINGS, USUAL_LOOK } from "../../geometry/surface-look";
import { parseHex, type Rgba } from "../../maths/color";
import { defineNode } from "../define";
import { elementsOf, onElements, runColumn, withElements } from "../elements";
import { choice, field, out, shape } from "../ports";
import { READY_MATERIALS, READY_NAMES, type ReadyMaterial } from "./ready-materials";

const AS_SET = "as set here";
const KINDS = [AS_SET, ...READY_NAMES] as const;

/** What a material says nothing of: pictures and lines around what it is given to stay there. */
const APART = ["textures", "outline", "ink"] as const satisfies readonly LookName[];
type Said = Exclude<LookName, (typeof APART)[number]>;
const SAID = LOOK_NAMES.filter((name): name is Said => !(APART as readonly string[]).includes(name));

const OWN = { input: "kind", is: [AS_SET] } as const;
const READY = { input: "kind", is: READY_NAMES } as const;

/** A part of what a surface is made of, from none to all of it. */
const part = (about: string, usual = 0) =>
  field.number({ default: usual, min: 0, max: 1, soft: [0, 1], shownWhen: OWN, about });

export const material = defineNode({
  type: "material",
  family: "dress",
  title: "Material",
  about:
    "What clones and surfaces are made of: metal, glass, wax, glow; every part of it by a field if you like.",
  synonyms: [
    "surface",
    "shader",
    "roughness",
    "metal",
    "glass",
    "shiny",
    "matte",
    "glow",
    "emission",
    "gloss",
    "reflective",
    "transparent",
    "translucent",
    "bumps",
    "brushed",
    "anisotropy",
    "index of refraction",
    "additive",
    "volume",
    "specular",
  ],
  inputs: {
    shape: shape({ about: "Clones, sites or a mesh." }),
    on: onElements(["sites", "points"]),
    kind: choice(KINDS, { about: "One of the Seed Library's, or as you set it." }),
    paint: choice(["with its colour", "as it is coloured"], {
      about: "Whether it brings its colour, or leaves the one that is there.",
    }),
    color: field.color({
      default: "#e6e0cf",
      shownWhen: OWN,
      about: "Its colour; of metals what they reflect.",
    }),
    roughness: part("From polished to matt.", USUAL_LOOK.roughness),
    metalness: part("Whether it reflects as metals do."),
    emission: field.number({
      default: 0,
      min: 0,
      soft: [0, 4],
      unit: "×",
      shownWhen: OWN,
      about: "How much of its colour it gives off by itself.",
    }),
    clearcoat: part("A layer of varnish or water over it."),
    clearcoatRoughness: part("How matt that layer is.", USUAL_LOOK.clearcoatRoughness),
    transmission: part("How much light goes through it, as through glass."),
    refraction: field.number({
      default: USUAL_LOOK.refraction,
      min: 1,
      max: 3,
      soft: [1, 2.5],
      shownWhen: OWN,
      about: "Index of refraction: 1.33 water, 1.5 glass, 2.42 diamond; the higher, the more it mirrors.",
    }),
    thickness: field.number({
      default: USUAL_LOOK.thickness,
      min: 0,
      soft: [0, 2],
      unit: "units",
      shownWhen: OWN,
      about: "How much of it light goes through where it lets light through: the more, the more it bends.",
    }),
    attenuation: field.number({
      default: USUAL_LOOK.attenuation,
      min: 0,
      soft: [0, 4],
      unit: "units",
      shownWhen: OWN,
      about: "After which way through it light has its colour, as in honey; 0 for never.",
    }),
    specular: part("How strongly it mirrors what is around, where it is no metal.", USUAL_LOOK.specular),
    sheen: part("A soft edge, as velvet and dust have it."),
    sheenRoughness: part("How wide that edge is.", USUAL_LOOK.sheenRoughness),
    iridescence: part("Colours that change with the angle, as on a beetle."),
    anisotropy: part("Brushed in rings around its upright axis: its highlights are drawn out across them."),
    bump: field.number({
      default: USUAL_LOOK.bump,
      min: 0,
      soft: [0, 0.2],
      shownWhen: OWN,
      about:
        "How high the bumps of a noise seem to be, in units of the shape; files of meshes do not have them.",
    }),
    bumpSize: field.number({
      default: USUAL_LOOK.bumpSize,
      min: 0.0001,
      soft: [0.02, 1],
      shownWhen: OWN,
      about: "How wide those bumps are, in units of the shape.",
    }),
    shading: choice(SHADINGS, {
      shownWhen: OWN,
      about:
        "Lit as it is; its colour alone; light and shade in three steps; or light that is added to what is behind it.",
    }),
    rougher: field.number({
      default: 0,
      soft: [-1, 1],
      shownWhen: READY,
      about: "Added to its roughness: below 0 more polished.",
    }),
    brighter: field.number({
      default: 0,
      soft: [0, 4],
      unit: "×",
      shownWhen: READY,
      about: "Added to what it gives off by itself.",
    }),
  },
  outputs: { shape: out.shape("The same, made of that.") },
  summary: ({ kind, roughness }) => (kind === AS_SET ? `roughness ${roughness}` : String(kind)),
  overrides: () => SAID,
  evaluate(inputs, context) {
    const { shape, on, kind, paint } = inputs;
    const elements = elementsOf(shape, context, on);
    if (!elements) return { shape };
    if (elements.on === "curve points") {
      context.warn("Lines are drawn without a material. Put a tube or a ribbon around them first.", {
        input: "shape",
      });
      return { shape };
    }
    const ready: ReadyMaterial | null = kind === AS_SET ? null : READY_MATERIALS[kind];
    const look = ready ? lookOf(ready, inputs) : ownLook(inputs);
    const columns = Object.fromEntries(
      SAID.map((name) => [name, runColumn("number", [look[name]], elements, context)]),
    );
    const color: ColorField = ready ? colorOf(ready.color) : inputs.color;
    return {
      shape: withElements(shape, elements, {
        ...columns,
        ...(paint === "with its colour" ? { color: runColumn("color", color, elements, context) } : {}),
      }),
    };
  },
});

type Look = Readonly<Record<Said, Value>>;

const ownLook = ({
  shading,
  ...look
}: Readonly<Record<Exclude<Said, "shading">, Value>> & {
  readonly shading: (typeof SHADINGS)[number];
}): Look => ({ ...look, shading: constant(SHADINGS.indexOf(shading)) });

function lookOf(
  { look }: ReadyMaterial,
  { rougher, brighter }: { readonly rougher: Value; readonly brighter: Value },
): Look {
  const made = Object.fromEntries(
    SAID.map((name) => [name, constant(look[name] ?? USUAL_LOOK[name])]),
  ) as Record<Said, Value>;
  return {
    ...made,
    roughness: clamp(add(made.roughness, rougher), constant(0), constant(1)),
    emission: add(made.emission, brighter),
  };
}

const colorOf = (hex: string): ColorField => (parseHex(hex) as Rgba).map(constant) as unknown as ColorField;
