import { tick } from "../../cancelling";
import { domainBounds } from "../../geometry/bounds";
import { type Domain, makeColumn, withColumns } from "../../geometry/column";
import { meshArea, meshVolume } from "../../geometry/measure";
import type { Mesh } from "../../geometry/mesh";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { type Volume, volumeBounds } from "../../geometry/volume";
import { hash3 } from "../../maths/random";
import type { Vec3 } from "../../maths/vector";
import { GrowingGrid } from "../../spatial/growing-grid";
import { LazyInside } from "../../spatial/inside";
import { countsIn, insideVolume, withDepth } from "../../volumes/filling";
import { defineNode, type NodeContext } from "../define";
import { choice, field, integer, length, out, shape } from "../ports";
import { OUTWARD, outwardRotation } from "./outward";
import { apartTile, CAPACITY, tiledPlaces } from "./scattering/apart-tile";
import { PlaceList } from "./scattering/place-list";
import { greatestDistance, relaxedPlaces, THROWN_FOR_ONE } from "./scattering/relaxed-places";
import {
  byChance,
  type Draw,
  evenly,
  insidePlaces,
  placesWithin,
  surfacePlaces,
  type Throw,
} from "./scattering/scatter-places";
import { SurfaceDarts } from "./scattering/surface-darts";
import { WeightedSurface } from "./scattering/weighted-surface";

