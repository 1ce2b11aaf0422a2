/**
 * Sets every number of every node's example to extremes, one at a time, and prints what fails without words, what is not sound or not
 * finite, and what takes longer than it may. Takes about a quarter of an hour for all nodes: for use by hand, after nodes were added.
 */
import { applyEdit } from "../src/core/document/edits";
import type { PieceDocument } from "../src/core/document/schema";
import { DEFAULT_BUDGET } from "../src/core/evaluate/budget";
import { Evaluator } from "../src/core/evaluate/evaluator";
import { loadLibraries } from "../src/core/evaluate/libraries";
import { settingFault } from "../src/core/evaluate/settings";
import { placesOf } from "../src/core/geometry/domains";
import { validateShape } from "../src/core/geometry/validate";
import { catalogue } from "../src/core/nodes/catalogue";
import type { AnyInput, AnyNode } from "../src/core/nodes/define";
import type { Setting } from "../src/core/nodes/ports";
import { exampleOf, IT } from "../src/studio/graph/adder/node-example";

const NUMBERS = [0, -1, 1e-9, 1e-4, 1000, 1e9, 1e30];
const FRAMES = [0, 3];
/** Milliseconds for each frame. */
const LIMIT = 5000;
const BUDGET = { ...DEFAULT_BUDGET, milliseconds: 3000, bytes: 5e8 };

/** What an input is set to, as far as it takes that. */
function extremesOf(input: AnyInput): Setting[] {
  const single = [...NUMBERS, ...[input.min, input.max].filter((v) => v !== undefined)];
  const all: Setting[] =
    input.kind === "number"
      ? single
      : input.kind === "vector"
        ? NUMBERS.flatMap((v): Setting[] => [
            [v, v, v],
            [v, 0, 0],
          ])
        : [];
  return all.filter((value) => settingFault(input, value) === null);
}

/** What is linked to the input goes. */
function withSetting(node: AnyNode, name: string, value: Setting): PieceDocument {
  const { document } = applyEdit(exampleOf(node), { kind: "set-input", node: IT, input: name, value });
  const links = document.graph.links.filter(({ to }) => to !== `${IT}.${name}`);
  return { ...document, graph: { ...document.graph, links } };
}

/** What is wrong at a frame, in words. */
function faultsAt(document: PieceDocument, evaluator: Evaluator, frame: number): string[] {
  const begun = performance.now();
  const { shape, report } = evaluator.evaluate(document, frame, { timeLimit: LIMIT, budget: BUDGET });
  const faults = Object.values(report.nodes)
    .flatMap(({ problems }) => problems.map(({ what }) => what))
    .filter((what) => /unexpectedly|undefined|NaN|Infinity/.test(what));
  if (shape) {
    faults.push(...validateShape(shape).slice(0, 1));
    const lanes = placesOf(shape)?.columns.position.lanes ?? [];
    if (lanes.some((lane) => !lane.every(Number.isFinite))) faults.push("places are not finite");
  }
  const took = performance.now() - begun;
  if (took > LIMIT) faults.push(`stopped after ${Math.round(took)} ms`);
  return faults;
}

async function main(): Promise<void> {
  const wanted = process.argv.slice(2);
  await loadLibraries(catalogue.values());
  for (const node of catalogue.values()) {
    if (wanted.length > 0 && !wanted.includes(node.type)) continue;
    for (const [name, input] of Object.entries(node.inputs as Record<string, AnyInput>))
      for (const value of extremesOf(input)) {
        const evaluator = new Evaluator();
        const document = withSetting(node, name, value);
        const faults = new Set(FRAMES.flatMap((frame) => faultsAt(document, evaluator, frame)));
        for (const fault of faults) console.log(`${node.type}, ${name} = ${JSON.stringify(value)}: ${fault}`);
      }
  }
}

void main();
