/** What the tests use of fontkit, which has no types of its own. */
declare module "fontkit" {
  interface Glyph {
    readonly id: number;
    readonly path: {
      readonly commands: readonly { readonly command: string; readonly args: readonly number[] }[];
    };
  }
  export interface Font {
    readonly unitsPerEm: number;
    readonly ascent: number;
    readonly descent: number;
    readonly numGlyphs: number;
    layout(text: string): {
      readonly glyphs: readonly Glyph[];
      readonly positions: readonly { readonly xAdvance: number; readonly xOffset: number }[];
      readonly advanceWidth: number;
    };
    glyphForCodePoint(point: number): Glyph;
  }
  export function create(bytes: Uint8Array): Font;
}
