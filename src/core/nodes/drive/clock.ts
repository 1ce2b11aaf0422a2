import { constant } from "../../fields/expression";
import { defineNode } from "../define";
import { number, out } from "../ports";

export const clock = defineNode({
  type: "clock",
  family: "drive",
  title: "Clock",
  about: "The time: frame number, seconds, and 0…1 over the piece's range.",
  synonyms: ["time", "frame", "animate", "seconds", "playhead", "loop"],
  inputs: {
    speed: number({ default: 1, soft: [-4, 4], unit: "×", about: "Times as fast." }),
    offset: number({
      default: 0,
      soft: [-100, 100],
      unit: "frames",
      about: "Added before the speed applies.",
    }),
  },
  outputs: {
    frame: out.number("The frame."),
    seconds: out.number("The frame divided by the frame rate."),
    along: out.number("0 at the first frame, 1 just after the last, so that whole turns close a loop."),
  },
  summary: ({ speed }) => (speed === 1 ? "the frame" : `${speed} × the frame`),
  evaluate({ speed, offset }, { time }) {
    const frame = (time.frame + offset) * speed;
    const range = time.last - time.first + 1;
    return {
      frame: constant(frame),
      seconds: constant(frame / time.framesPerSecond),
      along: constant(((time.frame - time.first + offset) / range) * speed),
    };
  },
});
