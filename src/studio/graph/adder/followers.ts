/** What is most often linked with a port, so that it is offered first. */
import { parseAddress } from "@/core/document/links";
import type { Graph } from "@/core/document/schema";
import { catalogue } from "@/core/nodes/catalogue";

/** Types of nodes, the most frequent first, by the type and the port that they are linked with. */
type ByPort = Readonly<Record<string, Readonly<Record<string, readonly string[]>>>>;

export interface Followers {
  /** By outputs. */
  readonly after: ByPort;
  /** By inputs. */
  readonly before: ByPort;
}

/** So many of each port are kept. */
const MOST = 6;

/** Counted in graphs. */
export function followersOf(graphs: readonly Graph[]): Followers {
  const [after, before] = [new Map<string, Counts>(), new Map<string, Counts>()];
  const count = (side: typeof after, at: string, port: string, type: string) => {
    const ports: Counts = side.get(at) ?? new Map();
    const counts = ports.get(port) ?? new Map<string, number>();
    side.set(at, ports.set(port, counts.set(type, (counts.get(type) ?? 0) + 1)));
  };
  for (const { nodes, links } of graphs) {
    const types = new Map(nodes.map(({ id, type }) => [id, type]));
    for (const link of links) {
      const [from, to] = [parseAddress(link.from), parseAddress(link.to)];
      const [source, target] = [types.get(from.node) ?? "", types.get(to.node) ?? ""];
      // Capsules have names of their own in each piece.
      if (!catalogue.has(source) || !catalogue.has(target)) continue;
      count(after, source, from.port, target);
      count(before, target, to.port, source);
    }
  }
  return { after: sorted(after, rankedPorts), before: sorted(before, rankedPorts) };
}

/** How often each type is linked with each port. */
type Counts = Map<string, Map<string, number>>;

const sorted = <T, U>(map: ReadonlyMap<string, T>, as: (value: T) => U): Record<string, U> =>
  Object.fromEntries([...map].sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, value]) => [key, as(value)]));

const rankedPorts = (ports: Counts): Record<string, readonly string[]> =>
  sorted(ports, (counts) =>
    [...counts]
      .sort(([a, n], [b, m]) => m - n || (a < b ? -1 : 1))
      .slice(0, MOST)
      .map(([type]) => type),
  );
