/** Faces as HarfBuzz has them: which letters they have, how those are set side by side, and their outlines. */
import { FormatError } from "../formats/format-error";
import { sfntOf } from "../formats/read/sfnt";
import { Library } from "../library";
import type * as HarfBuzz from "./harfbuzz";

let harfbuzz: typeof HarfBuzz | null = null;

export const FACES = ["Bricolage", "Instrument"] as const;
export const WEIGHTS = ["regular", "bold"] as const;
export type FaceName = (typeof FACES)[number];
export type Weight = (typeof WEIGHTS)[number];

/** By face and weight: the usual letters first, then the further ones of Latin. */
const shipped = new Map<string, readonly Font[]>();

export const TEXT_SHAPING = new Library("shaping of text", async () => {
  const [library, { SHIPPED }] = await Promise.all([import("./harfbuzz"), import("./shipped-faces")]);
  await library.ready;
  harfbuzz = library;
  for (const [i, face] of (["bricolage", "instrument"] as const).entries())
    for (const weight of WEIGHTS)
      shipped.set(
        `${FACES[i]} ${weight}`,
        SHIPPED[face][weight].map(
          (text) => new Font(sfntOf(Uint8Array.from(atob(text), (c) => c.charCodeAt(0)))),
        ),
      );
});

/** The files of a shipped face. @throws Error before TEXT_SHAPING is loaded */
export function shippedFonts(face: FaceName, weight: Weight): readonly Font[] {
  const fonts = shipped.get(`${face} ${weight}`);
  if (!fonts) throw new Error(`The face ${face} ${weight} is not loaded.`);
  return fonts;
}

/** One glyph where it is set, in parts of the font's size. */
export interface SetGlyph {
  readonly glyph: number;
  /** Number of the first of the characters that it stands for, in UTF-16 units. */
  readonly cluster: number;
  readonly x: number;
  readonly y: number;
  readonly advance: number;
}

interface SetRun {
  readonly glyphs: readonly SetGlyph[];
  readonly advance: number;
}

/** Runs that a font remembers, at most. */
const MOST_RUNS = 4096;

/** A point of an outline, a piece of it: how the outline goes on. In parts of the font's size, y up. */
export type OutlineStep =
  | { readonly to: "move" | "line"; readonly points: readonly [number, number] }
  | { readonly to: "quadratic"; readonly points: readonly [number, number, number, number] }
  | { readonly to: "cubic"; readonly points: readonly [number, number, number, number, number, number] };

export class Font {
  private readonly font: HarfBuzz.Font;
  private readonly size: number;
  private readonly has: ReadonlySet<number>;
  /** What was set before: a text that is only moved apart is not shaped anew. */
  private readonly runs = new Map<string, SetRun>();
  private readonly outlines = new Map<number, readonly OutlineStep[]>();

  /** @param bytes a TrueType or OpenType file. @throws FormatError when there is no letter in it */
  constructor(bytes: Uint8Array) {
    if (!harfbuzz) throw new Error("HarfBuzz is not loaded.");
    const face = new harfbuzz.Face(new harfbuzz.Blob(bytes));
    this.has = new Set(face.collectUnicodes());
    this.size = face.upem;
    if (this.has.size === 0 || !(this.size > 0))
      throw new FormatError("there are no letters in this font. It may be damaged; take another copy of it.");
    this.font = new harfbuzz.Font(face);
  }

  /** Whether it has a glyph for a character. */
  covers(codePoint: number): boolean {
    return this.has.has(codePoint);
  }

  /** Heights above and below the base line, and room between lines, in parts of the size. */
  get extents(): { readonly ascender: number; readonly descender: number; readonly lineGap: number } {
    const { ascender, descender, lineGap } = this.font.hExtents();
    return {
      ascender: ascender / this.size,
      descender: descender / this.size,
      lineGap: lineGap / this.size,
    };
  }

  /** Letters side by side, with kerning and ligatures as the font has them. @param ligatures false where letters are to stay apart */
  set(text: string, ligatures: boolean): SetRun {
    const key = `${ligatures ? 1 : 0}${text}`;
    let run = this.runs.get(key);
    if (!run) {
      if (this.runs.size >= MOST_RUNS) this.runs.clear();
      this.runs.set(key, (run = this.shape(text, ligatures)));
    }
    return run;
  }

  private shape(text: string, ligatures: boolean): SetRun {
    const { Buffer, Feature, shape } = harfbuzz as typeof HarfBuzz;
    const buffer = new Buffer();
    buffer.addText(text);
    buffer.guessSegmentProperties();
    shape(this.font, buffer, ligatures ? [] : [new Feature("liga", 0), new Feature("clig", 0)]);
    let x = 0;
    const glyphs = buffer.getGlyphInfosAndPositions().map((info) => {
      const { codepoint, cluster, xAdvance = 0, xOffset = 0, yOffset = 0 } = info;
      const set: SetGlyph = {
        glyph: codepoint,
        cluster,
        x: (x + xOffset) / this.size,
        y: yOffset / this.size,
        advance: xAdvance / this.size,
      };
      x += xAdvance;
      return set;
    });
    return { glyphs, advance: x / this.size };
  }

  outline(glyph: number): readonly OutlineStep[] {
    let steps = this.outlines.get(glyph);
    if (!steps) this.outlines.set(glyph, (steps = stepsOf(this.font.glyphToPath(glyph), this.size)));
    return steps;
  }
}

const STEPS = { M: "move", L: "line", Q: "quadratic", C: "cubic" } as const;

/** @param path commands with absolute places, as HarfBuzz writes them for SVG, y up */
function stepsOf(path: string, size: number): OutlineStep[] {
  return [...path.matchAll(/([MLQC])([^A-Za-z]*)/g)].map(
    ([, letter, numbers]) =>
      ({
        to: STEPS[letter as keyof typeof STEPS],
        points: (numbers.match(/-?[\d.]+/g) ?? []).map((n) => Number(n) / size),
      }) as unknown as OutlineStep,
  );
}
