/**
 * Words that are rewritten (P. Prusinkiewicz and A. Lindenmayer, "The Algorithmic Beauty of Plants", 1990, §1.3 to §1.10): every symbol that has a
 * rule becomes what the rule says, all at once, once a generation.
 */
import { tick } from "../cancelling";
import type { Operation } from "../fields/operation";
import { OPERATIONS } from "../fields/operations";
import { type Algebra, compileFormula } from "../formula/compile";
import { FormulaFault, parseFormula } from "../formula/parse";
import { hash3, unit24 } from "../maths/random";

/** A letter and the numbers that it has. */
interface Letter<T> {
  readonly symbol: string;
  readonly numbers: readonly T[];
}

/** A number by the numbers that the letter which is rewritten has. */
type ByNumbers = (of: readonly number[]) => number;

/** What one symbol may become, when, and how often against the others. */
interface Rewrite {
  readonly weight: number;
  /** How many numbers a letter has that it is for; any letter when it names none. */
  readonly names: number;
  readonly when: ByNumbers | null;
  readonly becomes: readonly Letter<ByNumbers>[];
}

export type Rules = ReadonlyMap<string, readonly Rewrite[]>;

/** A rule or an axiom that cannot be read. */
export class BadRule extends Error {}

/** A word of more symbols than can be held. */
export class TooLong extends Error {
  constructor(readonly generation: number) {
    super();
  }
}

/** Symbols of one word at most. */
const MOST_SYMBOLS = 2_000_000;

const FUNCTIONS: Algebra<ByNumbers> = {
  constant: (value) => () => value,
  apply(name, args) {
    const { fold }: Operation = OPERATIONS[name];
    if (!fold) throw new FormulaFault(0, "This cannot be worked out of single numbers.");
    return (of) => fold(...args.map((arg) => arg(of)));
  },
};

/** @throws BadRule */
function numberOf(text: string, names: readonly string[]): ByNumbers {
  try {
    const known = Object.fromEntries(
      names.map((name, i): [string, ByNumbers[]] => [name, [(of: readonly number[]) => of[i]]]),
    );
    const made = compileFormula(parseFormula(text), FUNCTIONS, known);
    if (made.length === 1) return made[0];
  } catch (error) {
    if (!(error instanceof FormulaFault)) throw error;
    throw new BadRule(`"${text}" is no number: ${error.message}`);
  }
  throw new BadRule(`"${text}" is a vector, and one number is wanted.`);
}

/** Parts of a list that commas part, but not within brackets. */
function partsOf(list: string): string[] {
  const parts = [""];
  let depth = 0;
  for (const c of list) {
    depth += c === "(" ? 1 : c === ")" ? -1 : 0;
    if (c === "," && depth === 0) parts.push("");
    else parts[parts.length - 1] += c;
  }
  return parts;
}

/** Letters of a word, each with the numbers that stand in brackets after it. @throws BadRule */
function lettersOf(text: string, names: readonly string[]): Letter<ByNumbers>[] {
  const letters: Letter<ByNumbers>[] = [];
  const all = [...text];
  for (let i = 0; i < all.length; i++) {
    const symbol = all[i];
    if (all[i + 1] !== "(") {
      letters.push({ symbol, numbers: [] });
      continue;
    }
    let depth = 0;
    let end = i + 1;
    for (; end < all.length; end++) {
      depth += all[end] === "(" ? 1 : all[end] === ")" ? -1 : 0;
      if (depth === 0) break;
    }
    if (end === all.length) throw new BadRule(`a bracket after ${symbol} is not closed.`);
    const list = partsOf(all.slice(i + 2, end).join(""));
    letters.push({ symbol, numbers: list.map((part) => numberOf(part, names)) });
    i = end;
  }
  return letters;
}

/** How often, a symbol, and the names of its numbers. */
const HEAD = /^(?:(\d+(?:\.\d+)?|\.\d+):)?([^\s(])(?:\(([^)]*)\))?/u;
/** An equals sign that is no part of a comparison. */
const BECOMES = /(?<![<>=!])=(?!=)/;

