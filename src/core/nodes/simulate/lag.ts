import { laggedPlace, lagLeft } from "../../maths/spring";
import { defineNode } from "../define";
import { field, out } from "../ports";
import { advanced, FOLLOWING, type Followed, followedShape, lanesOver } from "./followed";

interface Inputs extends Followed {
  readonly half: Parameters<typeof lanesOver>[1][number];
}

export const lag = defineNode({
  type: "lag",
  family: "simulate",
  title: "Lag",
  about: "Lets clones follow what arrives late and softly, without ever going beyond it.",
  synonyms: ["delay", "smooth", "soften in time", "ease", "follow", "drag behind", "overlap", "inertia"],
  otherFrames: true,
  inputs: {
    ...FOLLOWING,
    half: field.number({
      default: 0.15,
      min: 0,
      soft: [0, 1],
      unit: "s",
      about: "Seconds in which it comes half of the way nearer; 0 follows at once.",
    }),
  },
  outputs: {
    shape: out.shape("The same, following; `velocity` is how fast each place moves, units a second."),
  },
  summary: ({ half }) => `half-way in ${half} s`,
  evaluate(inputs, context) {
    const shape = followedShape<Inputs>(inputs, context, (before, at, seconds) => {
      const [half] = lanesOver(at, [at.half]);
      let [known, left] = [Number.NaN, 0];
      return advanced(before, at, (was, w, after, i, l) => {
        if (half[i] !== known) [known, left] = [half[i], lagLeft(half[i], seconds)];
        const [from, to] = [was.target[l][w], after.target[l][i]];
        after.now[l][i] = laggedPlace(known, left, was.now[l][w], from, to, seconds);
        after.speed[l][i] = (after.now[l][i] - was.now[l][w]) / seconds;
      });
    });
    return { shape };
  },
});
