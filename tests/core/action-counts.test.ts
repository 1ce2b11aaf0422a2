/** How many actions it takes to build pieces from blank; the table in docs/ACTIONS.md says the same. */
import { readFileSync } from "node:fs";
import { readDemo } from "../../src/server/demo";
import { Builder, linkTypes } from "../action-count";

/** Of the count when nothing linked itself. */
const MOST = 0.6;
const TABLE = readFileSync("docs/ACTIONS.md", "utf8");

const JOBS: Readonly<Record<string, (b: Builder) => void>> = {
  "05-dew-sheet": (b) => {
    b.add("plane", "move", "wave");
    b.choose("move");
    b.add("shape-sites", "sphere", "clone-onto-sites", "scale", "falloff", "arithmetic", "remap");
    b.choose("arithmetic");
    b.add("gradient", "tint");
    b.link("wave.value", "arithmetic.b");
    b.choose("tint");
    b.add("material", "merge");
    const leaf = b.addAt("material", "merge.shapes");
    b.link("move.shape", `${leaf}.shape`);
    b.addAt("camera", "stage.camera");
    b.addAt("finish", "stage.finish");
  },
  "02-petri-rings": (b) => {
    b.add("grid-sites", "cylinder", "clone-onto-sites", "scale", "join-vector", "arithmetic");
    b.link("arithmetic.value", "join-vector.z");
    b.addAt("vector-arithmetic", "arithmetic.a");
    b.add("position");
    const handle = b.addAt("vector-arithmetic", "vector-arithmetic.b");
    const ring = b.addAt("join-vector", `${handle}.a`);
    const cosine = b.add("arithmetic");
    const turn = b.addAt("arithmetic", `${cosine}.a`);
    b.addAt("clock", `${turn}.a`);
    b.link("clock.along", `${turn}.a`);
    b.choose(cosine);
    const [sine] = b.duplicate();
    b.link(`${sine}.value`, `${ring}.z`);
    b.choose("vector-arithmetic");
    b.add("gradient", "tint", "material", "sphere", "transform", "tint", "material");
    b.link(`${handle}.vector`, "transform.move");
    b.addAt("finish", "stage.finish");
  },
  "16-jar-ring": (b) => {
    b.add("cylinder", "tint", "cylinder", "transform", "tint");
    b.choose("merge");
    b.add("transform", "ring-sites", "clone-onto-sites", "transform", "material");
    b.addAt("angles", "transform-3.turn");
    const turn = b.addAt("arithmetic", "angles.y");
    b.add("clock");
    b.link("clock.along", `${turn}.a`);
    b.add("box", "transform", "tint");
    b.choose("merge-2");
    b.add("transform");
    b.addAt("finish", "stage.finish");
  },
  "10-petal-clock": (b) => {
    b.add("sphere", "transform", "tint");
    b.choose("transform", "tint");
    const tints = [0, 1, 2, 3].map(() => b.duplicate()[1]);
    b.choose("tint");
    const flower = b.capsule("petal-ring");
    for (const tint of tints) b.link(`${tint}.shape`, `${flower}.petals`);
    b.addAt("arithmetic", `${flower}.start`);
    b.add("clock");
    b.link("clock.along", "arithmetic.a");
    b.add("sphere", "tint");
    b.choose("merge");
    const hours = b.capsule("petal-ring");
    const back = b.addAt("arithmetic", `${hours}.start`);
    b.link("clock.along", `${back}.a`);
    b.choose(hours);
    b.add("material");
    b.addAt("finish", "stage.finish");
  },
  "06-seed-beds-rising": (b) => {
    b.add(
      "grid-sites",
      "repeat",
      "transform",
      "box",
      "transform",
      "clone-onto-sites",
      "store-attribute",
      "remap",
    );
    b.addAt("falloff", "remap.value");
    b.choose("store-attribute");
    b.add("spring", "rotate", "scale", "tint", "material");
    b.addAt("gradient", "tint.color");
    const tall = b.addAt("formula", "gradient.value");
    b.addAt("join-vector", "scale.axes");
    b.link(`${tall}.value`, "join-vector.y");
    const kept = b.addAt("formula", "join-vector.x");
    b.link(`${kept}.value`, "join-vector.z");
    b.link(`${kept}.value`, `${tall}.a`);
    b.addAt("attribute", `${kept}.a`);
    b.link(`${kept}.value`, "rotate.amount");
    b.addAt("vector-arithmetic", "rotate.turn");
    b.addAt("noise", "vector-arithmetic.a");
    b.link("noise.value", `${tall}.b`);
    b.addAt("finish", "stage.finish");
  },
};

it.each(Object.entries(JOBS))(
  "%s is built from blank, link for link, in six tenths of the actions",
  (name, job) => {
    const piece = readDemo(name);
    const builder = new Builder();
    job(builder);
    expect(linkTypes(builder.document)).toEqual(linkTypes(piece));
    // The Stage is there from the start; every other node is one action and every link another.
    const before = piece.graph.nodes.length - 1 + piece.graph.links.length;
    expect(builder.actions / before).toBeLessThanOrEqual(MOST);
    expect(TABLE).toMatch(new RegExp(`\\| ${name} .*\\| ${before} *\\| ${builder.actions} *\\|`));
  },
);
