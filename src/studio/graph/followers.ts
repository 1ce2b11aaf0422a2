/** What is most often linked with a port, so that it is offered first. */
import { parseAddress } from "@/core/document/links";
import type { Graph } from "@/core/document/schema";
import { catalogue } from "@/core/nodes/catalogue";

/** Types of nodes, the most frequent first, by the port that they are linked with: `type.port`. */
export interface Followers {
  /** By outputs. */
  readonly after: Readonly<Record<string, readonly string[]>>;
  /** By inputs. */
  readonly before: Readonly<Record<string, readonly string[]>>;
}

/** So many of each port are kept. */
const MOST = 6;

/** Counted in graphs. */
export function followersOf(graphs: readonly Graph[]): Followers {
  const [after, before] = [new Map<string, Map<string, number>>(), new Map<string, Map<string, number>>()];
  const count = (side: typeof after, port: string, type: string) => {
    const counts = side.get(port) ?? new Map<string, number>();
    side.set(port, counts.set(type, (counts.get(type) ?? 0) + 1));
  };
  for (const { nodes, links } of graphs) {
    const types = new Map(nodes.map(({ id, type }) => [id, type]));
    for (const link of links) {
      const [from, to] = [parseAddress(link.from), parseAddress(link.to)];
      const [source, target] = [types.get(from.node) ?? "", types.get(to.node) ?? ""];
      // Capsules have names of their own in each piece.
      if (!catalogue.has(source) || !catalogue.has(target)) continue;
      count(after, `${source}.${from.port}`, target);
      count(before, `${target}.${to.port}`, source);
    }
  }
  return { after: ranked(after), before: ranked(before) };
}

const ranked = (side: ReadonlyMap<string, ReadonlyMap<string, number>>) =>
  Object.fromEntries(
    [...side]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([port, counts]) => [
        port,
        [...counts]
          .sort(([a, n], [b, m]) => m - n || (a < b ? -1 : 1))
          .slice(0, MOST)
          .map(([type]) => type),
      ]),
  );
