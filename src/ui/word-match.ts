/** How well things are found under typed words. */

export interface Findable {
  readonly title: string;
  /** What it is also called; the first say best what it is. */
  readonly synonyms?: readonly string[];
  readonly about?: string;
}

const BEGINS = 1;
const CONTAINS = 0.8;
const SYNONYM_BEGINS = 0.7;
const SYNONYM_CONTAINS = 0.5;
const ABOUT = 0.2;
/** Several words that do not stand in the title as they were typed. */
const STREWN = 0.9;

/** 0 unless every typed word is found, else up to 1; title beats synonym beats meaning, beginnings beat middles. */
export function matchOf(words: string, { title, synonyms = [], about = "" }: Findable): number {
  const own = title.toLowerCase();
  const typed = words.toLowerCase().split(/\s+/).filter(Boolean);
  let score = typed.length > 1 && !own.includes(typed.join(" ")) ? STREWN : 1;
  for (const word of typed) {
    const found = Math.max(
      own.startsWith(word) ? BEGINS : own.includes(word) ? CONTAINS : 0,
      ...synonyms.map((synonym, i) => {
        const place = 0.01 * Math.min(i, 20);
        const other = synonym.toLowerCase();
        return other.startsWith(word)
          ? SYNONYM_BEGINS - place
          : other.includes(word)
            ? SYNONYM_CONTAINS - place
            : 0;
      }),
      about.toLowerCase().includes(word) ? ABOUT : 0,
    );
    if (found === 0) return 0;
    score *= found;
  }
  return score;
}

/** Those that are found, the best first; equally good ones stay in their order. */
export const foundUnder = <T>(words: string, things: readonly T[], as: (thing: T) => Findable): T[] =>
  things
    .map((thing) => ({ thing, score: matchOf(words, as(thing)) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ thing }) => thing);
