/** Shapes that nodes make are sound, and what is wrong with one is said. */

import { Evaluator } from "../../src/core/evaluate/evaluator";
import { loadLibraries } from "../../src/core/evaluate/libraries";
import { makeMesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import { catalogue } from "../../src/core/nodes/catalogue";
import { exampleOf, IT } from "../../src/studio/graph/adder/node-example";

beforeAll(() => loadLibraries(catalogue.values()));

const square = makeMesh({
  position: [Float32Array.of(0, 1, 1, 0), new Float32Array(4), Float32Array.of(0, 0, 1, 1)],
  faceStarts: Int32Array.of(0, 4),
  cornerPoint: Int32Array.of(0, 1, 2, 3),
});

it.each([...catalogue.values()].map((node) => [node.type, node] as const))(
  "what %s makes in its example is sound",
  (_type, node) => {
    const document = exampleOf(node);
    for (const frame of [0, 7.5]) {
      const { outputs = {} } = new Evaluator().evaluate(document, frame, { target: IT });
      for (const [port, { kind }] of Object.entries(node.outputs as Record<string, { kind: string }>))
        if (kind === "shape") expect(validateShape(outputs[port] as Shape)).toEqual([]);
    }
  },
);

it("says what is wrong, and where", () => {
  expect(validateShape({ mesh: square })).toEqual([]);
  const said = (change: Partial<typeof square>) => validateShape({ mesh: { ...square, ...change } });
  expect(said({ cornerPoint: Int32Array.of(0, 1, 2, 4) })).toEqual([
    "shape.mesh.cornerPoint names 4 at 3; 0 … 3 are there.",
  ]);
  expect(said({ faceStarts: Int32Array.of(0, 3) })).toEqual([
    "shape.mesh.faceStarts ends with 3, and there are 4.",
  ]);
  expect(said({ faceStarts: Int32Array.of(0, 5, 4), faces: { count: 2, columns: {} } })).toEqual([
    "shape.mesh.faceStarts falls at 2.",
  ]);
  const points = { ...square.points, count: 5 };
  expect(said({ points })[0]).toBe("shape.points.position, lane 0, has 4 numbers for 5 elements.");
  const source = { kind: "integer" as const, lanes: [Int32Array.of(0, 3)] };
  const position = { kind: "vector" as const, lanes: [0, 1, 2].map(() => new Float32Array(2)) };
  expect(validateShape({ sites: { count: 2, columns: { position, source } }, sources: [{}] })).toEqual([
    "shape.sites.source names 3 at 1; -1 … 0 are there.",
  ]);
});
