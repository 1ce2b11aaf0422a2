import { bakeGradient, type Gradient } from "../maths/gradient";
import { applyAll, type ColorField, divide, subtract, type Value } from "./expression";

/** The colours of a gradient by a number: its first at low, its last at high. */
export function gradientColor(colors: Gradient, value: Value, low: Value, high: Value): ColorField {
  const t = divide(subtract(value, low), subtract(high, low));
  const data = { key: JSON.stringify(colors), ...bakeGradient(colors) };
  return applyAll("gradient", [t], data) as unknown as ColorField;
}
