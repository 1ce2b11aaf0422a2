/** Recipes: each is a picture in a blank piece and works on what there is. Common practice, no source. */
import { applyEdit, type Edit } from "../../src/core/document/edits";
import { parseAddress } from "../../src/core/document/links";
import { writeDocument } from "../../src/core/document/read";
import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { demoNames, readDemo, shippedCapsules, shippedRecipes } from "../../src/server/demo";
import { followersOf } from "../../src/studio/graph/adder/followers";
import COUNTED from "../../src/studio/graph/adder/followers.json";
import { putRecipe } from "../../src/studio/graph/adder/recipe-edits";
import { BLANK, boxesOf, overlaps } from "../cards";
import { graphOf } from "../run-node";

const recipes = [...shippedRecipes()].map(([id, document]) => ({ id, document }));

const crowded = graphOf(
  {
    ring: { type: "ring-sites", set: { count: 13 } },
    box: { type: "box" },
    clones: { type: "clone-onto-sites" },
    stage: { type: "stage" },
  },
  ["ring.sites>clones.sites", "box.shape>clones.shapes", "clones.clones>stage.shape"],
);
/** Its cards beside each other. */
const ring: PieceDocument = {
  ...crowded,
  graph: { ...crowded.graph, nodes: crowded.graph.nodes.map((node, i) => ({ ...node, at: [i * 280, 0] })) },
};

function put(document: PieceDocument, recipe: (typeof recipes)[number], chosen: string | null) {
  const made = putRecipe(document, recipe, chosen, boxesOf(document), [0, 0], true);
  if (!made.ok) throw new Error(made.what);
  const edit: Edit = { kind: "several", edits: [made.add, ...(made.link ? [made.link] : [])] };
  const { document: after, inverse } = applyEdit(document, edit);
  expect(writeDocument(applyEdit(after, inverse).document)).toBe(writeDocument(document));
  return { after, ids: made.ids };
}

/** Problems and hints at the first, a middle and the last frame, and how many clones the Stage has. */
function seen(document: PieceDocument) {
  const evaluator = new Evaluator();
  const reports = [0, 60, 199].map((frame) => evaluator.evaluate(document, frame).report);
  return {
    problems: reports.flatMap(({ nodes }) =>
      Object.values(nodes).flatMap(({ problems }) =>
        problems.filter(({ level }) => level !== "note").map(({ what }) => what),
      ),
    ),
    shown: Math.max(...reports.map(({ tally }) => tally.sites + tally.faces)),
  };
}

it("there are twenty and more, each with needs and dials", () => {
  expect(recipes.length).toBeGreaterThanOrEqual(20);
  for (const { document } of recipes) {
    expect(document.recipe?.needs.length).toBeGreaterThanOrEqual(5);
    expect(document.dials.length).toBeGreaterThan(0);
  }
});

describe.each(recipes.map((recipe) => [recipe.id, recipe] as const))("%s", (_id, recipe) => {
  it("is a picture without warnings in a blank piece, with its dials", () => {
    const { after } = put(BLANK, recipe, null);
    expect(after.dials).toHaveLength(recipe.document.dials.length);
    expect(seen(after)).toEqual({ problems: [], shown: expect.any(Number) });
    expect(seen(after).shown).toBeGreaterThan(10);
  });

  it("works on the clones that are chosen, in place of its own", () => {
    const { after, ids } = put(ring, recipe, "clones");
    const base = recipe.document.recipe?.base ?? [];
    expect(ids).toHaveLength(recipe.document.graph.nodes.length - 1 - base.length);
    expect(seen(after).problems).toEqual([]);
    expect(overlaps(after)).toEqual([]);
  });

  it("works on what is chosen beside what the stage shows, and is merged with it", () => {
    const { nodes, links } = ring.graph;
    const ball = { id: "ball", type: "sphere", at: [0, 600] as [number, number], set: {} };
    const { after } = put({ ...ring, graph: { nodes: [...nodes, ball], links } }, recipe, "ball");
    const [shown] = after.graph.links.filter(({ to }) => to === "stage.shape");
    const { node } = parseAddress(shown.from);
    expect(after.graph.nodes.find(({ id }) => id === node)?.type).toBe("merge");
    expect(after.graph.links.filter(({ to }) => to === `${node}.shapes`)).toHaveLength(2);
    expect(overlaps(after)).toEqual([]);
  });
});

it("one that leads nowhere says what it lacks", () => {
  const [{ id, document }] = recipes;
  const links = document.graph.links.filter(({ to }) => !to.startsWith("stage."));
  const broken = { id, document: { ...document, graph: { ...document.graph, links } } };
  expect(putRecipe(BLANK, broken, null, boxesOf(BLANK), [0, 0], true)).toEqual({
    ok: false,
    what: expect.stringContaining("lacks a link to its Stage"),
  });
});

it("what follows what is as ./run docs counts it", () => {
  const pieces = [...demoNames().map(readDemo), ...shippedCapsules().values(), ...shippedRecipes().values()];
  const graphs = pieces.flatMap(({ graph, capsules }) => [
    graph,
    ...Object.values(capsules).map((c) => c.graph),
  ]);
  expect(followersOf(graphs)).toEqual(COUNTED);
  expect(COUNTED.after["ring-sites"].sites[0]).toBe("clone-onto-sites");
});
