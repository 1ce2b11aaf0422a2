/**
 * Needs in plain words, and what should be among the first three that the adder offers for each. The list was written before
 * the search was. Common practice, no source.
 */
import { blankDocument } from "../../src/core/document/schema";
import { shippedRecipes } from "../../src/server/demo";
import { choicesFor } from "../../src/studio/graph/adder/adder-choices";
import { findNeeds } from "../../src/studio/graph/adder/needs";

/** Any of these will do: types of nodes, or names of recipes. */
const NEEDS: readonly (readonly [need: string, ...wanted: string[]])[] = [
  ["copy objects on grid", "copies-on-a-grid", "grid-sites"],
  ["copy a box onto a grid", "copies-on-a-grid"],
  ["put many cubes in rows and columns", "copies-on-a-grid", "grid-sites"],
  ["make it wobble", "wobble-with-noise", "spring", "noise"],
  ["random colours", "random-colours", "random"],
  ["give each one a different color", "random-colours", "coloured-by-number"],
  ["follow the mouse late", "follow-late", "spring", "lag"],
  ["grow from nothing", "appear-in-a-wave", "stagger", "grow-near-a-place"],
  ["arrange things in a circle", "copies-in-a-ring", "ring-sites"],
  ["numbers around a clock face", "ring-sites", "copies-in-a-ring"],
  ["copies along a curve", "copies-along-a-path", "path-sites"],
  ["beads on a string", "copies-along-a-path", "path-sites"],
  ["scatter grass on a hill", "copies-on-a-surface", "scatter-sites", "seat-on-surface", "seated-on-a-hill"],
  ["distribute points over a surface", "scatter-sites", "copies-on-a-surface"],
  ["bigger near the middle", "sized-by-distance", "falloff", "grow-near-a-place"],
  ["size by distance", "sized-by-distance", "fit-to-neighbours"],
  ["colour by height", "coloured-by-height", "gradient"],
  ["rainbow over all copies", "coloured-by-number", "gradient"],
  ["one after another", "appear-in-a-wave", "stagger"],
  ["pop in with a delay", "appear-in-a-wave", "stagger"],
  ["pick one of several shapes at random", "pick-at-random", "clone-onto-sites"],
  ["mix different objects", "pick-at-random", "clone-onto-sites", "merge", "blend-poses"],
  ["stand on the ground", "seated-on-a-hill", "seat-on-surface"],
  ["fill a ball with cubes", "fill-a-shape", "fill-sites"],
  ["voxels", "fill-a-shape", "fill-sites"],
  ["twinkle like stars", "twinkle"],
  ["blink at random", "twinkle", "random"],
  ["random sizes", "random-sizes", "random"],
  ["vary the size a bit", "random-sizes", "random"],
  ["turn each one randomly", "random-turns", "rotate"],
  ["ripples going outwards", "ripple-outward", "wave"],
  ["waves on water", "ripple-outward", "wave"],
  ["things should not overlap", "touching-balls", "trim-overlaps", "ease-apart", "fit-to-neighbours"],
  ["balls that just touch", "touching-balls", "fit-to-neighbours"],
  ["connect close points with lines", "net-between-sites", "link-nearby"],
  ["spider web", "net-between-sites", "link-nearby"],
  ["look at a point", "look-at-a-place", "orient"],
  ["face the camera", "orient", "look-at-a-place"],
  ["staircase", "stairs", "repeat"],
  ["spiral like a sunflower", "sunflower", "spiral-sites"],
  ["mirror the left half", "mirror"],
  ["bounce and settle", "follow-late", "spring"],
  ["smooth the movement", "lag", "soften", "follow-late"],
  ["remove every second one", "keep"],
  ["hide those far away", "keep", "falloff"],
  ["import my 3d model", "import"],
  ["load a photo as dots", "picture-sites", "picture-sample"],
  ["show the result", "stage"],
  ["make it loop without a jump", "close-loop", "clock"],
  ["play it backwards later", "hold-frame", "keys", "clock"],
  ["spin slowly", "turn-all-the-time", "rotate"],
  ["keep turning", "turn-all-the-time"],
  ["thick rope along a line", "tube", "copies-along-a-path"],
  ["morph from one layout to another", "one-layout-into-another", "blend-poses"],
  ["fly from grid to sphere", "one-layout-into-another", "blend-poses"],
  ["darker at the edge", "colour-shift", "coloured-by-distance", "falloff"],
  ["scale value from 0..1 to 5..10", "remap"],
  ["if else", "choose", "compare"],
  ["average with neighbours", "soften", "neighbours"],
  ["shuffle the order", "renumber"],
  ["copys on a gird", "copies-on-a-grid", "grid-sites"],
  ["gradiant", "gradient"],
  ["spirng", "spring"],
  ["colur by hight", "coloured-by-height"],
];

const recipes = [...shippedRecipes()].map(([id, document]) => ({ id, document }));
const wanted = choicesFor(blankDocument("Blank"), [], recipes, {});
/** What is found, by the type of a node or the name of a recipe. */
const idsOf = (words: string) => findNeeds(words, wanted).map(({ thing }) => thing.id.replace("recipe ", ""));

describe("one word", () => {
  it.each([
    ["ring", "ring-sites"],
    ["copy", "clone-onto-sites"],
    ["box", "box"],
    ["size", "scale"],
    ["grid", "grid-sites"],
    ["random", "random"],
    ["spr", "spring"],
  ])("%s names a node, before what it is a part of", (word, type) => {
    expect(idsOf(word)[0]).toBe(type);
  });
});

describe("needs in plain words", () => {
  it("are sixty", () => expect(NEEDS.length).toBeGreaterThanOrEqual(60));

  it.each(NEEDS)("%s", (need, ...ids) => {
    expect(findNeeds(need, wanted).every(({ why }) => why.length > 0)).toBe(true);
    const first = idsOf(need).slice(0, 3);
    expect(ids).toEqual(expect.arrayContaining([first.find((id) => ids.includes(id))]));
  });
});