/**
 * Rules, one a line: `F = F[+F]F`; a number before says how often, where one symbol has several: `0.3: F = FF`. Letters may have numbers, which
 * rules name, ask about and hand on: `A(x): x > 0.1 = F(x)[+A(x * 0.7)]` (section 1.10 there). Spaces do not count.
 * @throws BadRule naming the line
 */
export function rulesOf(text: string): Rules {
  const rules = new Map<string, Rewrite[]>();
  for (const [n, line] of text.split(/\n|;/).entries()) {
    const bare = line.replace(/\s+/g, "");
    if (bare === "") continue;
    const where = `Line ${n + 1}, "${line.trim()}"`;
    const [head, weight, symbol, named] = HEAD.exec(bare) ?? [];
    const rest = bare.slice(head?.length ?? 0);
    const equals = BECOMES.exec(rest);
    const isAsked = rest.startsWith(":");
    if (symbol === undefined || !equals || (equals.index > 0 && !isAsked))
      throw new BadRule(
        `${where}, is no rule: it wants one symbol, = and what it becomes, as F = F[+F]F or A(x): x > 1 = F(x)A(x / 2).`,
      );
    const names = named ? named.split(",") : [];
    try {
      const all = rules.get(symbol) ?? [];
      all.push({
        weight: weight === undefined ? 1 : Number(weight),
        names: names.length,
        when: isAsked ? numberOf(rest.slice(1, equals.index), names) : null,
        becomes: lettersOf(rest.slice(equals.index + 1), names),
      });
      rules.set(symbol, all);
    } catch (error) {
      if (error instanceof BadRule) throw new BadRule(`${where}: ${error.message}`);
      throw error;
    }
  }
  return rules;
}

export interface Word {
  readonly symbols: string;
  /** Of each symbol the numbers in brackets after it. */
  readonly numbers: readonly (readonly number[])[];
  /** Of each symbol the generation that it came in; 0 for those of the axiom. */
  readonly born: Uint8Array;
}

const NONE: readonly number[] = [];
const numbersOf = (letter: Letter<ByNumbers>, of: readonly number[]): readonly number[] =>
  letter.numbers.length === 0 ? NONE : letter.numbers.map((number) => number(of));

/** @throws TooLong, and BadRule where the axiom cannot be read */
export function rewritten(axiom: string, rules: Rules, generations: number, seed: number): Word {
  const first = lettersOf(axiom.replace(/\s+/g, ""), []);
  let symbols = first.map(({ symbol }) => symbol);
  let numbers = first.map((letter) => numbersOf(letter, NONE));
  let born: number[] = symbols.map(() => 0);
  for (let generation = 1; generation <= generations; generation++) {
    const next: { symbols: string[]; numbers: (readonly number[])[]; born: number[] } = {
      symbols: [],
      numbers: [],
      born: [],
    };
    for (const [i, symbol] of symbols.entries()) {
      tick();
      const own = numbers[i];
      const choices = rules.get(symbol)?.filter((rule) => isFor(rule, own)) ?? [];
      const becomes =
        choices.length > 0 ? chosen(choices, unit24(hash3(seed, i, generation))) : [{ symbol, numbers: [] }];
      // What stays as it is keeps its age, and its numbers where nothing is said of them.
      const isSame = becomes.length === 1 && becomes[0].symbol === symbol && becomes[0].numbers.length === 0;
      for (const letter of becomes) {
        next.symbols.push(letter.symbol);
        next.numbers.push(isSame ? own : numbersOf(letter, own));
        next.born.push(isSame ? born[i] : generation);
      }
      if (next.born.length > MOST_SYMBOLS) throw new TooLong(generation);
    }
    ({ symbols, numbers, born } = next);
  }
  return { symbols: symbols.join(""), numbers, born: Uint8Array.from(born) };
}

const isFor = ({ names, when }: Rewrite, own: readonly number[]): boolean =>
  (names === 0 || names === own.length) && (when === null || when(own) > 0.5);

function chosen(choices: readonly Rewrite[], chance: number): Rewrite["becomes"] {
  const all = choices.reduce((sum, { weight }) => sum + weight, 0);
  let left = chance * all;
  for (const { weight, becomes } of choices) {
    left -= weight;
    if (left < 0) return becomes;
  }
  return choices[choices.length - 1].becomes;
}
