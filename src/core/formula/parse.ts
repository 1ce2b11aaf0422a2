/**
 * Text to a syntax tree. Plain arithmetic with the precedence of the open shading languages (GLSL 4.60 §5.1), `^`
 * for powers, and functions by name. Recursive descent; the text is only ever read, never run as code.
 */
import { own } from "../own";

/** `at` is the character a part begins at, counted from 0. */
export type Formula =
  | { readonly kind: "number"; readonly value: number; readonly at: number }
  | { readonly kind: "name"; readonly name: string; readonly at: number }
  /** Operators are calls too: `a + b` calls "+". */
  | { readonly kind: "call"; readonly name: string; readonly args: readonly Formula[]; readonly at: number }
  | { readonly kind: "part"; readonly of: Formula; readonly part: 0 | 1 | 2; readonly at: number };

/** What is wrong, and at which character. */
export class FormulaFault extends Error {
  constructor(
    readonly at: number,
    what: string,
  ) {
    super(what);
  }
}

export interface ParseOptions {
  /** Read `1,5` as one and a half; arguments are then told apart by a comma and a space. */
  readonly decimalComma?: boolean;
}

/** Longest text and deepest nesting that are read. */
const MAX_LENGTH = 4000;
const MAX_DEPTH = 100;

/** Loosest first; operators of one row associate to the left. */
const BINARY: readonly (readonly string[])[] = [
  ["||"],
  ["&&"],
  ["==", "!="],
  ["<=", ">=", "<", ">"],
  ["+", "-"],
  ["*", "/", "%"],
];
const LOOKS_LIKE: Readonly<Record<string, string>> = { "−": "-", "×": "*", "÷": "/", "·": "*" };
const PARTS: Readonly<Record<string, 0 | 1 | 2>> = { x: 0, y: 1, z: 2, r: 0, g: 1, b: 2 };

/** @throws FormulaFault */
export function parseFormula(text: string, options: ParseOptions = {}): Formula {
  if (text.length > MAX_LENGTH)
    throw new FormulaFault(MAX_LENGTH, `It is longer than ${MAX_LENGTH} characters.`);
  const reader = new Reader(
    text.replace(/[−×÷·]/g, (c) => LOOKS_LIKE[c]),
    options.decimalComma === true,
  );
  return reader.whole();
}

class Reader {
  private at = 0;
  private depth = 0;

  constructor(
    private readonly text: string,
    private readonly decimalComma: boolean,
  ) {}

  whole(): Formula {
    const formula = this.either();
    this.space();
    if (this.at < this.text.length)
      throw new FormulaFault(this.at, `"${this.text[this.at]}" does not belong here.`);
    return formula;
  }

  /** condition ? yes : no */
  private either(): Formula {
    if (++this.depth > MAX_DEPTH) throw new FormulaFault(this.at, "There are too many brackets.");
    const condition = this.binary(0);
    this.space();
    const { at } = this;
    let formula = condition;
    if (this.take("?")) {
      const yes = this.either();
      if (!this.take(":")) throw new FormulaFault(this.at, 'A ":" is missing after "?".');
      formula = { kind: "call", name: "?", args: [condition, yes, this.either()], at };
    }
    this.depth--;
    return formula;
  }

  private binary(row: number): Formula {
    if (row === BINARY.length) return this.sign();
    let left = this.binary(row + 1);
    for (;;) {
      this.space();
      const { at } = this;
      const name = BINARY[row].find((operator) => this.take(operator));
      if (!name) return left;
      left = { kind: "call", name, args: [left, this.binary(row + 1)], at };
    }
  }

  private sign(): Formula {
    this.space();
    const { at } = this;
    for (const name of ["-", "+", "!"]) {
      if (!this.take(name)) continue;
      if (++this.depth > MAX_DEPTH) throw new FormulaFault(at, "There are too many signs.");
      const argument = this.sign();
      this.depth--;
      return name === "+"
        ? argument
        : { kind: "call", name: name === "-" ? "negate" : "!", args: [argument], at };
    }
    return this.power();
  }

  private power(): Formula {
    const base = this.part();
    this.space();
    const { at } = this;
    return this.take("^") ? { kind: "call", name: "^", args: [base, this.sign()], at } : base;
  }

  private part(): Formula {
    let of = this.atom();
    for (;;) {
      const found = /^\.([a-z]+)/i.exec(this.text.slice(this.at));
      if (!found) return of;
      const part = own(PARTS, found[1]);
      if (part === undefined) throw new FormulaFault(this.at, `".${found[1]}" is no part; x, y and z are.`);
      of = { kind: "part", of, part, at: this.at };
      this.at += found[0].length;
    }
  }

  private atom(): Formula {
    this.space();
    const { at } = this;
    const digits = this.decimalComma ? /^(\d+([.,]\d+|\.)?|[.,]\d+)/ : /^(\d+\.?\d*|\.\d+)/;
    const number = new RegExp(`${digits.source}([eE][-+]?\\d+)?`).exec(this.text.slice(at));
    if (number) {
      this.at += number[0].length;
      return { kind: "number", value: Number(number[0].replace(",", ".")), at };
    }
    const word = /^[a-z][a-z0-9_]*/i.exec(this.text.slice(at))?.[0];
    if (word) {
      this.at += word.length;
      return this.take("(")
        ? { kind: "call", name: word, args: this.args(), at }
        : { kind: "name", name: word, at };
    }
    if (this.take("(")) {
      const inner = this.either();
      this.close();
      return inner;
    }
    throw new FormulaFault(
      at,
      at >= this.text.length
        ? "A number is missing at the end."
        : `A number is expected, not "${this.text[at]}".`,
    );
  }

  private args(): Formula[] {
    if (this.take(")")) return [];
    const args = [this.either()];
    while (this.take(",")) args.push(this.either());
    this.close();
    return args;
  }

  private close(): void {
    if (!this.take(")")) throw new FormulaFault(this.at, "A closing bracket is missing.");
  }

  private take(characters: string): boolean {
    this.space();
    if (!this.text.startsWith(characters, this.at)) return false;
    this.at += characters.length;
    return true;
  }

  private space(): void {
    while (/\s/.test(this.text[this.at] ?? "")) this.at++;
  }
}
