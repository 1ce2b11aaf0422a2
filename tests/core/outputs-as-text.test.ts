/** What every node of the demo pieces gives crosses to another thread as text and comes back the same bits, or is refused. */
import { createHash } from "node:crypto";
import { canBranch } from "../../src/core/evaluate/branches";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { outputsFromText, outputsToText } from "../../src/core/evaluate/outputs-as-text";
import { constant, isValue, type Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { makeColumn } from "../../src/core/geometry/column";
import { arraysOf } from "../../src/core/geometry/domains";
import type { Shape } from "../../src/core/geometry/shape";
import { Arena } from "../../src/core/kernels/arena";
import { engine } from "../../src/core/kernels/kernels";
import type { Parts } from "../../src/core/values/parts";
import { demoNames, readDemo } from "../../src/server/demo";
import { sitesAt } from "../run-node";

const sites = sitesAt(
  Array.from({ length: 40 }, (_, i) => [Math.sin(i) * 3, Math.cos(i * 1.7) * 2, Math.sin(i * 0.3) * 3]),
);

/** What stands for all bits of an array. */
const bitsOf = (array: ArrayBufferView): string =>
  createHash("md5")
    .update(new Uint8Array(array.buffer as ArrayBuffer, array.byteOffset, array.byteLength).slice())
    .digest("hex");

/** What stands for an output: of the arrays of shapes, of fields at some places, of plain settings as they are. */
function numbersOf(kind: string, output: unknown): unknown {
  if (kind === "shape") return [...arraysOf(output as Shape)].map(bitsOf);
  if (kind === "births" || kind === "forces") {
    const { shapes, fields, ...others } = output as Parts;
    return [
      others,
      Object.values(shapes).map((shape) => numbersOf("shape", shape)),
      Object.values(fields).map((field) => numbersOf("vector", field)),
    ];
  }
  const values = [output].flat().filter(isValue) as Value[];
  return values.length > 0 ? runValues(values, sites).lanes.map(bitsOf) : output;
}

const buffer = () => engine().memory.memory.buffer;

it("brings back what it was given", () => {
  const seen = new Set<string>();
  for (const name of demoNames()) {
    const piece = readDemo(name);
    const evaluator = new Evaluator();
    evaluator.evaluate(piece, 3);
    evaluator.query(piece, ({ definitions }, memory) => {
      for (const [id, definition] of definitions) {
        const known = memory.get(id);
        if (!known || !canBranch(definition)) continue;
        let text: string;
        try {
          text = outputsToText(known.outputs, known.inputs);
        } catch {
          // A structure that does not stand in the memory stays in its thread.
          continue;
        }
        const back = outputsFromText(text, known.inputs, buffer(), () => {}) as Record<string, unknown>;
        for (const [port, { kind }] of Object.entries<{ kind: string }>(definition.outputs)) {
          const wanted = numbersOf(kind, known.outputs[port]);
          expect([id, port, numbersOf(kind, back[port])]).toEqual([id, port, wanted]);
          seen.add(kind);
        }
      }
    });
  }
  // A Finish may name a file, so it stays in its thread.
  expect([...seen].sort()).toEqual([
    "births",
    "camera",
    "color",
    "forces",
    "light",
    "number",
    "rotation",
    "shape",
    "vector",
  ]);
});

it("takes any name for an attribute, those too that the text has words of its own for", () => {
  const names = ["lane", "number", "known", "input", "rotation", "made", "step", "component", "\u0001"];
  const columns = Object.fromEntries(
    names.map((name, i) => [name, makeColumn("number", [Float32Array.of(i, -0, Number.NaN)])]),
  );
  const shape = { shape: { sites: { count: 3, columns } } };
  new Arena().within(() => {
    const back = outputsFromText(outputsToText(shape, {}), {}, buffer(), () => {});
    expect(back).toEqual(shape);
  });
});

it("keeps steps that several fields share as one, however deep they go", () => {
  let field: Value = { step: { op: "index", inputs: [], data: undefined }, lane: 0 };
  for (let i = 0; i < 5000; i++)
    field = { step: { op: "add", inputs: [field, field], data: undefined }, lane: 0 };
  const text = outputsToText({ field, same: field }, {});
  const back = outputsFromText(text, {}, buffer(), () => {}) as Record<string, Value>;
  expect(back.field.step).toBe(back.same.step);
  expect(back.field.step.inputs[0].step).toBe(back.field.step.inputs[1].step);
});

it("refuses what cannot be sent, so that the node runs where it is", () => {
  const data = { key: "grid", grid: { staysHere: () => true } };
  const asking: Value = { step: { op: "near", inputs: [constant(0)], data }, lane: 0 };
  expect(() => outputsToText({ asking }, {})).toThrow(/Functions/);
  expect(() => outputsToText({ list: new Map() }, {})).toThrow(/plain objects/);
  expect(() => outputsToText({ doubles: new Float64Array(2) }, {})).toThrow(/numbers of this kind/i);
});
