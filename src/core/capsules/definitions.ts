/**
 * What kind of node a type is, capsules of the piece included. A capsule NAME gives three types: `capsule:NAME` is an
 * instance, `inputs-of:NAME` and `outputs-of:NAME` are the nodes in its graph where what arrives comes in and what leaves
 * goes out; in a Step loop `before-of:NAME` is where what left comes back.
 */

import type { Capsule, CapsuleInput, CapsuleOutput, PieceDocument } from "../document/schema";
import { constant } from "../fields/expression";
import { catalogue } from "../nodes/catalogue";
import { type AnyInput, type AnyNode, type AnyOutput, NodeError } from "../nodes/define";
import type { PortKind } from "../nodes/ports";
import { own } from "../own";
import type { CapsuleDefinitions, CapsuleRole } from "./roles";
import { asFlatLoop, asLoop } from "./step-loop";

export interface CapsuleType {
  readonly role: CapsuleRole;
  readonly name: string;
}

export const capsuleType = (role: CapsuleRole, name: string): string => `${role}:${name}`;

/** A node where things come into a capsule or leave it: it belongs to the capsule, and is not copied or removed by itself. */
export const isBorderType = (type: string): boolean =>
  (parseCapsuleType(type)?.role ?? "capsule") !== "capsule";

/** Null for types of the catalogue. */
export function parseCapsuleType(type: string): CapsuleType | null {
  const found = /^(capsule|inputs-of|outputs-of|before-of):(.+)$/.exec(type);
  return found && { role: found[1] as CapsuleRole, name: found[2] };
}

/** Undefined for types that this version, or the piece, does not have. */
export function definitionOf(
  { capsules }: Pick<PieceDocument, "capsules">,
  type: string,
): AnyNode | undefined {
  const known = catalogue.get(type);
  if (known) return known;
  const parsed = parseCapsuleType(type);
  if (!parsed) return undefined;
  const capsule = capsuleNamed(capsules, parsed.name);
  return capsule && definitionsOf(capsule, parsed.name)[parsed.role];
}

/** Undefined for names that objects know by themselves, too. */
export const capsuleNamed = (capsules: PieceDocument["capsules"], name: string): Capsule | undefined =>
  own(capsules, name);

const known = new WeakMap<Capsule, CapsuleDefinitions>();
const flat = new WeakMap<Capsule, CapsuleDefinitions>();

function definitionsOf(capsule: Capsule, name: string): CapsuleDefinitions {
  let definitions = known.get(capsule);
  if (!definitions) {
    const plain = makeDefinitions(capsule, name);
    known.set(capsule, (definitions = capsule.stepLoop ? asLoop(capsule, name, plain) : plain));
  }
  return definitions;
}

/** A border node of a capsule where an instance of it is taken apart: it gets what is set on the instance. */
export function flatBorderOf(capsule: Capsule, { role, name }: CapsuleType): AnyNode | undefined {
  const seen = definitionsOf(capsule, name);
  if (!capsule.stepLoop) return seen[role];
  let definitions = flat.get(capsule);
  if (!definitions) flat.set(capsule, (definitions = asFlatLoop(capsule, seen)));
  return definitions[role];
}

function makeDefinitions({ title, about, inputs, outputs }: Capsule, name: string): CapsuleDefinitions {
  const facade = {
    type: capsuleType("capsule", name),
    family: "capsule",
    title,
    about: about || "A capsule of this piece.",
    synonyms: ["capsule", "group", "packed", ...inputs.map(({ label }) => label.toLowerCase())],
    variant: JSON.stringify([inputs, outputs]),
    inputs: Object.fromEntries(inputs.map((input) => [input.name, inputOf(input)])),
    outputs: Object.fromEntries(outputs.map((output) => [output.name, outputOf(output)])),
    evaluate() {
      throw new NodeError(
        `The capsule "${title}" contains itself, or capsules in capsules hold too many nodes. Take one of them out.`,
      );
    },
  } satisfies AnyNode;
  return {
    capsule: facade,
    "inputs-of": passing("inputs-of", name, "Capsule inputs", inputs),
    "outputs-of": passing("outputs-of", name, "Capsule outputs", outputs),
  };
}

const FIELD_KINDS: ReadonlySet<PortKind> = new Set(["number", "vector", "rotation", "color"]);

const outputOf = ({ kind, about, label }: CapsuleOutput): AnyOutput => ({
  kind,
  about: about || label,
  label,
});

function inputOf(input: CapsuleInput): AnyInput {
  const { name: _name, about, many = false, ...rest } = input;
  return { ...rest, many, about: about || input.label, perElement: FIELD_KINDS.has(input.kind) };
}

/** A node that gives what it gets, so that limits, kinds and defaults are looked after at the capsule's border. */
function passing(
  role: CapsuleRole,
  name: string,
  title: string,
  ports: readonly (CapsuleInput | CapsuleOutput)[],
): AnyNode {
  const inputs = Object.fromEntries(
    ports.map((port) => {
      const input = inputOf("default" in port ? (port as CapsuleInput) : { default: null, ...port });
      // Angles stay degrees on the way through.
      return [port.name, { ...input, unit: input.kind === "number" ? "" : input.unit }];
    }),
  );
  return {
    type: capsuleType(role, name),
    family: "capsule",
    title,
    about: role === "inputs-of" ? "What arrives at the capsule." : "What leaves the capsule.",
    synonyms: [],
    variant: JSON.stringify(ports),
    keepsHandles: true,
    inputs,
    outputs: Object.fromEntries(ports.map((port) => [port.name, outputOf(port)])),
    evaluate: (values: Readonly<Record<string, unknown>>) =>
      Object.fromEntries(Object.entries(values).map(([port, value]) => [port, carried(value)])),
  };
}

/** Yes and no travel on links as 1 and 0. */
const carried = (value: unknown): unknown => (typeof value === "boolean" ? constant(value ? 1 : 0) : value);

/** Names of the capsules that a capsule's graph uses, at any depth. */
export function capsulesWithin(
  capsules: PieceDocument["capsules"],
  name: string,
  found: Set<string> = new Set(),
): Set<string> {
  for (const { type } of capsuleNamed(capsules, name)?.graph.nodes ?? []) {
    const inner = parseCapsuleType(type);
    if (inner?.role !== "capsule" || found.has(inner.name)) continue;
    found.add(inner.name);
    capsulesWithin(capsules, inner.name, found);
  }
  return found;
}
