import { encodeSrgb } from "@/core/maths/color";
import { bakeGradient, type Gradient, TABLE_SIZE } from "@/core/maths/gradient";

/** A gradient as the core mixes it, as a CSS background. */
export function gradientStyle(gradient: Gradient): { background: string } {
  const table = bakeGradient(gradient);
  const steps = 24;
  const colors = Array.from({ length: steps + 1 }, (_, i) => {
    const k = Math.round((i / steps) * (TABLE_SIZE - 1)) * 4;
    const byte = (c: number) => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, table[k + c]))));
    return `rgb(${byte(0)} ${byte(1)} ${byte(2)})`;
  });
  return { background: `linear-gradient(90deg, ${colors.join(", ")})` };
}
