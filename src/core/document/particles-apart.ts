/** Documents in which Particles still held what Emitter, Gravity and Drag are for. */

type Raw = Readonly<Record<string, unknown>>;
interface RawNode {
  readonly id: string;
  readonly type: string;
  readonly at: readonly [number, number];
  readonly set?: Raw;
  readonly keys?: Raw;
}
interface RawLink {
  readonly from: string;
  readonly to: string;
}
interface RawGraph {
  readonly nodes?: readonly RawNode[];
  readonly links?: readonly RawLink[];
}

/** What moved where: inputs of Particles by the node that has them now. */
const MOVED = {
  emitter: {
    shape: "shape",
    rate: "rate",
    life: "life",
    lifeSpread: "lifeSpread",
    speed: "speed",
    speedSpread: "speedSpread",
    spread: "spread",
    seed: "seed",
  },
  gravity: { gravity: "pull" },
  drag: { drag: "linear" },
} as const;

/** Where their cards lie against that of Particles. */
const BESIDE = { emitter: [-284, 0], gravity: [-284, 420], drag: [-284, 560] } as const;

const OUTPUT = { emitter: "births", gravity: "force", drag: "force" } as const;

/** Version 1 to 2: what Particles held becomes nodes of their own, linked in the order in which it was reckoned with. */
export function particlesApart(document: Raw): Raw {
  const renamed = new Map<string, string>();
  const graph = apart(document.graph as RawGraph | undefined, renamed);
  const capsules = Object.fromEntries(
    Object.entries((document.capsules ?? {}) as Readonly<Record<string, Raw>>).map(([name, capsule]) => [
      name,
      { ...capsule, graph: apart(capsule?.graph as RawGraph | undefined, new Map()) },
    ]),
  );
  const dials = Array.isArray(document.dials)
    ? document.dials.map((dial: Raw) => ({ ...dial, input: renamed.get(String(dial?.input)) ?? dial?.input }))
    : document.dials;
  const snapshots = Array.isArray(document.snapshots)
    ? document.snapshots.map((snapshot: Raw) => ({ ...snapshot, values: moved(snapshot?.values, renamed) }))
    : document.snapshots;
  return {
    ...document,
    glemmo: 2,
    ...(document.graph === undefined ? {} : { graph }),
    ...(document.capsules === undefined ? {} : { capsules }),
    ...(dials === undefined ? {} : { dials }),
    ...(snapshots === undefined ? {} : { snapshots }),
  };
}

const moved = (values: unknown, renamed: ReadonlyMap<string, string>): unknown =>
  values && typeof values === "object" && !Array.isArray(values)
    ? Object.fromEntries(Object.entries(values).map(([input, value]) => [renamed.get(input) ?? input, value]))
    : values;

/** @param renamed gets where addresses of inputs have gone */
function apart(graph: RawGraph | undefined, renamed: Map<string, string>): RawGraph | undefined {
  if (!Array.isArray(graph?.nodes) || !Array.isArray(graph.links)) return graph;
  const taken = new Set((graph.nodes as RawNode[]).map(({ id }) => id));
  const nodes: RawNode[] = [];
  const added: RawLink[] = [];
  for (const node of graph.nodes as RawNode[]) {
    if (node?.type !== "particles") {
      nodes.push(node);
      continue;
    }
    const kept = {
      set: { ...node.set } as Record<string, unknown>,
      keys: { ...node.keys } as Record<string, unknown>,
    };
    for (const [part, inputs] of Object.entries(MOVED) as [
      keyof typeof MOVED,
      Readonly<Record<string, string>>,
    ][]) {
      let id = `${node.id}-${part}`;
      while (taken.has(id)) id += "-2";
      taken.add(id);
      const [set, keys]: Record<string, unknown>[] = [{}, {}];
      for (const [before, now] of Object.entries(inputs)) {
        renamed.set(`${node.id}.${before}`, `${id}.${now}`);
        if (before in kept.set) set[now] = kept.set[before];
        if (before in kept.keys) keys[now] = kept.keys[before];
        delete kept.set[before];
        delete kept.keys[before];
      }
      const at = [node.at[0] + BESIDE[part][0], node.at[1] + BESIDE[part][1]] as const;
      nodes.push({ id, type: part, at, set, ...(Object.keys(keys).length > 0 ? { keys } : {}) });
      added.push({
        from: `${id}.${OUTPUT[part]}`,
        to: `${node.id}.${part === "emitter" ? "births" : "forces"}`,
      });
    }
    renamed.set(`${node.id}.push`, `${node.id}.forces`);
    const { keys: _before, ...rest } = node;
    nodes.push({ ...rest, set: kept.set, ...(Object.keys(kept.keys).length > 0 ? { keys: kept.keys } : {}) });
  }
  if (added.length === 0) return graph;
  // A value of an input is linked as `node.set:input`.
  const sources = new Map([...renamed].map(([before, now]) => [settingOf(before), settingOf(now)]));
  const links = (graph.links as RawLink[]).map(({ from, to }) => ({
    from: sources.get(from) ?? from,
    to: renamed.get(to) ?? to,
  }));
  return { ...graph, nodes, links: [...links, ...added] };
}

const settingOf = (address: string): string => {
  const dot = address.lastIndexOf(".");
  return `${address.slice(0, dot)}.set:${address.slice(dot + 1)}`;
};
