/** A turtle that draws words (P. Prusinkiewicz and A. Lindenmayer, "The Algorithmic Beauty of Plants", 1990, §1.3 to §1.10). */
import { tick } from "../cancelling";
import { makeColumn, withColumns } from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";
import { power } from "../maths/exact";
import {
  fromAxisAngle,
  type MutableQuaternion,
  multiply,
  type Quaternion,
  RADIANS,
  rotate,
} from "../maths/quaternion";
import { hash3, unit24 } from "../maths/random";
import { plus, type Vec3, X_AXIS, Y_AXIS, Z_AXIS } from "../maths/vector";
import type { Word } from "./rewriting";

export interface TurtleSettings {
  /** Units of a step, and radians of a turn. */
  readonly step: number;
  readonly angle: number;
  /** Times the length, and the thickness, that what branches off has. */
  readonly shorter: number;
  readonly thinner: number;
  readonly radius: number;
  /** Times the length that symbols of the last generation have: growth from one to the next. */
  readonly unfolded: number;
  readonly last: number;
  /** Radians that each turn may be off by chance. */
  readonly wander: number;
  readonly seed: number;
}

/** About which axis of its own the turtle turns, and which way; it goes along y. */
const TURNS: Readonly<Record<string, readonly [axis: Vec3, sign: number]>> = {
  "+": [Z_AXIS, 1],
  "-": [Z_AXIS, -1],
  "−": [Z_AXIS, -1],
  "&": [X_AXIS, 1],
  "^": [X_AXIS, -1],
  "\\": [Y_AXIS, 1],
  "/": [Y_AXIS, -1],
};

/** What stands where, which way and how deep in branches, and what it has drawn. */
class Turtle {
  private place: Vec3 = [0, 0, 0];
  private turn: Quaternion = [0, 0, 0, 1];
  private depth = 0;
  private isDown = false;
  /** What a letter says of it; the settings' where none has. */
  private width: number | null = null;
  private readonly stack: { place: Vec3; turn: Quaternion; depth: number; width: number | null }[] = [];
  private readonly lanes: number[][] = [[], [], []];
  private readonly thick: number[] = [];
  private readonly depths: number[] = [];
  private readonly ages: number[] = [];
  private readonly starts: number[] = [0];

  constructor(private readonly settings: TurtleSettings) {}

  turnBy(axis: Vec3, radians: number): void {
    const made: MutableQuaternion = [0, 0, 0, 1];
    this.turn = multiply(this.turn, fromAxisAngle(axis, radians), made);
  }

  /** @param born generation of the letter, for what is drawn; null for a step without a line */
  go(part: number, born: number | null): void {
    if (born === null) this.lift();
    else if (!this.isDown) {
      this.mark(born);
      this.isDown = true;
    }
    const { step, shorter } = this.settings;
    this.place = plus(this.place, rotate(this.turn, Y_AXIS), step * power(shorter, this.depth) * part);
    if (born !== null) this.mark(born);
  }

  /** Units that what is drawn from here on is thick. */
  widen(radius: number): void {
    this.width = Math.max(0, radius);
  }

  begin(): void {
    const { place, turn, depth, width } = this;
    this.stack.push({ place, turn, depth, width });
    this.lift();
    this.depth++;
  }

  end(): void {
    this.lift();
    Object.assign(this, this.stack.pop());
  }

  curves(): Curves | null {
    this.lift();
    if (this.starts.length < 2) return null;
    const curves = makeCurves({
      position: this.lanes.map((lane) => Float32Array.from(lane)) as unknown as [
        Float32Array,
        Float32Array,
        Float32Array,
      ],
      curveStarts: Int32Array.from(this.starts),
    });
    const column = (values: readonly number[]) => makeColumn("number", [Float32Array.from(values)]);
    const columns = { radius: column(this.thick), depth: column(this.depths), born: column(this.ages) };
    return { ...curves, points: withColumns(curves.points, columns) };
  }

  private mark(born: number): void {
    const { radius, thinner } = this.settings;
    for (let a = 0; a < 3; a++) this.lanes[a].push(this.place[a]);
    this.thick.push(this.width ?? radius * power(thinner, this.depth));
    this.depths.push(this.depth);
    this.ages.push(born);
  }

  private lift(): void {
    if (this.isDown) this.starts.push(this.thick.length);
    this.isDown = false;
  }
}

/**
 * Capital letters but those without a step of their own (see `still`) draw a line, f goes without one, + − turn, & ^ pitch, \ / roll, | turns
 * round, [ ] begin and end a branch. A number after a letter is how many steps it goes, after a turn its degrees; !(r) sets the radius. Other small
 * letters and all other symbols do nothing.
 * @param still symbols that do not step though they are capital
 */
export function drawnWord(
  { symbols, numbers, born }: Word,
  settings: TurtleSettings,
  still: string,
): Curves | null {
  const { angle, unfolded, last, wander, seed } = settings;
  const turtle = new Turtle(settings);
  for (let i = 0; i < symbols.length; i++) {
    tick();
    const symbol = symbols[i];
    const part = born[i] === last && last > 0 ? unfolded : 1;
    const turns = TURNS[symbol];
    const [said] = numbers[i];
    if (turns) {
      const off = wander === 0 ? 0 : (unit24(hash3(seed, i, 7)) * 2 - 1) * wander;
      turtle.turnBy(turns[0], turns[1] * (said === undefined ? angle : said * RADIANS) * part + off);
    } else if (symbol === "|") turtle.turnBy(Z_AXIS, Math.PI);
    else if (symbol === "[") turtle.begin();
    else if (symbol === "]") turtle.end();
    else if (symbol === "!" && said !== undefined) turtle.widen(said);
    else if (symbol === "f") turtle.go(part * (said ?? 1), null);
    else if (/[A-Z]/.test(symbol) && !still.includes(symbol)) turtle.go(part * (said ?? 1), born[i]);
  }
  return turtle.curves();
}
