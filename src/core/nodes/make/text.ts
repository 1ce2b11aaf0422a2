import { makeColumn, withColumns } from "../../geometry/column";
import { arraysOf } from "../../geometry/domains";
import { mergeShapes } from "../../geometry/merge";
import { EMPTY_SHAPE, makeSites, type Shape } from "../../geometry/shape";
import { transformShape } from "../../geometry/transform";
import { IDENTITY } from "../../maths/quaternion";
import { type Placed, placeAlong, STANDS } from "../../text/along-path";
import {
  FACES,
  type FaceName,
  Font,
  shippedFonts,
  TEXT_SHAPING,
  WEIGHTS,
  type Weight,
} from "../../text/font";
import { type GlyphLook, glyphShape } from "../../text/glyph-shape";
import { ALIGNMENTS, type PlacedGlyph, setText } from "../../text/set-text";
import { defineNode, NodeError } from "../define";
import { assetFont, choice, integer, length, number, out, shape, text as textInput } from "../ports";

const APART = ["letters", "words", "lines", "all of it"] as const;
type Apart = (typeof APART)[number];

export const text = defineNode({
  type: "text",
  family: "make",
  title: "Text",
  about: "Letters from a font, each a clone with a place of its own, or words, lines or all of it as one.",
  synonyms: [
    "word",
    "letters",
    "type",
    "font",
    "glyphs",
    "typography",
    "title",
    "caption",
    "counter",
    "write",
  ],
  needs: [TEXT_SHAPING],
  inputs: {
    text: textInput({
      lines: true,
      long: true,
      default: "Quillmoss",
      about: "What is written; # stands for the number. Shift Enter begins a new line.",
    }),
    number: number({
      default: 0,
      soft: [0, 100],
      about: "What is written for each # of the text: drive it, and it counts.",
    }),
    decimals: integer({ default: 0, min: 0, max: 9, soft: [0, 3], about: "Digits behind its point." }),
    face: choice(FACES, { about: "One of the faces that come along, where no file is chosen." }),
    weight: choice(WEIGHTS, { about: "How bold it is.", default: "bold" }),
    font: assetFont({
      label: "own font",
      about: "A TTF, OTF or WOFF file of the piece, in place of the face.",
    }),
    lacking: choice(["a box", "the face that comes along"], {
      about: "What stands for letters that the font does not have.",
    }),
    size: length({
      default: 1,
      min: 0,
      soft: [0.1, 4],
      about: "Of the font: about 1.4 times a capital letter.",
    }),
    tracking: number({
      default: 0,
      soft: [-0.1, 0.5],
      about: "Added between letters, in sizes; ligatures are taken apart by it.",
    }),
    spacing: number({ default: 1, soft: [0.6, 2], about: "Room between lines, times the font's own." }),
    width: length({
      default: 0,
      min: 0,
      soft: [0, 20],
      about: "Longer lines are broken between words; 0 breaks none.",
    }),
    align: choice(ALIGNMENTS, { about: "Where lines stand about the middle." }),
    apart: choice(APART, {
      label: "one clone",
      about: "What each clone is: a letter, a word, a line, or all of it.",
    }),
    about: choice(["its foot", "its middle"], { about: "The place about which each turns and grows." }),
    path: shape({ about: "A curve that the text goes along, in place of a straight line." }),
    start: number({
      default: 0.5,
      soft: [0, 1],
      about: "The part of the path's length where the middle, or the side that lines are aligned at, stands.",
    }),
    stand: choice(STANDS, {
      about: "On a path: letters stand off it in the plane that it lies in, or upright.",
    }),
    as: choice(["solid", "filled", "outlines"], { about: "With a depth, as flat faces, or as curves." }),
    depth: length({
      default: 0.2,
      min: 0,
      soft: [0, 1],
      shownWhen: { input: "as", is: ["solid"] },
      about: "From front to back.",
    }),
    bevel: length({
      default: 0,
      min: 0,
      soft: [0, 0.1],
      shownWhen: { input: "as", is: ["solid"] },
      about: "How far its edges are cut back.",
    }),
    steps: integer({
      default: 3,
      min: 1,
      max: 16,
      soft: [1, 6],
      shownWhen: { input: "as", is: ["solid"] },
      about: "Pieces of a cut edge; 1 is straight.",
    }),
    detail: integer({ default: 5, min: 1, max: 64, soft: [1, 12], about: "Pieces of every bend." }),
  },
  outputs: {
    shape: out.shape(
      "The text upright in the plane of X and Y, its last line on the ground; clones have `letter`, `word` and `line`, faces `side` (0 the front, 1 the edge, 2 the back).",
    ),
    parts: out.shape(
      "The letters, words or lines in their order, as a set to pick from, each about its own place.",
    ),
  },
  summary: ({ text }) => String(text).split("\n")[0].slice(0, 24),
  cost: ({ text, detail }) => {
    const points = text.length * detail * 24;
    return { sites: text.length, points, faces: points };
  },
  evaluate(inputs, context) {
    const { size, as, detail, depth, bevel, steps, apart, about } = inputs;
    const look: GlyphLook = { size, as, detail, depth, bevel, steps };
    const known = context.reuse<Known>(
      (before) => {
        const own = before && before.file === inputs.font ? before.own : ownFont(inputs.font);
        const same = before?.look === JSON.stringify(look) && before.shapes.size < MOST_SHAPES;
        const shapes: Known["shapes"] = same ? before.shapes : new Map();
        return { file: inputs.font, own, look: JSON.stringify(look), shapes };
      },
      ({ shapes }) => [...shapes.values()].flatMap((shape) => [...arraysOf(shape)]),
    );
    const fonts = fontsOf(known.own, inputs.face, inputs.weight, inputs.lacking !== "a box");
    const written = inputs.text.replaceAll("#", () => formatted(inputs.number, inputs.decimals));
    const { glyphs, missing } = setText(written, {
      fonts,
      tracking: inputs.tracking,
      lineSpacing: inputs.spacing,
      align: inputs.align,
      width: size > 0 ? inputs.width / size : 0,
    });
    if (missing.length > 0)
      context.warn(
        `The font has no ${missing.map((letter) => `“${letter}”`).join(", ")}; boxes stand for ${missing.length === 1 ? "it" : "them"}.`,
        known.own && inputs.lacking === "a box"
          ? {
              input: "lacking",
              repair: {
                label: "Take them from the face that comes along",
                input: "lacking",
                value: "the face that comes along",
              },
            }
          : { input: "text" },
      );
    // One shape for all of a glyph, about the middle of its foot.
    const shapeOf = (glyph: PlacedGlyph): Shape => {
      const key = `${fontNumber(glyph.font)} ${glyph.glyph}`;
      let made = known.shapes.get(key);
      if (!made) {
        made = glyphShape(glyph.font.outline(glyph.glyph), [glyph.advance / 2, 0], look);
        known.shapes.set(key, made);
      }
      return made;
    };
    const groups = groupsOf(glyphs, apart);
    if (groups.length === 0) return { shape: EMPTY_SHAPE, parts: EMPTY_SHAPE };
    const middle = about === "its middle" ? MIDDLE_OF_LETTERS : 0;
    const pieces = groups.map((group) => pieceOf(group, apart, middle, size, shapeOf));
    const parts: Shape = { sources: pieces.map(({ shape }) => shape) };
    if (apart === "all of it") return { shape: pieces[0].shape, parts };
    const sources = [...new Set(pieces.map(({ shape }) => shape))];
    const { curves } = inputs.path;
    const placed: readonly Placed[] =
      curves && curves.points.count > 1
        ? placeAlong(pieces, curves, inputs.start, inputs.stand)
        : pieces.map(({ x, y }) => ({ at: [x, y, 0], turn: IDENTITY }));
    const sites = makeSites(pieces.length, ({ position, rotation }) => {
      for (const [i, { at, turn }] of placed.entries()) {
        for (let a = 0; a < 3; a++) position[a][i] = at[a];
        for (let l = 0; l < 4; l++) rotation[l][i] = turn[l];
      }
    });
    const numbers = (of: (first: PlacedGlyph) => number) =>
      makeColumn("number", [Float32Array.from(groups, ([first]) => of(first))]);
    const source = Int32Array.from(pieces, ({ shape }) => sources.indexOf(shape));
    return {
      shape: {
        sites: withColumns(sites, {
          source: makeColumn("integer", [source]),
          letter: numbers(({ letter }) => letter),
          word: numbers(({ word }) => word),
          line: numbers(({ line }) => line),
        }),
        sources,
      },
      parts,
    };
  },
});

