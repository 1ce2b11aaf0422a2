import { EMPTY_SHAPE } from "../../geometry/shape";
import { BadRule, type Rules, rewritten, rulesOf, TooLong } from "../../growth/rewriting";
import { drawnWord } from "../../growth/turtle";
import { defineNode, NodeError } from "../define";
import { integer, length, number, out, text } from "../ports";

/** Generations at most: even a rule that only doubles is past all limits then. */
const MOST_GENERATIONS = 24;

export const rewriting = defineNode({
  type: "rewriting",
  family: "make",
  title: "Rewriting",
  about: "Grows plants, snowflakes and curves from a word whose letters are rewritten again and again.",
  synonyms: [
    "l-system",
    "lindenmayer",
    "turtle",
    "fractal",
    "plant",
    "fern",
    "koch",
    "hilbert",
    "dragon curve",
    "grammar",
  ],
  inputs: {
    axiom: text({ default: "X", about: "What it begins with." }),
    rules: text({
      default: "X = F[+X][-X]FX; F = FF",
      about:
        "What each letter becomes, rules parted by ; or in lines. A number before one says how often, as 0.3: F = FF. Capitals draw, f steps without drawing, + − turn, & ^ pitch, \\ / roll, | turns round, [ ] branch. Letters may have numbers: A(x): x > 0.1 = F(x)[+(30)A(x * 0.7)]; F goes as many steps, + turns by as many degrees, !(r) sets the radius.",
    }),
    still: text({
      default: "X",
      label: "do not draw",
      about: "Capitals that only stand for what they become.",
    }),
    generations: number({
      default: 5,
      min: 0,
      max: MOST_GENERATIONS,
      soft: [0, 8],
      about:
        "How often all letters are rewritten. Between two whole ones the last unfolds: move it over time.",
    }),
    step: length({ default: 0.05, min: 0, soft: [0.005, 0.5], about: "Of one letter that draws." }),
    angle: number({ default: 25, soft: [0, 120], unit: "°", about: "Of one turn." }),
    wander: number({
      default: 0,
      min: 0,
      soft: [0, 20],
      unit: "°",
      about: "By how much turns differ by chance.",
    }),
    shorter: number({
      default: 1,
      min: 0,
      max: 100,
      soft: [0.5, 1],
      unit: "×",
      about: "How long steps are on a branch, against what it leaves.",
    }),
    thinner: number({ default: 0.75, min: 0, soft: [0.3, 1], unit: "×", about: "The same for thickness." }),
    radius: length({
      default: 0.02,
      min: 0,
      soft: [0.002, 0.1],
      about: "Of the stem; put a tube of 1 around it.",
    }),
    seed: integer({ default: 0, about: "Another one gives other choices and turns." }),
  },
  outputs: {
    shape: out.shape(
      "Curves; points have `radius`, `depth` (branches from the stem) and `born`, their generation.",
    ),
  },
  summary: ({ axiom, generations }) => `${axiom}, ${generations} generations`,
  evaluate(inputs, context) {
    const { axiom, generations, still, step, angle, wander, shorter, thinner, radius, seed } = inputs;
    const rules = readRules(inputs.rules);
    const last = Math.ceil(generations);
    const chances = seed + context.seed;
    try {
      const word = rewritten(axiom, rules, last, chances);
      const unfolded = generations - last + 1;
      const curves = drawnWord(
        word,
        { step, angle, shorter, thinner, radius, unfolded, last, wander, seed: chances },
        still,
      );
      if (!curves)
        context.warn("No letter draws, so there is nothing to see. Capitals draw.", { input: "axiom" });
      return { shape: curves ? { curves } : EMPTY_SHAPE };
    } catch (error) {
      if (error instanceof BadRule)
        throw new NodeError(`The axiom cannot be read: ${error.message}`, "axiom");
      if (!(error instanceof TooLong)) throw error;
      const fits = error.generation - 1;
      throw new NodeError(
        `In generation ${error.generation} the word has more than two million letters. ${fits} generations fit.`,
        "generations",
        { label: `Set "generations" to ${fits}`, input: "generations", value: fits },
      );
    }
  },
});

function readRules(text: string): Rules {
  try {
    return rulesOf(text);
  } catch (error) {
    if (error instanceof BadRule) throw new NodeError(error.message, "rules");
    throw error;
  }
}
