/** Finds what serves a need in plain words: whole sentences, some of whose words match, words that are misspelt. */
import MiniSearch, { type SearchResult } from "minisearch";
import { stemmer } from "stemmer";
import type { Family } from "@/core/nodes/define";
import { matchOf } from "@/ui/word-match";

/** Something that the adder offers. */
export interface Wanted {
  /** Unlike all others'. */
  readonly id: string;
  readonly title: string;
  /** Other names, and needs that it serves; those that say best what it is come first. */
  readonly needs: readonly string[];
  readonly about: string;
  readonly family: Family | "recipe";
  /** Below 1 for what should stand behind others that fit as well. */
  readonly weight?: number;
}

export interface Found<T> {
  readonly thing: T;
  /** The name, need or sentence of it that fits. */
  readonly why: string;
}

/** Words that say nothing about what is wanted. */
const STOP = new Set(
  "a an and the of on onto in into to at by for from with my me i it its is are be it's so that this these those some thing things something stuff make made want need how do can let should would like as or over up".split(
    " ",
  ),
);

/** Other spellings and words of the same meaning, by stem, for what the declarations call by one name. */
const SAME: Readonly<Record<string, string>> = {
  color: "colour",
  colorful: "colour",
  center: "middle",
  centre: "middle",
  gray: "grey",
  duplicate: "copy",
  clone: "copy",
  copi: "copy",
  cube: "box",
  square: "box",
  ball: "sphere",
  orb: "sphere",
  big: "size",
  bigger: "size",
  larger: "size",
  smaller: "size",
  angl: "turn",
  rotat: "turn",
  spin: "turn",
  circl: "ring",
  round: "ring",
  delai: "late",
  randomli: "random",
  chanc: "random",
};

function termsOf(word: string): string | null {
  const plain = word.toLowerCase();
  if (STOP.has(plain)) return null;
  const stem = stemmer(plain);
  return SAME[plain] ?? SAME[stem] ?? stem;
}

const termIndex = <T extends Wanted>(things: readonly T[]): MiniSearch<T> => {
  const index = new MiniSearch<T>({
    fields: ["title", "needs", "about"],
    processTerm: (word) => termsOf(word) ?? false,
    extractField: (thing, name) =>
      name === "needs" ? thing.needs.join(" . ") : (thing as unknown as Record<string, string>)[name],
  });
  index.addAll(things);
  return index;
};

const indexes = new WeakMap<readonly Wanted[], MiniSearch<Wanted>>();

/** All that serve the need, the best first; those equally good stay in their order. */
export function findNeeds<T extends Wanted>(words: string, things: readonly T[]): Found<T>[] {
  let index = indexes.get(things);
  if (!index) indexes.set(things, (index = termIndex<Wanted>(things)));
  const search = (fuzzy: number) =>
    index.search(words, {
      boost: { title: 3, needs: 2, about: 0.6 },
      prefix: (term, i, terms) => i === terms.length - 1 && term.length > 1,
      fuzzy: (term) => (term.length > 3 ? fuzzy : false),
      combineWith: "OR",
    });
  const strict = search(0.2);
  const results = strict.length > 0 ? strict : search(0.4);
  const scores = new Map(results.map((result) => [result.id as string, result]));
  const asked = new Set(words.split(/\s+/).flatMap((word) => termsOf(word) ?? [])).size;
  return things
    .map((thing) => ({ thing, result: scores.get(thing.id), literal: literalOf(words, thing) }))
    .map((found) => ({
      ...found,
      score:
        (found.thing.weight ?? 1) *
        ((found.result ? shareOf(found.result, asked) : 0) + found.literal * LITERAL),
    }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .filter(({ score }, i, [best]) => i < MOST && (i < FEW || score > best.score * LEAST))
    .map(({ thing, result }) => ({ thing, why: whyOf(thing, result, words) }));
}

/** So many are offered; beyond a few none that fits less than this part of the best. */
const MOST = 16;
const FEW = 6;
const LEAST = 0.12;

/** What stands as it was typed counts this much more than what only shares words. */
const LITERAL = 12;
/** And a whole name so many times that again. */
const WHOLE = 2;

/** A whole name, or whole words at the beginning of the title, count more than a part of one; the first names count most. */
function literalOf(words: string, { title, needs }: Wanted): number {
  const typed = words.trim().toLowerCase();
  const own = title.toLowerCase();
  const place = own.startsWith(`${typed} `)
    ? 0
    : [own, ...needs].findIndex((name) => name.toLowerCase() === typed);
  return matchOf(words, { title, synonyms: needs }) + (place < 0 ? 0 : WHOLE / (1 + place / 10));
}

/** Its score, by the part that it has of all words that were asked for. */
const shareOf = ({ score, queryTerms }: SearchResult, asked: number): number =>
  score * (asked > 0 ? queryTerms.length / asked : 1);

/** The name or need that has most of the words that were found; else the sentence about it. */
function whyOf({ needs, about }: Wanted, result: SearchResult | undefined, words: string): string {
  const found = new Set(result?.terms ?? []);
  const typed = words.trim().toLowerCase();
  const count = (text: string) =>
    text.split(/\W+/).filter((word) => found.has(termsOf(word) ?? "")).length +
    (typed !== "" && text.toLowerCase().includes(typed) ? 10 : 0);
  const best = needs.reduce((a, b) => (count(b) > count(a) ? b : a), "");
  return count(best) > 0 ? best : about;
}