/** Glyphs kept at most, of texts that were written before. */
const MOST_SHAPES = 2000;

/** Half the height of a capital letter, about, in sizes. */
const MIDDLE_OF_LETTERS = 0.35;

interface Known {
  readonly file: unknown;
  readonly own: Font | null;
  readonly look: string;
  /** By font and glyph. */
  readonly shapes: Map<string, Shape>;
}

function ownFont(file: { readonly bytes: Uint8Array } | null): Font | null {
  if (!file) return null;
  try {
    return new Font(file.bytes);
  } catch (error) {
    throw new NodeError(`The font cannot be used: ${(error as Error).message}`, "font");
  }
}

const fontsOf = (own: Font | null, face: FaceName, weight: Weight, withShipped: boolean): readonly Font[] =>
  own ? [own, ...(withShipped ? shippedFonts(face, weight) : [])] : shippedFonts(face, weight);

const numbersOfFonts = new WeakMap<Font, number>();
let fonts = 0;
const fontNumber = (font: Font): number => {
  let known = numbersOfFonts.get(font);
  if (known === undefined) numbersOfFonts.set(font, (known = fonts++));
  return known;
};

/** A number with so many digits behind its point; no minus before a 0. */
function formatted(value: number, decimals: number): string {
  const written = value.toFixed(decimals);
  return Number(written) === 0 ? written.replace("-", "") : written;
}

