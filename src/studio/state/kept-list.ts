/** Small things that this browser remembers by name: read at once, before the first picture is painted. */
import { z } from "zod";

/** Things that are remembered, the last used first. */
const MOST = 200;

export interface KeptList<T> {
  get(name: string): T | undefined;
  keep(name: string, value: T): void;
}

/** @param key under which the browser keeps all of them */
export function keptList<T>(key: string, schema: z.ZodType<T>): KeptList<T> {
  const List = z.array(z.tuple([z.string(), schema]));
  const all = (): readonly (readonly [string, T])[] => {
    // A browser may keep nothing, or something else may stand there.
    try {
      return List.catch([]).parse(JSON.parse(localStorage.getItem(key) ?? "[]"));
    } catch {
      return [];
    }
  };
  return {
    get: (name) => all().find(([one]) => one === name)?.[1],
    keep(name, value) {
      const others = all().filter(([one]) => one !== name);
      try {
        localStorage.setItem(key, JSON.stringify([[name, value], ...others].slice(0, MOST)));
      } catch {
        // Then it is as if for the first time.
      }
    },
  };
}
