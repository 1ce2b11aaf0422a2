import { isFilled } from "../../geometry/shape";
import { BIRTHPLACES, type Birthplace } from "../../particles/birthplaces";
import { ALWAYS, BIRTH_TIMES, birthsOf, USUAL, USUAL_AT_BIRTH } from "../../particles/emitting";
import { defineNode, type FrameTime } from "../define";
import { angle, choice, field, integer, number, out, shape, text, toggle } from "../ports";

const OVER = ["all the time", "some frames"] as const;
const AT_ONCE = ["in bursts", "at frames", "once", "where a field rises"];

/** The part of a shape that a birthplace is on; none where any will do. */
const NEEDS: Readonly<Partial<Record<Birthplace, "mesh" | "curves" | "sites">>> = {
  points: "mesh",
  "face middles": "mesh",
  surface: "mesh",
  inside: "mesh",
  curves: "curves",
  sites: "sites",
};

export const emitter = defineNode({
  type: "emitter",
  family: "simulate",
  title: "Emitter",
  about:
    "Where particles are born, when, how many, and how they leave: off a shape, within it, along curves, from what dies.",
  synonyms: [
    "emit",
    "source",
    "birth",
    "spawn",
    "burst",
    "fountain",
    "spray",
    "sparks",
    "rain",
    "dust",
    "pollen",
  ],
  inputs: {
    shape: shape({ about: "What they are born of; another one may take its place at any time." }),
    from: choice(BIRTHPLACES, {
      about: "What of it: sites, else the surface, else curves, unless another is named.",
    }),
    when: choice(BIRTH_TIMES, {
      about: "All the time, in bursts, at frames, once at the beginning, or as a field rises above 0.5.",
    }),
    each: toggle({
      default: false,
      about: "So many for each element of the source, instead of for all of it together.",
    }),
    rate: number({
      default: USUAL.rate,
      min: 0,
      soft: [0, 500],
      shownWhen: { input: "when", is: ["at a rate"] },
      about: "Born a second.",
    }),
    count: integer({
      default: USUAL.count,
      min: 0,
      soft: [0, 1000],
      shownWhen: { input: "when", is: AT_ONCE },
      about: "Born at once; of what dies, for each.",
    }),
    every: number({
      default: USUAL.every,
      min: 0.001,
      soft: [0.1, 5],
      unit: "s",
      shownWhen: { input: "when", is: ["in bursts"] },
      about: "From burst to burst.",
    }),
    frames: text({
      default: "0, 25, 50",
      shownWhen: { input: "when", is: ["at frames"] },
      about: "Numbers of frames, with commas between.",
    }),
    over: choice(OVER, { about: "Whether it ever begins or ends." }),
    begin: integer({
      default: 0,
      unit: "frames",
      soft: [0, 200],
      shownWhen: { input: "over", is: ["some frames"] },
      about: "Nothing is born before.",
    }),
    end: integer({
      default: 100,
      unit: "frames",
      soft: [0, 200],
      shownWhen: { input: "over", is: ["some frames"] },
      about: "Nothing is born after.",
    }),
    weight: field.number({
      default: 1,
      soft: [0, 1],
      about:
        "How likely each element, times its area or length; where it rises above 0.5 for births by that.",
    }),
    pick: choice(["by chance", "in turn"], { about: "Which element is next." }),
    life: field.number({
      default: USUAL_AT_BIRTH.life,
      min: 0,
      soft: [0.2, 10],
      unit: "s",
      about: "How long each lives; 0 for ever.",
    }),
    lifeSpread: number({
      default: USUAL.lifeSpread,
      min: 0,
      max: 1,
      soft: [0, 1],
      label: "life spread",
      about: "By what part lives differ by chance: 0.3 from 0.7 to 1.3 times.",
    }),
    speed: field.number({
      default: USUAL_AT_BIRTH.speed,
      soft: [0, 10],
      about: "Units a second at birth, the way the source looks there.",
    }),
    speedSpread: number({
      default: USUAL.speedSpread,
      min: 0,
      max: 1,
      soft: [0, 1],
      label: "speed spread",
      about: "By what part speeds differ.",
    }),
    spread: angle({
      default: USUAL_AT_BIRTH.spread,
      min: 0,
      soft: [0, 180],
      about: "How far from that direction they may leave.",
    }),
    velocity: field.vector({
      default: [0, 0, 0],
      soft: [-5, 5],
      about: "Units a second that each has besides.",
    }),
    inherit: number({
      default: 0,
      soft: [0, 1],
      about: "How much of the source's own movement they take along.",
    }),
    carry: toggle({
      default: true,
      about: "They take along what the source carries where they are born: colours, sizes, numbers.",
    }),
    generations: integer({
      default: 1,
      min: 1,
      max: 8,
      soft: [1, 4],
      shownWhen: { input: "from", is: ["what dies"] },
      about: "How often what is born of what died may have children again.",
    }),
    loop: toggle({
      default: false,
      about:
        "Births come again with the piece's range, each with the same chances: with a run-up as long as they live, and forces that repeat, the whole closes. Rates are rounded to fit.",
    }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other chances." }),
  },
  outputs: { births: out.births("For Particles, which makes them.") },
  summary: ({ when, rate, count, every }) =>
    when === "at a rate"
      ? `${rate} a second`
      : when === "in bursts"
        ? `${count} every ${every} s`
        : `${count} ${when}`,
  evaluate(inputs, context) {
    const { shape, from, over, begin, end, frames, pick, loop, ...settings } = inputs;
    const listed = frames.split(/[,\s;]+/).filter((word) => word !== "");
    const bad = listed.find((word) => !Number.isFinite(Number(word)));
    if (bad !== undefined && inputs.when === "at frames")
      context.warn(`"${bad}" is no number of a frame; it was left out.`, { input: "frames" });
    if (!isFilled(shape) && from !== "what dies")
      context.warn("Nothing arrives, so nothing is born.", { input: "shape" });
    const part = NEEDS[from];
    if (isFilled(shape) && part && !shape[part])
      context.warn(
        `${part === "mesh" ? "No mesh arrives" : `No ${part} arrive`}, so nothing is born of it.`,
        {
          input: "from",
          repair: { label: 'Take "what is there"', input: "from", value: "what is there" },
        },
      );
    return {
      births: birthsOf({
        ...settings,
        shape,
        from,
        frames: listed.map(Number).filter(Number.isFinite),
        between: over === "some frames" ? [begin, end] : ALWAYS,
        inTurn: pick === "in turn",
        loop: loop ? loopSeconds(context.time) : null,
      }),
    };
  },
});

const loopSeconds = ({ first, last, framesPerSecond }: FrameTime): number =>
  (last - first + 1) / framesPerSecond;
