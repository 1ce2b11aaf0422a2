/** The colour of what glows at a temperature. */

/**
 * Linear sRGB of a black body, the greatest part 1; 1,667 to 25,000 kelvin, ends hold beyond (B. Kim and others, "Design of advanced color
 * temperature control system for HDTV applications", 2002: cubics for x of its temperature and y of x, CIE 1931).
 */
export function blackBody(kelvin: number): [number, number, number] {
  const t = Math.min(25_000, Math.max(1667, kelvin));
  const [t1, t2, t3] = [1e3 / t, 1e6 / (t * t), 1e9 / (t * t * t)];
  const x =
    t <= 4000
      ? -0.2661239 * t3 - 0.234358 * t2 + 0.8776956 * t1 + 0.17991
      : -3.0258469 * t3 + 2.1070379 * t2 + 0.2226347 * t1 + 0.24039;
  const [x2, x3] = [x * x, x * x * x];
  const y =
    t <= 2222
      ? -1.1063814 * x3 - 1.3481102 * x2 + 2.18555832 * x - 0.20219683
      : t <= 4000
        ? -0.9549476 * x3 - 1.37418593 * x2 + 2.09137015 * x - 0.16748867
        : 3.081758 * x3 - 5.8733867 * x2 + 3.75112997 * x - 0.37001483;
  const [bigX, bigZ] = [x / y, (1 - x - y) / y];
  // XYZ to linear sRGB (IEC 61966-2-1).
  const rgb = [
    3.2404542 * bigX - 1.5371385 - 0.4985314 * bigZ,
    -0.969266 * bigX + 1.8760108 + 0.041556 * bigZ,
    0.0556434 * bigX - 0.2040259 + 1.0572252 * bigZ,
  ].map((v) => Math.max(0, v));
  const most = Math.max(...rgb);
  return rgb.map((v) => v / most) as [number, number, number];
}
