/** The catalogue as plain data: for the command line, the reference page and search. */
import { catalogue } from "./catalogue";
import type { AnyInput, AnyNode, AnyOutput } from "./define";

export interface NodeDescription {
  type: string;
  family: string;
  title: string;
  about: string;
  inputs: Record<string, unknown>[];
  outputs: Record<string, unknown>[];
}

export const describeNode = (node: AnyNode): NodeDescription => ({
  type: node.type,
  family: node.family,
  title: node.title,
  about: node.about,
  inputs: Object.entries(node.inputs as Record<string, AnyInput>).map(([name, input]) => ({
    name,
    kind: input.kind,
    field: input.perElement,
    default: input.default,
    min: input.min,
    max: input.max,
    choices: input.choices,
    unit: input.unit || undefined,
    many: input.many || undefined,
    about: input.about,
  })),
  outputs: Object.entries(node.outputs as Record<string, AnyOutput>).map(([name, output]) => ({
    name,
    kind: output.kind,
    about: output.about,
  })),
});

export const describeNodes = (): NodeDescription[] => [...catalogue.values()].map(describeNode);
