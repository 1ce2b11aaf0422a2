/** Inputs of everything that is stepped from frame to frame. */
import { integer } from "../ports";

export const substepsInput = (about: string) =>
  integer({ default: 1, min: 1, max: 64, soft: [1, 8], label: "sub-steps", about });

export const runUpInput = (about: string) =>
  integer({ default: 0, min: 0, soft: [0, 100], unit: "frames", label: "run-up", about });
