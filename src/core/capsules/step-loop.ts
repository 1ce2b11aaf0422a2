/**
 * A Step loop: a capsule whose graph gets what it gave at the step before. Beside the nodes where things come in and go out it
 * has one, "Step before", with an output for each of the capsule's outputs. At the beginning that gives what comes in under the same name,
 * else nothing.
 */
import { applyEdit, type Edit, freshId, openCapsule } from "../document/edits";
import type { Capsule, CapsuleOutput, GraphNode, PieceDocument } from "../document/schema";
import { constant, isValue, plainNumbers, type Value } from "../fields/expression";
import { EMPTY_SHAPE, type Shape } from "../geometry/shape";
import { type AnyInput, type AnyNode, type Before, NodeError } from "../nodes/define";
import { out } from "../nodes/ports";
import { runUpInput, substepsInput } from "../nodes/simulate/step-inputs";
import { own } from "../own";
import type { State, Stepping } from "../simulate/state";
import type { CapsuleDefinitions } from "./roles";

/** What every instance of a Step loop may be set to, beside the inputs of its own. */
const LOOP_INPUTS = {
  substeps: substepsInput("Steps for each frame. More are finer, and take as much longer."),
  runUp: runUpInput("Frames worked out before the first, so that it is under way there."),
} satisfies Record<string, AnyInput>;

/** What is told of the step beside what came back. */
const STEP_OUTPUTS = {
  stepSeconds: {
    ...out.number("Length of the step, seconds: times a speed it is a way."),
    label: "step length",
  },
  stepNumber: { ...out.number("How many steps have been done; 0 at the beginning."), label: "step number" },
};

/** The definitions of a capsule that is a Step loop, as a designer sees them. */
export function asLoop(capsule: Capsule, name: string, plain: CapsuleDefinitions): CapsuleDefinitions {
  const variant = `${plain.capsule.variant} loop`;
  return {
    ...plain,
    capsule: {
      ...plain.capsule,
      variant,
      inputs: { ...plain.capsule.inputs, ...without(LOOP_INPUTS, plain.capsule.inputs) },
    },
    "before-of": {
      type: `before-of:${name}`,
      family: "capsule",
      title: "Step before",
      about:
        "What left the Step loop at the step before; at the beginning what comes in under the same name.",
      synonyms: [],
      variant,
      inputs: {},
      outputs: { ...STEP_OUTPUTS, ...plain["outputs-of"].outputs },
      readsBefore: true,
      evaluate: (_inputs: unknown, context) => broughtBack(capsule, {}, context.before(1)),
    } satisfies AnyNode,
  };
}

/** The same where the capsule is taken apart: what is set on an instance reaches the nodes that need it. */
export function asFlatLoop(capsule: Capsule, seen: CapsuleDefinitions): CapsuleDefinitions {
  const entry = seen["inputs-of"];
  const settings = without(LOOP_INPUTS, entry.inputs);
  const passedOn = Object.fromEntries(
    Object.entries(settings).map(([port, { about }]) => [port, { kind: "number", about } as const]),
  );
  const starts = Object.fromEntries(
    startsOf(capsule).map((port) => [port, entry.inputs[port] as AnyInput] as const),
  );
  return {
    ...seen,
    "inputs-of": {
      ...entry,
      inputs: { ...entry.inputs, ...settings },
      outputs: { ...passedOn, ...entry.outputs },
      evaluate: (inputs: Readonly<Record<string, unknown>>, context) => {
        const plain = Object.entries(inputs).map(([port, value]) => [
          port,
          own(settings, port) ? constant(value as number) : value,
        ]);
        return entry.evaluate(Object.fromEntries(plain), context);
      },
    },
    "before-of": {
      ...(seen["before-of"] as AnyNode),
      inputs: { ...starts, substeps: LOOP_INPUTS.substeps },
      evaluate: (inputs: Readonly<Record<string, unknown>>, context) =>
        broughtBack(capsule, inputs, context.before(inputs.substeps as number)),
    },
    "outputs-of": {
      ...seen["outputs-of"],
      inputs: { ...seen["outputs-of"].inputs, runUp: LOOP_INPUTS.runUp },
      stepping: givingOn(capsule),
      evaluate: ({ runUp: _runUp, ...inputs }: Readonly<Record<string, unknown>>, context) => {
        context.carried();
        for (const { name, kind, label } of capsule.outputs)
          if (kind === "shape" && inputs[name] === EMPTY_SHAPE)
            context.warn(
              `Nothing is linked to "${label}" inside, so nothing of it goes on to the next step.`,
              {
                input: name,
              },
            );
        return seen["outputs-of"].evaluate(inputs, context);
      },
    },
  };
}

const without = <T extends object>(all: T, taken: Readonly<Record<string, unknown>>): Partial<T> =>
  Object.fromEntries(Object.entries(all).filter(([name]) => !own(taken, name))) as Partial<T>;

