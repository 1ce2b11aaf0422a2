import { tick } from "../../cancelling";
import { positionField } from "../../fields/expression";
import { type Bounds, domainBounds } from "../../geometry/bounds";
import { type Domain, gather, makeColumn, widened, withColumns } from "../../geometry/column";
import { EMPTY_SHAPE, makeSites } from "../../geometry/shape";
import { numbersWhere } from "../../geometry/subset";
import { type Volume, volumeBounds } from "../../geometry/volume";
import { Inside } from "../../spatial/inside";
import { SurfaceTable } from "../../spatial/surface-table";
import { withDepth } from "../../volumes/filling";
import { VolumeQuestions } from "../../volumes/questions";
import { toldTo } from "../../volumes/reshape";
import { defineNode, type NodeContext } from "../define";
import { choice, length, out, shape } from "../ports";
import { closestOn, NOTHING_CARRIED } from "../surface-queries";
import { LATTICES, PACKINGS, type Packing } from "./lattice";

const KEEPS = [
  "all of it",
  "the surface only",
  "a shell inside",
  "a shell outside",
  "a shell on both sides",
] as const;
type Keep = (typeof KEEPS)[number];

export const fillSites = defineNode({
  type: "fill-sites",
  family: "layout",
  title: "Fill sites",
  about: "Sites on a lattice inside of a closed mesh, or in a shell along its surface.",
  synonyms: ["voxel", "pack", "volume", "solid", "lattice", "inside", "bricks", "honeycomb", "copies"],
  inputs: {
    shape: shape({ about: "A closed mesh, or a volume." }),
    spacing: length({
      default: 0.2,
      min: 0,
      soft: [0.05, 1],
      about: "From one site to the next: cubes of this side touch, and balls of half of it.",
    }),
    packing: choice(PACKINGS, {
      about:
        "How the sites lie: in boxes, as bricks are laid, as close as balls can be, or with one in the middle of each box.",
    }),
    keep: choice(KEEPS, {
      label: "part",
      about:
        "The whole; those of it that the others do not hide, nearer to the surface than one spacing; or what is near to it.",
    }),
    thickness: length({
      default: 0.2,
      min: 0,
      soft: [0, 2],
      shownWhen: { input: "keep", is: KEEPS.slice(2) },
      about: "How far a shell reaches from the surface.",
    }),
  },
  outputs: {
    sites: out.shape(
      "The sites, X fastest, then Z, then Y; `size` is the spacing, ids are places of the lattice.",
    ),
  },
  summary: ({ packing, spacing }) => `${packing} of ${spacing} units`,
  cost: ({ shape, spacing, packing, keep, thickness }) => {
    const { volume } = shape;
    const bounds = domainBounds(shape.mesh?.points) ?? (volume ? volumeBounds(volume) : null);
    if (!bounds) return {};
    const around = keep.endsWith("outside") || keep.endsWith("sides") ? 2 * thickness : 0;
    const room = [0, 1, 2].reduce(
      (product, a) => product * Math.max(bounds.max[a] - bounds.min[a] + around, spacing),
      1,
    );
    const sites = room / (spacing * spacing * spacing * LATTICES[packing].cell);
    return {
      sites: keep === "all of it" ? sites : sites / 2,
      milliseconds: sites * (keep === "all of it" ? 0.0002 : 0.001),
    };
  },
  evaluate({ shape, spacing, packing, keep, thickness }, context) {
    const { mesh, volume } = shape;
    if (volume && !mesh)
      return { sites: { sites: filledVolume(volume, spacing, packing, keep, thickness, context) } };
    const bounds = domainBounds(mesh?.points);
    if (!mesh || !bounds || mesh.faces.count === 0) {
      context.warn("No mesh and no volume arrive, so there is nothing to fill.", { input: "shape" });
      return { sites: EMPTY_SHAPE };
    }
    const rows = rowsOver(bounds, spacing, packing, reach(keep, thickness));
    const inside = new Inside(mesh);
    const found = new Found();
    let open = 0;
    const [both, outside] = [keep === "a shell on both sides", keep === "a shell outside"];
    rows.visit((y, z, first, count, id) => {
      const { count: crossed, x: at, turns, open: isOpen } = inside.crossings(y, z);
      if (isOpen) open++;
      let winding = 0;
      let c = 0;
      // From one crossing to the next all sites are inside, or none is.
      for (let i = 0; i < count; ) {
        while (c < crossed && at[c] <= first + i * spacing) winding += turns[c++];
        const end = c < crossed ? firstFrom(at[c], first, spacing, i + 1, count) : count;
        const isIn = winding !== 0 && !isOpen;
        if (both || isIn !== outside) {
          found.put(first, spacing, y, z, id, i, end);
        }
        i = end;
      }
    });
    const all = found.sites(spacing);
    const table = keep === "all of it" ? null : SurfaceTable.of(mesh);
    const near = keep === "the surface only" ? spacing : thickness;
    const sites = table ? gather(all, nearTo(all, table, near, context)) : all;
    tell(context, open, rows.count, sites.count);
    return { sites: { sites } };
  },
});

