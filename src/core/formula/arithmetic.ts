/** Plain arithmetic typed into a number field: `360/13`, `2*(3+4)^2`, `-1.5e2`, `pi/2`. */

const CONSTANTS: Readonly<Record<string, number>> = { pi: Math.PI, e: Math.E };
const FUNCTIONS: Readonly<Record<string, (x: number) => number>> = {
  sqrt: Math.sqrt,
  abs: Math.abs,
  floor: Math.floor,
  ceil: Math.ceil,
  round: Math.round,
  sin: (x) => Math.sin((x * Math.PI) / 180),
  cos: (x) => Math.cos((x * Math.PI) / 180),
  tan: (x) => Math.tan((x * Math.PI) / 180),
};

export type ArithmeticResult =
  | { readonly ok: true; readonly value: number }
  /** `at` is the character, counted from 0. */
  | { readonly ok: false; readonly at: number; readonly what: string };

class Fault extends Error {
  constructor(
    readonly at: number,
    what: string,
  ) {
    super(what);
  }
}

/** Angles of sin, cos and tan are degrees. A comma counts as a decimal point. */
export function evaluateArithmetic(text: string): ArithmeticResult {
  const reader = new Reader(text);
  try {
    const value = reader.sum();
    reader.end();
    if (!Number.isFinite(value)) return { ok: false, at: 0, what: "The result is not a finite number." };
    return { ok: true, value };
  } catch (error) {
    if (error instanceof Fault) return { ok: false, at: error.at, what: error.message };
    throw error;
  }
}

/** Recursive descent: sum > product > sign > power > atom. */
class Reader {
  private at = 0;
  private depth = 0;

  constructor(private readonly text: string) {}

  sum(): number {
    let value = this.product();
    for (;;) {
      if (this.take("+")) value += this.product();
      else if (this.take("-") || this.take("−")) value -= this.product();
      else return value;
    }
  }

  end(): void {
    this.space();
    if (this.at < this.text.length) throw new Fault(this.at, `"${this.text[this.at]}" does not belong here.`);
  }

  private product(): number {
    let value = this.sign();
    for (;;) {
      if (this.take("*") || this.take("×")) value *= this.sign();
      else if (this.take("/") || this.take("÷")) value /= this.sign();
      else if (this.take("%")) {
        const by = this.sign();
        value -= by * Math.floor(value / by);
      } else return value;
    }
  }

  private sign(): number {
    if (this.take("-") || this.take("−")) return -this.sign();
    if (this.take("+")) return this.sign();
    return this.power();
  }

  private power(): number {
    const base = this.atom();
    return this.take("^") ? base ** this.sign() : base;
  }

  private atom(): number {
    this.space();
    const number = /^(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?/.exec(this.text.slice(this.at));
    if (number) {
      this.at += number[0].length;
      return Number(number[0].replace(",", "."));
    }
    const word = /^[a-z]+/i.exec(this.text.slice(this.at))?.[0];
    if (word) return this.word(word);
    if (this.take("(")) return this.bracket();
    throw new Fault(
      this.at,
      this.at >= this.text.length
        ? "A number is missing at the end."
        : `A number is expected, not "${this.text[this.at]}".`,
    );
  }

  private word(word: string): number {
    const begun = this.at;
    this.at += word.length;
    if (Object.hasOwn(CONSTANTS, word)) return CONSTANTS[word];
    if (!Object.hasOwn(FUNCTIONS, word)) throw new Fault(begun, `"${word}" is not known.`);
    if (!this.take("(")) throw new Fault(this.at, `"${word}" needs brackets.`);
    return FUNCTIONS[word](this.bracket());
  }

  private bracket(): number {
    if (++this.depth > 100) throw new Fault(this.at, "There are too many brackets.");
    const value = this.sum();
    if (!this.take(")")) throw new Fault(this.at, "A closing bracket is missing.");
    this.depth--;
    return value;
  }

  private take(character: string): boolean {
    this.space();
    if (!this.text.startsWith(character, this.at)) return false;
    this.at += character.length;
    return true;
  }

  private space(): void {
    while (this.text[this.at] === " ") this.at++;
  }
}
