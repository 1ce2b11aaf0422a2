/** Fonts, letters and their outlines, against the fontkit package reading the same files, and against what is known of solids. */

import { readFileSync } from "node:fs";
import fc from "fast-check";
import { create, type Font as KitFont } from "fontkit";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { sfntOf } from "../../src/core/formats/read/sfnt";
import { eulerCharacteristic, isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { regionsOf } from "../../src/core/geometry/outlines";
import { solidOf } from "../../src/core/geometry/solid-of-regions";
import { FACES, Font, type OutlineStep, shippedFonts, TEXT_SHAPING, WEIGHTS } from "../../src/core/text/font";
import { flattened } from "../../src/core/text/glyph-shape";
import { type PlacedGlyph, setText } from "../../src/core/text/set-text";
import { signedArea } from "../shoelace";

function groupBy(
  glyphs: readonly PlacedGlyph[],
  key: (glyph: PlacedGlyph) => number,
): Map<number, PlacedGlyph[]> {
  const groups = new Map<number, PlacedGlyph[]>();
  for (const glyph of glyphs) groups.set(key(glyph), [...(groups.get(key(glyph)) ?? []), glyph]);
  return groups;
}

const FILES = { Bricolage: "bricolage-grotesque", Instrument: "instrument-sans" } as const;
const bytesOf = (face: (typeof FACES)[number], weight: (typeof WEIGHTS)[number]): Buffer => {
  const name = FILES[face];
  const number = weight === "bold" ? 700 : 400;
  return readFileSync(`node_modules/@fontsource/${name}/files/${name}-latin-${number}-normal.woff`);
};

beforeAll(() => TEXT_SHAPING.load());

const every = FACES.flatMap((face) => WEIGHTS.map((weight) => [face, weight] as const));

const KIT_STEPS: Readonly<Record<string, OutlineStep["to"]>> = {
  moveTo: "move",
  lineTo: "line",
  quadraticCurveTo: "quadratic",
  bezierCurveTo: "cubic",
};

describe.each(every)("%s %s", (face, weight) => {
  const kit = create(bytesOf(face, weight)) as KitFont;
  const font = () => shippedFonts(face, weight)[0];

  it("sets letters as far apart as fontkit does, kerning and all", () => {
    for (const text of ["AVATAR", "Wolf", "Quillmoss", "To, Ty. LY", "seeds & sprouts", "Été – Ñandú"]) {
      const { glyphs, advance } = font().set(text, true);
      const wanted = kit.layout(text);
      expect(glyphs.map((g) => g.glyph)).toEqual(wanted.glyphs.map((g) => g.id));
      const sums = [0];
      for (const { xAdvance } of wanted.positions) sums.push((sums.at(-1) as number) + xAdvance);
      glyphs.forEach((g, i) => {
        expect(g.x).toBeCloseTo((sums[i] + wanted.positions[i].xOffset) / kit.unitsPerEm, 6);
      });
      expect(advance).toBeCloseTo((sums.at(-1) as number) / kit.unitsPerEm, 6);
    }
  });

  it("has fontkit's outlines", () => {
    for (const letter of "QaB8&gß") {
      const glyph = kit.glyphForCodePoint(letter.codePointAt(0) as number);
      const steps = glyph.path.commands.flatMap(({ command, args }): OutlineStep[] =>
        command === "closePath"
          ? []
          : [
              {
                to: KIT_STEPS[command],
                points: args.map((v) => v / kit.unitsPerEm),
              } as unknown as OutlineStep,
            ],
      );
      const [ours, theirs] = [font().outline(glyph.id), steps].map((of) => flattened(of, 24));
      expect(ours.length).toBe(theirs.length);
      ours.forEach((outline, i) => {
        // Where the first point of an outline lies off it, fontkit begins with a bend more.
        expect(signedArea(outline)).toBeCloseTo(signedArea(theirs[i]), 3);
        for (const pick of [Math.min, Math.max])
          for (const axis of [0, 1]) {
            const [a, b] = [outline, theirs[i]].map((o) => pick(...o.filter((_, k) => k % 2 === axis)));
            expect(a).toBeCloseTo(b, 6);
          }
      });
    }
  });

  it("has the heights that the file says", () => {
    const { ascender, descender } = font().extents;
    expect([ascender, descender]).toEqual([
      expect.closeTo(kit.ascent / kit.unitsPerEm, 6),
      expect.closeTo(kit.descent / kit.unitsPerEm, 6),
    ]);
  });
});

const glyphOf = (letter: string, depth = 0.3, bevel = 0): Mesh => {
  const [font] = shippedFonts("Instrument", "bold");
  const [{ glyph }] = font.set(letter, true).glyphs;
  return solidOf(regionsOf(flattened(font.outline(glyph), 6), "where it winds"), { depth, bevel, steps: 3 });
};

describe("letters as solids", () => {
  // A closed surface has V − E + F = 2 for each part, less 2 for each hole through it (Euler–Poincaré).
  it.each([
    ["l", 2],
    ["O", 0],
    ["B", -2],
    ["i", 4],
    ["8", -2],
  ])("%s is closed and has as many holes as it has [MSH-09]", (letter, characteristic) => {
    const mesh = glyphOf(letter);
    expect(isClosed(mesh)).toBe(true);
    expect(eulerCharacteristic(mesh)).toBe(characteristic);
  });

  it("have the volume of their flat area times their depth", () => {
    for (const letter of "QaB8&ß") {
      const flat = meshArea(glyphOf(letter, 0));
      expect(meshVolume(glyphOf(letter, 0.3))).toBeCloseTo(flat * 0.3, 5);
      expect(meshVolume(glyphOf(letter, 1.7))).toBeCloseTo(flat * 1.7, 5);
      // An edge that is cut back takes some of it away, and leaves it closed.
      const cut = glyphOf(letter, 0.3, 0.01);
      expect(isClosed(cut)).toBe(true);
      expect(meshVolume(cut)).toBeLessThan(flat * 0.3);
      expect(meshVolume(cut)).toBeGreaterThan(flat * 0.3 * 0.9);
    }
  });
});

describe("lines", () => {
  const setting = {
    fonts: [] as readonly Font[],
    tracking: 0,
    lineSpacing: 1,
    align: "left" as const,
    width: 0,
  };
  const set = (text: string, change: Partial<Parameters<typeof setText>[1]> = {}) =>
    setText(text, { ...setting, fonts: shippedFonts("Instrument", "regular"), ...change });

  it("count letters, words and lines, and stand on the last base line", () => {
    const { glyphs } = set("two words\nand one more");
    expect(glyphs.length).toBe(8 + 10);
    expect(glyphs.at(-1)).toMatchObject({ letter: 17, word: 4, line: 1, y: 0 });
    const [font] = shippedFonts("Instrument", "regular");
    const { ascender, descender, lineGap } = font.extents;
    expect(glyphs[0].y).toBeCloseTo(ascender - descender + lineGap, 6);
    expect(set("two\nlines", { lineSpacing: 2 }).glyphs[0].y).toBeCloseTo(2 * glyphs[0].y, 6);
  });

  it("are aligned at a side or about the middle", () => {
    const left = set("seed").glyphs;
    const { advance } = shippedFonts("Instrument", "regular")[0].set("seed", true);
    for (const [align, by] of [
      ["right", advance],
      ["middle", advance / 2],
    ] as const)
      set("seed", { align }).glyphs.forEach((glyph, i) => {
        expect(glyph.x).toBeCloseTo(left[i].x - by, 6);
      });
  });

  it("are moved apart letter by letter", () => {
    const near = set("moss").glyphs;
    set("moss", { tracking: 0.2 }).glyphs.forEach((glyph, i) => {
      expect(glyph.x).toBeCloseTo(near[i].x + 0.2 * i, 6);
    });
  });

  it("are broken where they are too long, never within a word, and lose no letter", () => {
    fc.assert(
      fc.property(
        fc.array(fc.stringMatching(/^[a-z]{1,12}$/), { minLength: 1, maxLength: 30 }),
        fc.double({ min: 0.5, max: 12, noNaN: true }),
        (words, width) => {
          const text = words.join(" ");
          const { glyphs } = set(text, { width });
          expect(glyphs.length).toBe(set(text).glyphs.length);
          const lines = groupBy(glyphs, ({ line }) => line);
          for (const line of lines.values()) {
            const last = line[line.length - 1];
            const isOneWord = line[0].word === last.word;
            if (!isOneWord) expect(last.x + last.advance - line[0].x).toBeLessThan(width + 0.02);
          }
          const ofWord = groupBy(glyphs, ({ word }) => word);
          for (const word of ofWord.values()) expect(new Set(word.map(({ line }) => line)).size).toBe(1);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("take letters from the next font that has them, and tell what none has", () => {
    const { glyphs, missing } = set("aő木");
    const [first, second] = shippedFonts("Instrument", "regular");
    expect(glyphs.map(({ font }) => font)).toEqual([first, second, first]);
    expect(missing).toEqual(["木"]);
    expect(glyphs[2].glyph).toBe(0);
  });
});

describe("font files", () => {
  const woff = new Uint8Array(bytesOf("Instrument", "regular"));

  it("are unpacked from WOFF to what fontkit reads in them, table by table", () => {
    const kit = create(Buffer.from(sfntOf(woff))) as KitFont;
    expect(kit.numGlyphs).toBe((create(Buffer.from(woff)) as KitFont).numGlyphs);
    expect(kit.layout("Moss").advanceWidth).toBe(
      (create(Buffer.from(woff)) as KitFont).layout("Moss").advanceWidth,
    );
  });

  it("that are damaged are refused in words, or give a font that can be used", async () => {
    const plain = sfntOf(woff);
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(woff, plain),
        fc.array(fc.tuple(fc.nat(400), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        fc.option(fc.nat(woff.length)),
        async (bytes, changes, end) => {
          const damaged = bytes.slice(0, end ?? undefined);
          for (const [at, value] of changes) if (at < damaged.length) damaged[at] = value;
          try {
            const read = await readAsset("own.woff", damaged);
            if (read.kind !== "font") throw new Error("It is no font.");
            const { glyphs } = new Font(read.bytes).set("moss", true);
            expect(glyphs.length).toBeGreaterThan(0);
          } catch (error) {
            expect((error as Error).message).toMatch(/font|WOFF|letters|empty/);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it("of other kinds are named", async () => {
    const woff2 = readFileSync(
      "node_modules/@fontsource/instrument-sans/files/instrument-sans-latin-400-normal.woff2",
    );
    await expect(readAsset("own.woff", new Uint8Array(woff2))).rejects.toThrow(/WOFF2.*TTF, OTF or WOFF/);
    await expect(readAsset("own.ttf", new TextEncoder().encode("no font at all"))).rejects.toThrow(/no TTF/);
  });
});
