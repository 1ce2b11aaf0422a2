/** What a node that failed is reported to have run into. */
import { ProgramTooLong } from "../fields/program";
import { OutOfMemory } from "../kernels/memory";
import { NodeError, type Problem } from "../nodes/define";
import { TookTooLong } from "./options";
import type { NodeReport } from "./report";

export const failedReport = (problems: readonly Problem[]): NodeReport => ({
  state: "failed",
  ms: 0,
  why: "It failed.",
  problems,
});

/** @param title of the node, for faults of ours */
export function problemOf(error: unknown, title: string): Problem {
  if (error instanceof NodeError) {
    return { level: "error", what: error.message, input: error.input, repair: error.repair };
  }
  if (error instanceof TookTooLong) return { level: "error", what: error.message };
  if (error instanceof ProgramTooLong) {
    return {
      level: "error",
      what: `${error.message} Store it as an attribute half-way, or use fewer steps.`,
    };
  }
  if (error instanceof OutOfMemory) return { level: "error", what: error.message };
  // Engines throw these where there is no room for an array, or calls go too deep.
  if (error instanceof RangeError)
    return { level: "error", what: "There is not enough memory for this. Ask for fewer elements." };
  const detail = error instanceof Error ? error.message : String(error);
  return { level: "error", what: `${title} failed unexpectedly: ${detail}` };
}