function groupsOf(glyphs: readonly PlacedGlyph[], apart: Apart): PlacedGlyph[][] {
  if (glyphs.length === 0) return [];
  if (apart === "all of it") return [[...glyphs]];
  const by = apart === "letters" ? "letter" : apart === "words" ? "word" : "line";
  const groups: PlacedGlyph[][] = [];
  for (const glyph of glyphs) {
    const last = groups.at(-1);
    if (last && last[0][by] === glyph[by]) last.push(glyph);
    else groups.push([glyph]);
  }
  return groups;
}

/** What one clone is, about its own place, and where that is, units. */
export interface TextPiece {
  readonly shape: Shape;
  readonly x: number;
  readonly y: number;
}

function pieceOf(
  group: readonly PlacedGlyph[],
  apart: Apart,
  middle: number,
  size: number,
  shapeOf: (glyph: PlacedGlyph) => Shape,
): TextPiece {
  const [first] = group;
  const last = group[group.length - 1];
  const [left, right] = [first.x, last.x + last.advance];
  const [x, y] = apart === "all of it" ? [0, 0] : [(left + right) / 2, first.y + middle];
  if (apart === "letters" && middle === 0) return { shape: shapeOf(first), x: x * size, y: y * size };
  const parts = group.map((glyph) =>
    transformShape(shapeOf(glyph), {
      move: [(glyph.x + glyph.advance / 2 - x) * size, (glyph.y - y) * size, 0],
      turn: IDENTITY,
      scale: [1, 1, 1],
    }),
  );
  return { shape: mergeShapes(parts), x: x * size, y: y * size };
}
