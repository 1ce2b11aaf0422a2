import { type Column, gather, LANES, makeColumn, withColumns } from "../../../geometry/column";
import { makeCurves } from "../../../geometry/curves";
import { placesOf } from "../../../geometry/domains";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { own } from "../../../own";
import { defineNode } from "../../define";
import { out, shape, text, toggle } from "../../ports";

export const threadSites = defineNode({
  type: "thread-sites",
  family: "form",
  title: "Thread sites",
  about:
    "A curve through all sites that have the same number, one after the other: by their id, or any attribute.",
  synonyms: [
    "join points",
    "polyline",
    "connect by id",
    "string",
    "curve through points",
    "trail by hand",
    "add lines",
  ],
  inputs: {
    shape: shape({ about: "Sites, clones or points." }),
    by: text({ default: "id", about: "The attribute that is the same for all of one curve." }),
    order: text({
      default: "",
      about:
        "The attribute by which they follow each other, the least first; as they come where it is empty.",
    }),
    closed: toggle({ default: false, about: "From the last back to the first." }),
  },
  outputs: {
    shape: out.shape("A curve for each number that two sites have at least, with what they carry."),
  },
  summary: ({ by, order }) => (order ? `by ${by}, in order of ${order}` : `by ${by}`),
  cost: ({ shape }) => ({ points: placesOf(shape)?.count ?? 0 }),
  evaluate({ shape, by, order, closed }, context) {
    const sites = placesOf(shape);
    if (!sites || sites.count < 2) {
      context.warn("Fewer than two sites arrive, so there is nothing to thread.", { input: "shape" });
      return { shape: EMPTY_SHAPE };
    }
    const numbered = (name: string, input: string): Column | null => {
      const column = own(sites.columns, name.trim());
      if (column && LANES[column.kind] === 1) return column;
      if (name.trim() !== "" && name.trim() !== "id")
        context.warn(`No attribute "${name}" of one number arrives.`, { input });
      return null;
    };
    const group = numbered(by, "by")?.lanes[0];
    const rank = order.trim() === "" ? undefined : numbered(order, "order")?.lanes[0];
    const members = new Map<number, number[]>();
    for (let i = 0; i < sites.count; i++) {
      const key = group?.[i] ?? i;
      const list = members.get(key);
      if (list) list.push(i);
      else members.set(key, [i]);
    }
    const threads = [...members].filter(([, list]) => list.length > 1).sort(([a], [b]) => a - b);
    if (threads.length === 0) {
      context.note("No two sites have the same number, so there is no curve.");
      return { shape: EMPTY_SHAPE };
    }
    if (rank) for (const [, list] of threads) list.sort((a, b) => rank[a] - rank[b] || a - b);
    const all = Int32Array.from(threads.flatMap(([, list]) => list));
    const taken = gather(sites, all).columns;
    const { position, id: _own, rotation: _turn, scale: _size, source: _shape, ...kept } = taken;
    const curveStarts = new Int32Array(threads.length + 1);
    for (const [k, [, list]] of threads.entries()) curveStarts[k + 1] = curveStarts[k] + list.length;
    const made = makeCurves({
      position: position.lanes as [Float32Array, Float32Array, Float32Array],
      curveStarts,
      closed: new Int32Array(threads.length).fill(closed ? 1 : 0),
    });
    const number = makeColumn("number", [Float32Array.from(threads, ([key]) => key)]);
    return {
      shape: {
        curves: {
          ...made,
          points: withColumns(made.points, kept),
          curves: withColumns(made.curves, { number }),
        },
      },
    };
  },
});
