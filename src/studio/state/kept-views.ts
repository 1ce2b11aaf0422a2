/** How graphs were last looked at, in this browser: read at once, before the first picture of a graph is painted. */
import { z } from "zod";

const KEY = "glemmo views";
/** Graphs that are remembered, the last looked at first. */
const MOST = 200;

const View = z.object({ x: z.number(), y: z.number(), zoom: z.number().positive() });
const Views = z.array(z.tuple([z.string(), View]));
type View = z.infer<typeof View>;

function kept(): z.infer<typeof Views> {
  // A browser may keep nothing, or something else may stand there.
  try {
    return Views.catch([]).parse(JSON.parse(localStorage.getItem(KEY) ?? "[]"));
  } catch {
    return [];
  }
}

/** @param graph the piece and, in a capsule, the way there */
export const keptView = (graph: string): View | undefined => kept().find(([name]) => name === graph)?.[1];

export function keepView(graph: string, { x, y, zoom }: View): void {
  const others = kept().filter(([name]) => name !== graph);
  try {
    localStorage.setItem(KEY, JSON.stringify([[graph, { x, y, zoom }], ...others].slice(0, MOST)));
  } catch {
    // Then it opens as if for the first time.
  }
}