/** Of a volume the same, with how deep each site lies. */
function filledVolume(
  volume: Volume,
  spacing: number,
  packing: Packing,
  keep: Keep,
  thickness: number,
  context: NodeContext,
): Domain {
  const near = keep === "all of it" ? 0 : keep === "the surface only" ? spacing : thickness;
  const told = volume.voxels.columns.distance ? (toldTo(volume, near) ?? volume) : volume;
  const bounds = volumeBounds(told);
  const found = new Found();
  const questions = new VolumeQuestions(told, "");
  const [both, outside] = [keep === "a shell on both sides", keep === "a shell outside"];
  if (bounds)
    rowsOver(bounds, spacing, packing, 0).visit((y, z, from, count, id) => {
      for (let i = 0; i < count; i++) {
        const x = from + i * spacing;
        const isIn = questions.isInside(x, y, z);
        if (!both && isIn === outside) continue;
        if (near > 0 && Math.abs(questions.value(x, y, z)) > near) continue;
        found.put(from, spacing, y, z, id, i, i + 1);
      }
    });
  if (found.count === 0)
    context.warn("No site of the lattice lies there. Make the spacing smaller.", { input: "spacing" });
  return withDepth(found.sites(spacing), told);
}

/** How far beyond the shape sites may lie. */
const reach = (keep: Keep, thickness: number): number =>
  keep === "a shell outside" || keep === "a shell on both sides" ? thickness : 0;

/** The number of the first site of a row that stands at `x` or after it, from `least` to `most`. */
function firstFrom(x: number, first: number, spacing: number, least: number, most: number): number {
  let i = Math.min(most, Math.max(least, Math.ceil((x - first) / spacing)));
  // The quotient may be off by rounding; the sites are where they are.
  while (i > least && first + (i - 1) * spacing >= x) i--;
  while (i < most && first + i * spacing < x) i++;
  return i;
}

/** The numbers of those sites that are no further than `near` from a surface. */
function nearTo(sites: Domain, table: SurfaceTable, near: number, context: NodeContext): Int32Array {
  const [distance] = context.run(closestOn(table, positionField(), NOTHING_CARRIED, near), sites);
  return numbersWhere(sites.count, (i) => distance[i] <= near);
}

function tell(context: NodeContext, open: number, rows: number, count: number): void {
  if (open > 0)
    context.warn(
      `The mesh is open: ${open} of ${rows} rows go into it and never out, or the other way, and were left out. Close its holes to fill all of it.`,
      { input: "shape" },
    );
  if (count === 0)
    context.warn("No site of the lattice lies there. Make the spacing smaller.", { input: "spacing" });
}

/** A slack, so that rounding does not cost a row of a shape that rows fit exactly. */
const SLACK = 1e-6;

/** The rows of a lattice over a box: as many as fit, in its middle. */
function rowsOver({ min, max }: Bounds, spacing: number, packing: Packing, beyond: number) {
  const { layer, row, shift } = LATTICES[packing];
  const along = (a: number, step: number) => {
    const room = max[a] - min[a] + 2 * beyond;
    const count = Math.max(1, Math.floor((room - spacing) / (step * spacing) + SLACK) + 1);
    return { count, first: (min[a] + max[a] - (count - 1) * step * spacing) / 2 };
  };
  const [xs, ys, zs] = [along(0, 1), along(1, layer), along(2, row)];
  return {
    count: ys.count * zs.count,
    visit(each: (y: number, z: number, firstX: number, count: number, id: number) => void): void {
      for (let k = 0; k < ys.count; k++)
        for (let j = 0; j < zs.count; j++) {
          const [z, x] = shift(j, k);
          each(
            ys.first + k * layer * spacing,
            zs.first + (j * row + z) * spacing,
            xs.first + x * spacing,
            xs.count,
            (k * zs.count + j) * xs.count,
          );
        }
    },
  };
}

/** Places that are found, in lanes that grow. */
class Found {
  count = 0;
  private lanes = [0, 1, 2].map(() => new Float32Array(1024));
  private ids = new Int32Array(1024);

  /** Puts the sites from … end of a row that begins with the id `id`. */
  put(first: number, spacing: number, y: number, z: number, id: number, from: number, end: number): void {
    const { count } = this;
    const until = count + end - from;
    tick((end - from) * 0.5);
    if (until > this.ids.length) {
      const length = Math.max(until, this.ids.length * 2);
      this.lanes = this.lanes.map((lane) => widened(lane, length));
      this.ids = widened(this.ids, length);
    }
    const [xs, ys, zs] = this.lanes;
    const { ids } = this;
    for (let at = count, i = from; at < until; at++, i++) {
      xs[at] = first + i * spacing;
      ids[at] = id + i;
    }
    ys.fill(y, count, until);
    zs.fill(z, count, until);
    this.count = until;
  }

  sites(size: number) {
    const { count } = this;
    const sites = makeSites(count, ({ position }) => {
      position.forEach((lane, a) => {
        lane.set(this.lanes[a].subarray(0, count));
      });
    });
    return withColumns(sites, {
      id: makeColumn("integer", [this.ids.slice(0, count)]),
      size: makeColumn("number", [new Float32Array(count).fill(size)]),
    });
  }
}
