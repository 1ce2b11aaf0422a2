/** Checks stored settings against what an input declares, and turns them into what `evaluate` receives. */
import { constant, constants } from "../fields/expression";
import { clip } from "../maths/clip";
import { isHexColor, parseHex, type Rgba } from "../maths/color";
import { pathFault } from "../maths/drawn-path";
import { GRADIENT_SPACES, type Gradient } from "../maths/gradient";
import { maskFault } from "../maths/painted-mask";
import { PROFILE_FORMS, type Profile } from "../maths/profile";
import { fromEuler, RADIANS } from "../maths/quaternion";
import { type AnyInput, NodeError } from "../nodes/define";
import type { Setting } from "../nodes/ports";

/** Why a setting does not fit its input, in plain words, or null when it does. */
export function settingFault(
  input: Pick<AnyInput, "kind" | "min" | "max" | "choices">,
  value: Setting,
): string | null {
  switch (input.kind) {
    case "number":
      return isNumber(value) ? rangeFault(input, value) : "must be a number";
    case "vector":
    case "rotation": {
      if (!isTriple(value)) return "must be three numbers";
      return value.map((v) => rangeFault(input, v)).find((fault) => fault !== null) ?? null;
    }
    case "color":
      return typeof value === "string" && isHexColor(value) ? null : "must be a colour such as #f0b03a";
    case "toggle":
      return typeof value === "boolean" ? null : "must be yes or no";
    case "text":
      return typeof value === "string" ? null : "must be text";
    case "choice":
      return typeof value === "string" && input.choices?.includes(value)
        ? null
        : `must be one of ${input.choices?.join(", ")}`;
    case "gradient":
      return gradientFault(value);
    case "profile":
      return profileFault(value);
    case "path":
      return pathFault(value);
    case "painted":
      return maskFault(value);
    case "asset":
      return value === null || typeof value === "string" ? null : "must name an asset";
    case "births":
    case "camera":
    case "light":
    case "finish":
    case "forces":
    case "shape":
      return value === null ? null : "takes a link, not a value";
  }
}

const isNumber = (value: Setting): value is number => typeof value === "number" && Number.isFinite(value);

const isTriple = (value: Setting): value is readonly [number, number, number] =>
  Array.isArray(value) && value.length === 3 && value.every(isNumber);

function rangeFault(input: Pick<AnyInput, "min" | "max">, value: number): string | null {
  if (input.min !== undefined && value < input.min) return `must be ${input.min} or more`;
  if (input.max !== undefined && value > input.max) return `must be ${input.max} or less`;
  return null;
}

function gradientFault(value: Setting): string | null {
  const gradient = value as Partial<Gradient> | null;
  if (!gradient || typeof gradient !== "object" || !Array.isArray(gradient.stops))
    return "must be a gradient";
  if (!GRADIENT_SPACES.includes(gradient.space as never))
    return `space must be one of ${GRADIENT_SPACES.join(", ")}`;
  if (gradient.stops.length === 0) return "needs at least one stop";
  if (gradient.stops.length > 256) return "has more than 256 stops";
  const bad = gradient.stops.findIndex(
    (stop) =>
      !stop || !isNumber(stop.at as Setting) || stop.at < 0 || stop.at > 1 || !isHexColor(String(stop.color)),
  );
  return bad < 0 ? null : `stop ${bad + 1} needs a place from 0 to 1 and a colour`;
}

function profileFault(value: Setting): string | null {
  const profile = value as Partial<Profile> | null;
  if (!profile || typeof profile !== "object" || !Array.isArray(profile.points)) return "must be a profile";
  if (!PROFILE_FORMS.includes(profile.form as never))
    return `form must be one of ${PROFILE_FORMS.join(", ")}`;
  if (profile.points.length === 0) return "needs at least one point";
  if (profile.points.length > 256) return "has more than 256 points";
  const bad = profile.points.findIndex(
    (p) => !p || !isNumber(p.at as Setting) || p.at < 0 || p.at > 1 || !isNumber(p.value as Setting),
  );
  return bad < 0 ? null : `point ${bad + 1} needs a place from 0 to 1 and a value`;
}

/**
 * The setting as `evaluate` receives it (shapes and assets apart): constants for per-element inputs, radians
 * for angles, linear RGBA for colours, a quaternion for rotations.
 * @throws NodeError naming the input, with the nearest value that fits or the default as repair.
 */
export function resolveSetting(name: string, input: AnyInput, value: Setting): unknown {
  const fault = settingFault(input, value);
  if (fault) {
    const repaired = nearestSetting(input, value);
    throw new NodeError(`"${name}" ${fault}; it is ${settingText(value)}.`, name, {
      label: `Set to ${settingText(repaired)}`,
      input: name,
      value: repaired,
    });
  }
  switch (input.kind) {
    case "number": {
      const n =
        (input.whole ? Math.round(value as number) : (value as number)) * (input.unit === "°" ? RADIANS : 1);
      return input.perElement ? constant(n) : n;
    }
    case "vector":
      return input.perElement ? constants(value as readonly number[]) : value;
    case "rotation": {
      const [x, y, z] = value as readonly [number, number, number];
      const angles = [x * RADIANS, y * RADIANS, z * RADIANS] as const;
      const q = fromEuler(...angles, [0, 0, 0, 1]);
      return input.perElement ? Object.assign(constants(q), { angles: constants(angles) }) : q;
    }
    case "color": {
      const rgba = parseHex(value as string) as Rgba;
      return input.perElement ? constants(rgba) : rgba;
    }
    default:
      return value;
  }
}

const settingText = (value: Setting): string =>
  typeof value === "string" ? `"${value}"` : (JSON.stringify(value) ?? "nothing");

/** The stored value brought inside the limits where that is possible, else the default. */
function nearestSetting(input: AnyInput, value: Setting): Setting {
  const inside = (v: number) => clip(v, input.min, input.max);
  if (input.kind === "number" && isNumber(value)) return inside(value);
  if ((input.kind === "vector" || input.kind === "rotation") && isTriple(value)) return value.map(inside);
  return input.default;
}