/** Outputs that begin as what comes in under the same name. */
export const startsOf = ({ inputs, outputs }: Pick<Capsule, "inputs" | "outputs">): string[] =>
  outputs
    .filter(({ name, kind }) =>
      inputs.some((input) => input.name === name && input.kind === kind && !input.many),
    )
    .map(({ name }) => name);

/** What leaves the loop is its state. */
const givingOn = (capsule: Capsule): Stepping<Readonly<Record<string, unknown>>> => ({
  runUp: "runUp",
  comesBack: true,
  start: (inputs) => stateOf(capsule.outputs, inputs),
  step: (_before, inputs) => stateOf(capsule.outputs, inputs),
});

function stateOf(outputs: readonly CapsuleOutput[], inputs: Readonly<Record<string, unknown>>): State {
  const shapes: Record<string, Shape> = {};
  const numbers: Record<string, readonly number[]> = {};
  const settings: Record<string, unknown> = {};
  for (const { name, kind, label } of outputs) {
    const value = inputs[name];
    if (kind === "shape") shapes[name] = value as Shape;
    else if (isValue(value) || (Array.isArray(value) && value.every(isValue))) {
      const plain = plainNumbers([value].flat() as Value[]);
      if (!plain)
        throw new NodeError(
          `"${label}" differs from element to element, so it cannot go on to the next step. Store it as an attribute of a shape that does.`,
          name,
        );
      numbers[name] = plain;
    } else settings[name] = value;
  }
  return { shapes, numbers, settings };
}

function broughtBack(
  { outputs }: Capsule,
  starts: Readonly<Record<string, unknown>>,
  { state, seconds, number }: Before,
): Record<string, unknown> {
  const values: Record<string, unknown> = {
    stepSeconds: constant(seconds),
    stepNumber: constant(number),
  };
  for (const { name, kind } of outputs) {
    const numbers = own(state?.numbers, name);
    if (!state) values[name] = starts[name] ?? NOTHING[kind]?.();
    else if (numbers) values[name] = kind === "number" ? constant(numbers[0]) : numbers.map(constant);
    else values[name] = own(state.shapes, name) ?? own(state.settings, name);
  }
  return values;
}

/** What an output begins as when nothing comes in under its name. */
const NOTHING: Partial<Record<string, () => unknown>> = {
  shape: () => EMPTY_SHAPE,
  number: () => constant(0),
  toggle: () => constant(0),
  vector: () => [0, 0, 0].map(constant),
  rotation: () => [0, 0, 0, 1].map(constant),
  color: () => [1, 1, 1, 1].map(constant),
};

/**
 * The edit of a packed capsule, with what comes in under the name of an output coming back from step to step instead.
 * @param packed makes the capsule `name`
 */
export function loopedEdit(document: PieceDocument, packed: Edit, name: string): Edit {
  const made = applyEdit(document, packed).document;
  const looped = applyEdit(made, stepLoopEdit(made, name, true)).document.capsules[name];
  const idOf = (role: string) => looped.graph.nodes.find(({ type }) => type === `${role}:${name}`)?.id;
  const [entry, before] = [idOf("inputs-of"), idOf("before-of")];
  const back = new Map(startsOf(looped).map((port) => [`${entry}.${port}`, `${before}.${port}`]));
  const links = looped.graph.links.map((link) => ({ ...link, from: back.get(link.from) ?? link.from }));
  const capsule = { ...looped, graph: { ...looped.graph, links } };
  return { kind: "several", edits: [packed, { kind: "set-capsule", name, capsule }] };
}

/** Between the nodes of a capsule's border, units of the graph. */
const BELOW = 200;

/** Makes a capsule a Step loop, or an ordinary one again; what was linked with what came back is taken away with it. */
export function stepLoopEdit(document: PieceDocument, name: string, on: boolean): Edit {
  const capsule = document.capsules[name];
  const type = `before-of:${name}`;
  const old = capsule.graph.nodes.find((node) => node.type === type);
  const { stepLoop: _was, ...rest } = capsule;
  if (!on) {
    const nodes = capsule.graph.nodes.filter((node) => node !== old);
    const links = capsule.graph.links.filter(({ from }) => !old || !from.startsWith(`${old.id}.`));
    return { kind: "set-capsule", name, capsule: { ...rest, graph: { ...capsule.graph, nodes, links } } };
  }
  const entry = capsule.graph.nodes.find((node) => node.type === `inputs-of:${name}`);
  const lowest = Math.max(0, ...capsule.graph.nodes.map(({ at }) => at[1]));
  const added: GraphNode[] = old
    ? []
    : [
        {
          id: freshId(openCapsule(document, name), "before"),
          type,
          at: [entry?.at[0] ?? 0, lowest + BELOW],
          set: {},
        },
      ];
  const graph = { ...capsule.graph, nodes: [...capsule.graph.nodes, ...added] };
  return { kind: "set-capsule", name, capsule: { ...rest, stepLoop: true, graph } };
}
