/** Small sets of colours that suit each other, from dark to light; they are offered wherever a colour is chosen. */

export interface Palette {
  readonly name: string;
  /** sRGB, five of them. */
  readonly colors: readonly string[];
}

export const PALETTES: readonly Palette[] = [
  { name: "Marigold bed", colors: ["#3b2a22", "#9c4f2e", "#e08a3c", "#f2c35b", "#fbeec2"] },
  { name: "Morning dew", colors: ["#12343b", "#2c6e78", "#6fb3b8", "#b9dcd0", "#f2f4e4"] },
  { name: "Moss wall", colors: ["#1e3127", "#3f6b46", "#7fa35c", "#c3cd84", "#f1ecc4"] },
  { name: "Petal", colors: ["#42263f", "#8f3f63", "#d86b6f", "#f2ab86", "#fbe3c8"] },
  { name: "Clay and sky", colors: ["#2b3445", "#56708c", "#d99a6c", "#a3bcc9", "#f3d9bd"] },
  { name: "Night market", colors: ["#221f3a", "#4b4a86", "#8d7cc3", "#e58fb0", "#fbd7b5"] },
];

/** The colours as stops of a gradient, evenly apart. */
export const evenStops = (colors: readonly string[]): { at: number; color: string }[] =>
  colors.map((color, i) => ({ at: i / (colors.length - 1), color }));