export const scatterSites = defineNode({
  type: "scatter-sites",
  family: "layout",
  title: "Scatter sites",
  about:
    "Sites by chance, evenly or at a least distance, over the surface of a mesh or inside of it; as many on each part as its area or a weight asks for.",
  synonyms: ["random", "distribute", "sprinkle", "surface", "volume", "density", "blue noise", "copies"],
  inputs: {
    shape: shape({ about: "The mesh to scatter on, or a volume to scatter in." }),
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
    const own = hash3(context.seed, seed, 0);
    const draw = spread === "evenly" ? evenly(own) : byChance(own);
    const { mesh, volume } = shape;
    if (volume && !mesh) {
      const list = scatteredInVolume(volume, { count, spread, least, seed: own, draw });
      if (list.count < count) tellOfLess(list.count, count, spread === "apart" ? least : 0, context);
      return { sites: { sites: withDepth(sitesAt(list, outward), volume) } };
    }
    if (!mesh || mesh.faces.count === 0) {
      context.warn("No mesh and no volume arrive, so there is nothing to scatter on.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const isIn = where === "inside";
    const list = new PlaceList(Math.min(count, EXPECTED), !isIn && mesh.corners.columns.uv !== undefined);
    const found = isIn
      ? scatteredInside(mesh, { count, spread, least, seed: own, draw }, list)
      : scatteredOn(
          mesh,
          context.run([weight], mesh.points)[0],
          { count, spread, least, seed: own, draw },
          list,
        );
    if (!found) {
      context.warn("The surface has no area, or the weight is 0 everywhere, so there are no sites.", {
        input: "weight",
      });
      return { sites: EMPTY_SHAPE };
    }
    if (found.count < count) tellOfLess(found.count, count, spread === "apart" ? least : 0, context);
    return { sites: { sites: sitesAt(found, outward) } };
  },
});

/** Places that are made room for at once. */
const EXPECTED = 100_000;

interface Wanted {
  readonly count: number;
  readonly spread: "by chance" | "evenly" | "apart" | "relaxed";
  readonly least: number;
  readonly seed: number;
  readonly draw: Draw;
}

/** Null when there is nothing to stand on. */
function scatteredOn(mesh: Mesh, weights: Float32Array, wanted: Wanted, list: PlaceList): PlaceList | null {
  const { count, spread, least, seed, draw } = wanted;
  const surface = new WeightedSurface(mesh, weights);
  if (!(surface.whole > 0)) return null;
  if (spread === "apart" && least > 0) return new SurfaceDarts(surface, least, seed).places(count, list);
  const throwOne = surfacePlaces(surface, draw);
  return spread === "relaxed"
    ? relaxed(throwOne, count, list, meshArea(mesh), true)
    : first(throwOne, count, list);
}

/** Null when there is nothing to stand in. */
function scatteredInside(mesh: Mesh, wanted: Wanted, list: PlaceList): PlaceList | null {
  const { count, spread, least, draw } = wanted;
  const inside = new LazyInside(mesh);
  const throwOne = insidePlaces(mesh, inside, draw);
  if (!throwOne) return null;
  if (spread === "apart" && least > 0)
    return tiled(mesh, inside, wanted, list) ?? thrownApart(throwOne, count, least, list);
  return spread === "relaxed"
    ? relaxed(throwOne, count, list, Math.abs(meshVolume(mesh)), false)
    : first(throwOne, count, list);
}

/** By density, or evenly over what is inside by distance. */
function scatteredInVolume(volume: Volume, { count, spread, least, draw }: Wanted): PlaceList {
  const list = new PlaceList(Math.min(count, EXPECTED), false);
  const bounds = volumeBounds(volume);
  if (!bounds) return list;
  const counts = countsIn(volume, draw);
  const throwOne = placesWithin(bounds, counts, draw);
  if (spread === "apart" && least > 0) return thrownApart(throwOne, count, least, list);
  return spread === "relaxed"
    ? relaxed(throwOne, count, list, insideVolume(volume), false)
    : first(throwOne, count, list);
}

function first(throwOne: Throw, count: number, list: PlaceList): PlaceList {
  for (let i = 0; i < count; i++) {
    tick(4);
    if (throwOne(i, list)) list.count++;
    else if (list.count === 0 && i > 8) break;
  }
  return list;
}

/** Of many thrown places so many that none are crowded. @param room area or volume */
function relaxed(throwOne: Throw, count: number, list: PlaceList, room: number, flat: boolean): PlaceList {
  first(throwOne, count * THROWN_FOR_ONE, list);
  return list.chosen(relaxedPlaces(list.position, count, greatestDistance(count, room, flat)));
}

/** More places than this in the room are not laid out to choose from them. */
const MOST_TILED = 3_000_000;

/** Of a room filled with places that keep apart the first ones; null where that would be far too many. */
function tiled(
  mesh: Mesh,
  inside: LazyInside,
  { count, least, seed }: Wanted,
  list: PlaceList,
): PlaceList | null {
  const bounds = domainBounds(mesh.points);
  if (!bounds) return null;
  const sides = [0, 1, 2].map((a) => bounds.max[a] - bounds.min[a]);
  if ((sides[0] * sides[1] * sides[2] * CAPACITY) / (least * least * least) > MOST_TILED) return null;
  const all = tiledPlaces(apartTile(seed), bounds, least, seed, (x, y, z) => inside.contains(x, y, z));
  for (; list.count < Math.min(count, all.length / 3); list.count++) {
    const at = list.count * 3;
    list.put(all[at], all[at + 1], all[at + 2], 0, 1, 0);
  }
  return list;
}

/** Throws for each site that is asked for; in a room for millions hardly one is in vain. */
const THROWS = 60;

/** Throws places and keeps those that are far enough from all before: more throws never change what is kept. */
function thrownApart(throwOne: Throw, count: number, least: number, list: PlaceList): PlaceList {
  const grid = new GrowingGrid(2 * least);
  for (let i = 0; i < count * THROWS && list.count < count; i++) {
    tick(16);
    const at = list.count;
    if (!throwOne(i, list) || grid.isNear(list.x[at], list.y[at], list.z[at], least)) continue;
    grid.add(list.x[at], list.y[at], list.z[at]);
    list.count++;
  }
  return list;
}

function tellOfLess(found: number, count: number, least: number, context: NodeContext): void {
  if (least > 0) context.note(`${found} stand; there is room for no more that keep ${least} units apart.`);
  else
    context.warn(
      found === 0
        ? "Nothing was found inside: the mesh is open, or flat. Close it, or scatter on the surface."
        : `${count - found} of ${count} found no place inside and were left out.`,
      { input: "shape" },
    );
}

function sitesAt(list: PlaceList, outward: (typeof OUTWARD)[number]): Domain {
  const { normalX, normalY, normalZ } = list;
  const places = list.position;
  let q = outwardRotation(outward, UP, UP);
  const sites = makeSites(list.count, ({ position, rotation }) => {
    position.forEach((lane, a) => {
      lane.set(places[a]);
    });
    for (let i = 0; i < list.count; i++) {
      tick();
      // Those of one face follow each other seldom, those inside of a volume always.
      const [x, y, z] = [normalX[i], normalY[i], normalZ[i]];
      if (i === 0 || x !== normalX[i - 1] || y !== normalY[i - 1] || z !== normalZ[i - 1])
        q = outwardRotation(outward, [x, y, z], UP);
      for (let l = 0; l < 4; l++) rotation[l][i] = q[l];
    }
  });
  const { uv } = list;
  return withColumns(sites, {
    normal: makeColumn("vector", list.normal),
    ...(uv.length > 0
      ? {
          uv: makeColumn(
            "pair",
            uv.map((lane) => list.filled(lane)),
          ),
        }
      : {}),
  });
}

/** Which way sites inside of a volume look. */
const UP: Vec3 = [0, 1, 0];
