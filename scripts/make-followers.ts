/** Writes which nodes are most often linked with which port, in the demo pieces, their capsules and the recipes. */
import { writeFileSync } from "node:fs";
import { demoNames, readDemo, shippedCapsules, shippedRecipes } from "../src/server/demo";
import { followersOf } from "../src/studio/graph/adder/followers";

const pieces = [...demoNames().map(readDemo), ...shippedCapsules().values(), ...shippedRecipes().values()];
const graphs = pieces.flatMap(({ graph, capsules }) => [
  graph,
  ...Object.values(capsules).map((c) => c.graph),
]);
writeFileSync("src/studio/graph/adder/followers.json", `${JSON.stringify(followersOf(graphs))}\n`);
