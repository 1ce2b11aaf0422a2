import { tick } from "../../cancelling";
import { domainBounds } from "../../geometry/bounds";
import { makeColumn, withColumns } from "../../geometry/column";
import { meshArea, meshVolume } from "../../geometry/measure";
import type { Mesh } from "../../geometry/mesh";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { hash3 } from "../../maths/random";
import { GrowingGrid } from "../../spatial/growing-grid";
import { LazyInside } from "../../spatial/inside";
import { defineNode, type NodeContext } from "../define";
import { choice, field, integer, length, out, shape } from "../ports";
import { apartTile, CAPACITY, tiledPlaces } from "./apart-tile";
import { OUTWARD, outwardRotation } from "./outward";
import { greatestDistance, relaxedPlaces, THROWN_FOR_ONE } from "./relaxed-places";
import { byChance, evenly, insidePlaces, type Place, type Places, surfacePlaces, UP } from "./scatter-places";

export const scatterSites = defineNode({
  type: "scatter-sites",
  family: "layout",
  title: "Scatter sites",
  about:
    "Sites by chance, evenly or at a least distance, over the surface of a mesh or inside of it; as many on each part as its area or a weight asks for.",
  synonyms: ["random", "distribute", "sprinkle", "surface", "volume", "density", "blue noise", "copies"],
  inputs: {
    shape: shape({ about: "The mesh to scatter on." }),
    where: choice(["on the surface", "inside"], { about: "On it, or in a closed one's volume." }),
    count: integer({
      default: 300,
      min: 0,
      soft: [1, 5000],
      about: "How many; more keep the ones that are there.",
    }),
    weight: field.number({
      default: 1,
      min: 0,
      soft: [0, 1],
      shownWhen: { input: "where", is: ["on the surface"] },
      about: "How thickly, at each of the mesh's points; a falloff clears a patch.",
    }),
    spread: choice(["by chance", "evenly", "apart", "relaxed"], {
      about:
        "Evenly leaves neither gaps nor heaps, and keeps to it when more are asked for; apart lets none come nearer than a distance; relaxed has exactly the count, as far apart as they can be.",
    }),
    least: length({
      default: 0.2,
      min: 0,
      soft: [0.01, 1],
      shownWhen: { input: "spread", is: ["apart"] },
      about: "No two are nearer than this; when no more fit, fewer are made.",
    }),
    seed: integer({ default: 0, min: 0, soft: [0, 100], about: "Another number, other places." }),
    outward: choice(OUTWARD, { default: "y", about: "The own axis that points off the surface." }),
  },
  outputs: { sites: out.shape("The sites; ids stay when the count changes.") },
  summary: ({ count, spread }) => `${count} ${spread}`,
  cost: ({ count, spread, where }) => ({
    sites: count,
    milliseconds:
      count * (spread === "apart" ? 0.05 : spread === "relaxed" ? 0.12 : where === "inside" ? 0.006 : 0.003),
  }),
  evaluate({ shape, where, count, weight, spread, least, seed, outward }, context) {
    const { mesh } = shape;
    if (!mesh || mesh.faces.count === 0) {
      context.warn("No mesh arrives, so there is nothing to scatter on.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const own = hash3(context.seed, seed, 0);
    const draw = spread === "evenly" ? evenly(own) : byChance(own);
    const inside = new LazyInside(mesh);
    const places =
      where === "inside"
        ? insidePlaces(mesh, inside, draw)
        : surfacePlaces(mesh, context.run([weight], mesh.points)[0], draw);
    if (!places) {
      context.warn("The surface has no area, or the weight is 0 everywhere, so there are no sites.", {
        input: "weight",
      });
      return { sites: EMPTY_SHAPE };
    }
    const found =
      spread === "apart" && least > 0
        ? apart(
            places,
            count,
            least,
            context,
            where === "inside" ? tiled(mesh, inside, count, least, own) : null,
          )
        : spread === "relaxed"
          ? relaxed(places, count, mesh, where === "inside")
          : first(places, count);
    if (found.length < count && spread !== "apart")
      context.warn(
        found.length === 0
          ? "Nothing was found inside: the mesh is open, or flat. Close it, or scatter on the surface."
          : `${count - found.length} of ${count} found no place inside and were left out.`,
        { input: "shape" },
      );
    const normal = [0, 1, 2].map(() => new Float32Array(found.length));
    const uv = (found[0]?.uv ?? []).map(() => new Float32Array(found.length));
    const sites = makeSites(found.length, ({ position, rotation }) => {
      let [looked, q] = [UP, outwardRotation(outward, UP, [0, 1, 0])];
      found.forEach(({ at, off, uv: laid }, i) => {
        laid.forEach((value, l) => {
          uv[l][i] = value;
        });
        if (off !== looked) [looked, q] = [off, outwardRotation(outward, off, [0, 1, 0])];
        for (let k = 0; k < 3; k++) {
          position[k][i] = at[k];
          normal[k][i] = off[k];
        }
        for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
      });
    });
    const carried = {
      normal: makeColumn("vector", normal),
      ...(uv.length ? { uv: makeColumn("pair", uv) } : {}),
    };
    return { sites: { sites: withColumns(sites, carried) } };
  },
});

function first(places: Places, count: number): Place[] {
  const found: Place[] = [];
  for (let i = 0; i < count; i++) {
    tick(8);
    const place = places(i);
    if (place) found.push(place);
    else if (found.length === 0 && i > 8) break;
  }
  return found;
}

/** Of many thrown places so many that none are crowded. */
function relaxed(places: Places, count: number, mesh: Mesh, inside: boolean): Place[] {
  const thrown = first(places, count * THROWN_FOR_ONE);
  const room = inside ? Math.abs(meshVolume(mesh)) : meshArea(mesh);
  const stays = relaxedPlaces(thrown, count, greatestDistance(count, room, !inside));
  return Array.from(stays, (i) => thrown[i]);
}

/** Throws for each site that is asked for; the last ones that fit need many. */
const THROWS = 60;

/** Throws places and keeps those that are far enough from all before: more throws never change what is kept. */
function apart(
  places: Places,
  count: number,
  least: number,
  context: NodeContext,
  ready: Place[] | null,
): Place[] {
  const found: Place[] = ready ?? thrownApart(places, count, least);
  if (found.length < count)
    context.note(`${found.length} stand; no more were found that keep ${least} units apart.`);
  return found;
}

/** More places than this in the room are not laid out to choose from them. */
const MOST_TILED = 3_000_000;

/** Of a room filled with places that keep apart the first ones; null where that would be far too many. */
function tiled(mesh: Mesh, inside: LazyInside, count: number, least: number, seed: number): Place[] | null {
  const bounds = domainBounds(mesh.points);
  if (!bounds) return null;
  const sides = [0, 1, 2].map((a) => bounds.max[a] - bounds.min[a]);
  if ((sides[0] * sides[1] * sides[2] * CAPACITY) / (least * least * least) > MOST_TILED) return null;
  const all = tiledPlaces(apartTile(seed), bounds, least, seed, (x, y, z) => inside.contains(x, y, z));
  return Array.from({ length: Math.min(count, all.length / 3) }, (_, i) => ({
    at: [all[i * 3], all[i * 3 + 1], all[i * 3 + 2]],
    off: UP,
    uv: [],
  }));
}

function thrownApart(places: Places, count: number, least: number): Place[] {
  const found: Place[] = [];
  const grid = new GrowingGrid(least, count);
  const most = Math.max(4000, count * THROWS);
  // Once so many in a row were in vain, hardly any room is left.
  let inVain = 0;
  for (let i = 0; i < most && found.length < count && inVain < 4000 + found.length * 8; i++) {
    tick(16);
    const place = places(i);
    if (!place || grid.isNear(...place.at, least)) {
      inVain++;
      continue;
    }
    inVain = 0;
    grid.add(...place.at);
    found.push(place);
  }
  return found;
}
