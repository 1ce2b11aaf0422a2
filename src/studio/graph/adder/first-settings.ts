/**
 * What a node that is added begins with, so that the first picture is a good one: shapes that leave room between them on layouts
 * a unit apart, movements that stay in the picture, colours of one palette. What is set is also what the card shows at first, so
 * the numbers worth turning stand here even where they are the default. Declared defaults stay as they are: pieces rely on them.
 */
import type { PieceDocument } from "@/core/document/schema";
import { evenStops, PALETTES } from "@/core/maths/palettes";
import type { Setting } from "@/core/nodes/ports";

type Settings = Readonly<Record<string, Setting>>;

const FIRST: Readonly<Record<string, Settings>> = {
  box: { size: [0.6, 0.6, 0.6] },
  sphere: { radius: 0.35 },
  cylinder: { radius: 0.3, height: 0.6 },
  cone: { radius: 0.32, height: 0.7 },
  torus: { radius: 0.3, tube: 0.1 },
  disc: { radius: 0.38 },
  polygon: { radius: 0.4 },
  star: { outer: 0.45, inner: 0.2 },
  "grid-sites": { across: 10, deep: 10, spacing: [1, 1, 1] },
  "ring-sites": { count: 12, radius: 2.2 },
  "scatter-sites": { count: 300 },
  "path-sites": { count: 24 },
  "fill-sites": { spacing: 0.2 },
  random: { low: 0, high: 1 },
  remap: { toLow: 0, toHigh: 1 },
  spring: { stiffness: 120, damping: 0.35 },
  emitter: { rate: 120, life: 3, speed: 1.2, loop: true },
  particles: { runUp: 100 },
  gravity: { pull: [0, -1, 0] },
  drag: { linear: 0.5 },
  wind: { velocity: [1, 0, 0], grip: 2 },
  push: { push: [0, 1, 0] },
  "swirl-force": { strength: 2, size: 1.5, speed: 0.4, loop: true },
  attract: { strength: 2 },
  orbit: { rate: 90, grip: 3 },
  flock: { radius: 0.6 },
  contacts: { radius: 0.12 },
  material: { kind: "glazed clay", rougher: 0 },
  light: { kind: "spot", place: [3, 5, 3], power: 4, warmth: 3200 },
  finish: { glow: 0.4, glowFrom: 0.9, vignette: 0.35, contrast: 0.08 },
  trails: { length: 40 },
  "steady-links": { reach: 0.6 },
  ribbon: { width: 0.1 },
  "spiral-sites": { count: 240, radius: 3.2 },
  repeat: { count: 4, step: [1, 0, 0] },
  move: { by: [0, 0.5, 0] },
  rotate: { turn: [0, 35, 0] },
  scale: { size: 0.7 },
  noise: { strength: 0.6, size: 1.6, speed: 0.5, loop: true },
  swirl: { strength: 0.4, size: 1.6, speed: 0.5, loop: true },
  wave: { height: 0.4, wavelength: 3 },
  falloff: { outer: 2.5 },
  "link-nearby": { reach: 1.2 },
};

/** The colours in use come from one palette, each piece by its seed. */
const paletteOf = ({ settings }: PieceDocument) => PALETTES[settings.seed % PALETTES.length];

export function firstSettings(document: PieceDocument, type: string): Record<string, Setting> {
  const palette = paletteOf(document);
  if (type === "tint") {
    const tints = document.graph.nodes.filter((node) => node.type === "tint").length;
    // The lightest colours of a palette are seen best; the next one each time.
    return { color: palette.colors[[3, 1, 2, 4, 0][tints % palette.colors.length]] };
  }
  if (type === "gradient")
    return {
      colors: {
        space: "oklab",
        stops: evenStops(palette.colors),
      } as unknown as Setting,
    };
  return { ...FIRST[type] };
}
