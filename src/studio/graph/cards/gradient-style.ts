import { encodeSrgb } from "@/core/maths/color";
import { type Gradient, gradientAt } from "@/core/maths/gradient";

/** A gradient as the core mixes it, as a CSS background. */
export function gradientStyle(gradient: Gradient): { background: string } {
  const { stops } = gradient;
  const steps = 24;
  // Stops besides the even steps, so that hard edges are seen as such: just before each, and from it on.
  const places = [
    ...Array.from({ length: steps + 1 }, (_, i) => [i / steps, i / steps]),
    ...stops.flatMap(({ at }) => [
      [at, at - 1e-9],
      [at, at],
    ]),
  ].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const colors = places.map(([at, read]) => {
    const color = gradientAt(gradient, read);
    const byte = (c: number) => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, color[c]))));
    return `rgb(${byte(0)} ${byte(1)} ${byte(2)}) ${(at * 100).toFixed(2)}%`;
  });
  return { background: `linear-gradient(90deg, ${colors.join(", ")})` };
}
