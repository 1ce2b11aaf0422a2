import { placesOf } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import { blackBody } from "../../maths/kelvin";
import type { Vec3 } from "../../maths/vector";
import type { Parts } from "../../values/parts";
import { defineNode, type NodeContext } from "../define";
import { angle, choice, color, length, number, out, shape, toggle, vector } from "../ports";
import { gatherGlow } from "./glow";

export const LIGHT_KINDS = ["sun", "lamp", "spot"] as const;
export type LightKind = (typeof LIGHT_KINDS)[number];

/** One light, as the stage reads it. */
export interface LightSettings {
  readonly kind: LightKind;
  readonly place: Vec3;
  readonly target: Vec3;
  /** Linear, times its power. */
  readonly color: Vec3;
  /** Units across. */
  readonly size: number;
  /** Radians from the middle of a spot to its edge, and which part of that fades. */
  readonly spread: number;
  readonly edge: number;
  readonly shadow: boolean;
}

/** Lights that the stage has at most, of all nodes: each costs every picture. */
export const MOST_LIGHTS = 24;

/** What a lamp or spot gives at one unit to give there what a sun of its power gives (candela to lux). */
export const CANDELAS = 12;

const AT = ["one at each place", "as what glows there"] as const;

export const light = defineNode({
  type: "light",
  family: "dress",
  title: "Light",
  about: "A sun, a lamp or a spot: link it to the Stage. On sites it is one light each.",
  synonyms: [
    "lamp",
    "sun",
    "spot",
    "point light",
    "key light",
    "rim light",
    "shadow",
    "kelvin",
    "warm light",
    "illuminate",
  ],
  inputs: {
    kind: choice(LIGHT_KINDS, { default: "spot", about: "From far away, all around, or as a cone." }),
    place: vector({
      default: [3, 5, 3],
      soft: [-10, 10],
      handle: "place",
      about: "Where it is; a sun shines from there.",
    }),
    target: vector({
      default: [0, 0, 0],
      soft: [-10, 10],
      handle: "place",
      shownWhen: { input: "kind", is: ["sun", "spot"] },
      about: "Where it shines to.",
    }),
    color: color({ default: "#ffffff", about: "Its colour." }),
    warmth: number({
      default: 0,
      min: 0,
      max: 25_000,
      soft: [1800, 12_000],
      unit: "K",
      about:
        "A temperature in place of the colour: candles 1,900, bulbs 2,700, noon 5,500, shade 8,000; 0 for the colour.",
    }),
    power: number({ default: 3, min: 0, soft: [0, 20], unit: "×", about: "How bright it is." }),
    size: length({
      default: 0.3,
      min: 0,
      soft: [0, 3],
      about: "How wide it is: shadows of wide ones are soft.",
    }),
    spread: angle({
      default: 35,
      min: 1,
      max: 85,
      soft: [5, 80],
      shownWhen: { input: "kind", is: ["spot"] },
      about: "From the middle of its cone to the edge.",
    }),
    edge: number({
      default: 0.5,
      min: 0,
      max: 1,
      soft: [0, 1],
      shownWhen: { input: "kind", is: ["spot"] },
      about: "Which part of the cone fades out.",
    }),
    shadow: toggle({ default: true, about: "Whether things cast shadows in it." }),
    on: shape({
      about: "Clones or sites: a light at each, in its colour, up to the most that the stage has.",
    }),
    at: choice(AT, {
      about:
        "Of clones whose material glows, what they give off is gathered into 16 lamps that stand for them; nothing is in their way.",
    }),
  },
  outputs: { light: out.light("For the Stage.") },
  summary: ({ kind, power, warmth }) => `${kind}, ${power} ×${Number(warmth) > 0 ? `, ${warmth} K` : ""}`,
  evaluate(inputs, context) {
    const { kind, place, target, size, spread, edge, shadow } = inputs;
    const tint = colorOf(inputs);
    const one: LightSettings = { kind, place, target, color: tint, size, spread, edge, shadow };
    const lights = !placesOf(inputs.on)
      ? [one]
      : inputs.at === "as what glows there"
        ? ofGlow(one, inputs.on, context)
        : onSites(one, inputs.on, context);
    return { light: { what: "lights", title: "Light", shapes: {}, fields: {}, settings: { lights } } };
  },
});

function colorOf({
  color,
  warmth,
  power,
}: {
  readonly color: readonly number[];
  readonly warmth: number;
  readonly power: number;
}): Vec3 {
  const rgb = warmth > 0 ? blackBody(warmth) : color;
  return [rgb[0] * power, rgb[1] * power, rgb[2] * power];
}

/** One at each element, as far as there may be; what it shines to goes with it. */
function onSites(one: LightSettings, shape: Shape, context: NodeContext): LightSettings[] {
  const elements = placesOf(shape);
  if (!elements) return [];
  const { position, color } = elements.columns;
  if (elements.count > MOST_LIGHTS)
    context.note(
      `There are ${elements.count} places, and the stage has ${MOST_LIGHTS} lights at most: those are evenly among them. What should only be seen to glow wants a Material.`,
    );
  const count = Math.min(elements.count, MOST_LIGHTS);
  return Array.from({ length: count }, (_, k) => {
    const i = Math.floor((k * elements.count) / count);
    const place = position.lanes.map((lane) => lane[i]) as unknown as Vec3;
    return {
      ...one,
      place,
      target: place.map((v, a) => v + one.target[a] - one.place[a]) as unknown as Vec3,
      color: one.color.map((v, c) => v * (color?.lanes[c][i] ?? 1)) as unknown as Vec3,
    };
  });
}

/** Lamps that stand for what glows: their colour is that of what they stand for. */
function ofGlow(one: LightSettings, shape: Shape, context: NodeContext): LightSettings[] {
  const glows = gatherGlow(shape);
  if (glows.length === 0)
    context.warn("Nothing of it glows. Give the clones a Material with emission first.", { input: "on" });
  return glows.map(({ place, intensity }) => ({
    ...one,
    kind: "lamp",
    place,
    target: place,
    color: intensity.map((v, c) => (v * one.color[c]) / CANDELAS) as unknown as Vec3,
    shadow: false,
  }));
}

/** Of all that are linked, in their order; no more than the stage has. */
export const lightsOf = (linked: readonly Parts[]): LightSettings[] =>
  linked
    .flatMap(({ what, settings }) => (what === "lights" ? (settings.lights as readonly LightSettings[]) : []))
    .slice(0, MOST_LIGHTS);
