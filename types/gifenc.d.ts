/** The part of gifenc that films use; the package ships no types. */
declare module "gifenc" {
  type Palette = number[][];
  type Format = "rgb565" | "rgb444" | "rgba4444";
  export function quantize(
    rgba: Uint8ClampedArray,
    colors: number,
    options?: { format?: Format; oneBitAlpha?: boolean | number },
  ): Palette;
  export function applyPalette(rgba: Uint8ClampedArray, palette: Palette, format?: Format): Uint8Array;
  export function GIFEncoder(options: { auto: boolean }): {
    writeHeader(): void;
    writeFrame(
      index: Uint8Array,
      width: number,
      height: number,
      options: {
        palette: Palette;
        delay: number;
        first: boolean;
        transparent?: boolean;
        transparentIndex?: number;
        dispose?: number;
      },
    ): void;
    bytes(): Uint8Array<ArrayBuffer>;
  };
}
