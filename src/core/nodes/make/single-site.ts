import { makeSites } from "../../geometry/shape";
import { defineNode } from "../define";
import { out, rotation, vector } from "../ports";

export const singleSite = defineNode({
  type: "single-site",
  family: "make",
  title: "Single site",
  about: "One site at a place, for a single clone or as a handle.",
  synonyms: ["point", "handle", "locator", "one", "place"],
  inputs: {
    place: vector({ default: [0, 0, 0], soft: [-10, 10], about: "Where it is." }),
    turn: rotation({ about: "How it is turned." }),
    scale: vector({ default: [1, 1, 1], soft: [0, 4], unit: "×", about: "Its size along its own axes." }),
  },
  outputs: { sites: out.shape("The one site.") },
  summary: ({ place }) => `at ${(place as number[]).join(", ")}`,
  evaluate({ place, turn, scale }) {
    const sites = makeSites(1, ({ position, rotation: q }) => {
      for (let a = 0; a < 3; a++) position[a][0] = place[a];
      for (let l = 0; l < 4; l++) q[l][0] = turn[l];
    });
    const size = { kind: "vector" as const, lanes: scale.map((s) => Float32Array.of(s)) };
    return { sites: { sites: { count: 1, columns: { ...sites.columns, scale: size } } } };
  },
});
