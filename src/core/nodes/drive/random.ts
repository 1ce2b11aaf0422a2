import { apply, constant, elementId, mix, type Value } from "../../fields/expression";
import { hash3 } from "../../maths/random";
import { defineNode } from "../define";
import { choice, field, integer, number, out, toggle } from "../ports";
import { type Passed, passedSteps } from "./loop-time";

/** Channels of chance that nodes other than Random take, whose own are 0 to 3: the same seed gives others there. */
export const STAGGER_CHANNEL = 4;
export const PICK_CHANNEL = 5;

/** 0 ≤ value < 1 per element, from its id; `channel` gives independent ones for the same seed. */
export const randomField = (seed: number, channel: number): Value =>
  apply("random", [elementId()], { key: `${seed}.${channel}`, seed, channel });

export const random = defineNode({
  type: "random",
  family: "drive",
  title: "Random",
  about: "A number and a vector by chance for each element, the same every time.",
  synonyms: ["chance", "vary", "variation", "jitter", "random size", "random colour", "seed", "dice"],
  inputs: {
    low: field.number({ default: 0, soft: [-2, 2], about: "Least." }),
    high: field.number({ default: 1, soft: [-2, 2], about: "Greatest." }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other values." }),
    whole: toggle({ default: false, about: "Whole numbers only, both ends included." }),
    speed: number({ default: 0, min: 0, soft: [0, 4], about: "New chances a second; 0 never changes." }),
    change: choice(["glides", "jumps"], { about: "Whether it goes softly from one chance to the next." }),
    loop: toggle({
      default: false,
      about: "Repeat exactly over the piece's range; the speed is rounded to fit.",
    }),
  },
  outputs: {
    value: out.number("One number for each element."),
    vector: out.vector("Three independent numbers for each element."),
  },
  summary: ({ low, high }) => `${low} … ${high}`,
  evaluate({ low, high, seed, whole, speed, change, loop }, context) {
    // The node's seed and the piece's seed are mixed, so that changing either changes everything.
    const own = hash3(context.seed, seed, 0);
    const pick = (channel: number): Value => {
      const unit = speed === 0 ? randomField(own, channel) : chanceNow(own, channel);
      if (!whole) return mix(low, high, unit);
      const span = apply("add", [apply("subtract", [high, low]), constant(1)]);
      return apply("add", [low, apply("floor", [apply("multiply", [unit, span])])]);
    };
    const now = speed === 0 ? null : passedSteps(context.time, speed, loop);
    /** The chance of this step; on the way to that of the next one when it glides. */
    function chanceNow(seed: number, channel: number): Value {
      const { steps, period } = now as Passed;
      const step = Math.floor(steps);
      const round = (n: number) => (period > 0 ? ((n % period) + period) % period : n);
      const of = (n: number) => randomField(hash3(seed, round(n), 1), channel);
      if (change === "jumps") return of(step);
      const t = steps - step;
      return mix(of(step), of(step + 1), constant(t * t * (3 - 2 * t)));
    }
    return { value: pick(0), vector: [pick(1), pick(2), pick(3)] as const };
  },
});
