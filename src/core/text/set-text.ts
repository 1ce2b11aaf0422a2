/** Text set in lines: every glyph with its place, and which letter, word and line it is. Lengths are in sizes of the font. */
import { tick } from "../cancelling";
import type { Font, SetGlyph } from "./font";

export const ALIGNMENTS = ["middle", "left", "right"] as const;

export interface Setting {
  /** The first that has a letter gives it; the first of all has a sign for what none has. */
  readonly fonts: readonly Font[];
  /** Added between letters. */
  readonly tracking: number;
  /** From one base line to the next, times what the font wants. */
  readonly lineSpacing: number;
  readonly align: (typeof ALIGNMENTS)[number];
  /** Lines that are longer are broken between words; 0 for never. */
  readonly width: number;
}

export interface PlacedGlyph extends SetGlyph {
  readonly font: Font;
  /** Numbers of the letter, of its word and of its line, counted from 0 over the whole text; spaces are no letters. */
  readonly letter: number;
  readonly word: number;
  readonly line: number;
}

export interface SetText {
  readonly glyphs: readonly PlacedGlyph[];
  /** Letters that no font has. */
  readonly missing: readonly string[];
  /** Characters per size of the longest line. */
  readonly width: number;
}

interface Run {
  readonly font: Font;
  readonly text: string;
}

/** The base line of the last line is y = 0; lines are aligned at x = 0. */
export function setText(text: string, { fonts, tracking, lineSpacing, align, width }: Setting): SetText {
  const missing = new Set<string>();
  const lines = text
    .replaceAll("\r", "")
    .split("\n")
    .flatMap((line) => (width > 0 ? broken(line, fonts, tracking, width) : [line]))
    .map((line) => setLine(line, fonts, tracking, missing));
  const { ascender, descender, lineGap } = fonts[0].extents;
  const down = (ascender - descender + lineGap) * lineSpacing;
  const glyphs: PlacedGlyph[] = [];
  let [letter, word] = [-1, -1];
  let longest = 0;
  for (const [number, line] of lines.entries()) {
    longest = Math.max(longest, line.advance);
    const left = align === "left" ? 0 : align === "right" ? -line.advance : -line.advance / 2;
    const y = (lines.length - 1 - number) * down;
    let inWord = false;
    for (const glyph of line.glyphs) {
      tick();
      if (glyph.isSpace) {
        inWord = false;
        continue;
      }
      letter++;
      if (!inWord) word++;
      inWord = true;
      glyphs.push({ ...glyph, x: glyph.x + left, y: glyph.y + y, letter, word, line: number });
    }
  }
  return { glyphs, missing: [...missing], width: longest };
}

interface LineGlyph extends SetGlyph {
  readonly font: Font;
  readonly isSpace: boolean;
}

function setLine(
  line: string,
  fonts: readonly Font[],
  tracking: number,
  missing: Set<string>,
): { readonly glyphs: readonly LineGlyph[]; readonly advance: number } {
  const glyphs: LineGlyph[] = [];
  let x = 0;
  for (const { font, text } of runsOf(line, fonts, missing)) {
    const set = font.set(text, tracking === 0);
    for (const glyph of set.glyphs) {
      const isSpace = /\s/u.test(text[glyph.cluster] ?? " ");
      glyphs.push({ ...glyph, font, isSpace, x: glyph.x + x });
      x += tracking;
    }
    x += set.advance;
  }
  return { glyphs, advance: Math.max(0, x - (glyphs.length > 0 ? tracking : 0)) };
}

/** Stretches of letters that one font has. */
function runsOf(line: string, fonts: readonly Font[], missing: Set<string>): Run[] {
  const runs: { font: Font; text: string }[] = [];
  for (const character of line) {
    const point = character.codePointAt(0) as number;
    const last = runs.at(-1);
    // A space goes with what it stands behind.
    let font =
      last && (/\s/u.test(character) || isMark(character)) && last.font.covers(point) ? last.font : undefined;
    font ??= fonts.find((one) => one.covers(point));
    if (!font && !/\s/u.test(character)) missing.add(character);
    font ??= fonts[0];
    if (last?.font === font) last.text += character;
    else runs.push({ font, text: character });
  }
  return runs;
}

const isMark = (character: string): boolean => /\p{M}/u.test(character);

/** As many words on a line as have room; a word that is too long has a line to itself. */
function broken(line: string, fonts: readonly Font[], tracking: number, width: number): string[] {
  const lines: string[] = [];
  let now = "";
  const widthOf = (part: string) => setLine(part, fonts, tracking, new Set()).advance;
  // Fonts do not kern with spaces, or hardly.
  const space = widthOf(" ") + 2 * tracking;
  let wide = 0;
  for (const word of line.split(/ +/)) {
    tick(16);
    const own = widthOf(word);
    if (now !== "" && wide + space + own > width) {
      lines.push(now);
      [now, wide] = [word, own];
    } else if (now === "") [now, wide] = [word, own];
    else [now, wide] = [`${now} ${word}`, wide + space + own];
  }
  return [...lines, now];
}
