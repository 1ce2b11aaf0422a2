/** How the elements of a drawing look: style sheets, styles, attributes, colours (SVG 1.1, § 6 and § 11; CSS 2.1, § 5 and § 6). */
import { parseHex, type Rgba } from "../../maths/color";

/** What is asked of an element. */
interface Element {
  readonly tagName: string;
  readonly localName: string | null;
  getAttribute(name: string): string | null;
}

export interface Look {
  readonly fill: string;
  readonly "fill-rule": string;
  readonly stroke: string;
  readonly color: string;
  readonly opacity: number;
}

export const AT_FIRST: Look = {
  fill: "black",
  "fill-rule": "nonzero",
  stroke: "none",
  color: "black",
  opacity: 1,
};

interface Rule {
  /** As CSS counts it: names of elements, classes, ids. */
  readonly weight: number;
  readonly element: string | null;
  readonly id: string | null;
  readonly classes: readonly string[];
  readonly declarations: string;
}

/** The style sheets of a drawing. Selectors of one element by its name, classes and id are followed, others are not. */
export class StyleSheets {
  private readonly rules: Rule[] = [];

  /** @param texts what stands in the drawing's style elements, in order */
  constructor(texts: readonly string[]) {
    for (const text of texts)
      for (const [, selectors, declarations] of text
        .replace(/\/\*[\s\S]*?\*\//g, "")
        .matchAll(/([^{}@;]+)\{([^{}]*)\}/g))
        for (const selector of selectors.split(",")) {
          const rule = ruleOf(selector.trim(), declarations);
          if (rule) this.rules.push(rule);
        }
    // Of equal weight the last one counts: sorting keeps their order.
    this.rules.sort((a, b) => a.weight - b.weight);
  }

  /** A property by the element's style, else by the sheets, else by its attribute. */
  styleOf(element: Element, name: string): string | null {
    const own = declared(element.getAttribute("style") ?? "", name);
    if (own !== null) return own;
    let found: string | null = null;
    for (const rule of this.rules)
      if (fits(rule, element)) found = declared(rule.declarations, name) ?? found;
    return found ?? element.getAttribute(name);
  }

  lookOf(element: Element, before: Look): Look {
    const own = (name: keyof Look) => {
      const value = this.styleOf(element, name);
      return value === null || value === "inherit" ? null : value;
    };
    const opacity = Number(own("opacity") ?? 1);
    return {
      fill: own("fill") ?? before.fill,
      "fill-rule": own("fill-rule") ?? before["fill-rule"],
      stroke: own("stroke") ?? before.stroke,
      color: own("color") ?? before.color,
      opacity: before.opacity * (Number.isFinite(opacity) ? Math.min(1, Math.max(0, opacity)) : 1),
    };
  }
}

function declared(declarations: string, name: string): string | null {
  const found = new RegExp(`(?:^|;)\\s*${name}\\s*:\\s*([^;!]+)`).exec(declarations);
  return found?.[1].trim() ?? null;
}

function ruleOf(selector: string, declarations: string): Rule | null {
  const found = /^([\w-]+|\*)?((?:[.#][\w-]+)*)$/.exec(selector);
  if (!found || selector === "") return null;
  const marks = found[2].match(/[.#][\w-]+/g) ?? [];
  const ids = marks.filter((mark) => mark.startsWith("#")).map((mark) => mark.slice(1));
  const classes = marks.filter((mark) => mark.startsWith(".")).map((mark) => mark.slice(1));
  if (ids.length > 1) return null;
  const element = found[1] && found[1] !== "*" ? found[1] : null;
  return {
    weight: ids.length * 100 + classes.length * 10 + (element ? 1 : 0),
    element,
    id: ids[0] ?? null,
    classes,
    declarations,
  };
}

function fits({ element: name, id, classes }: Rule, element: Element): boolean {
  if (name !== null && name !== (element.localName ?? element.tagName)) return false;
  if (id !== null && id !== element.getAttribute("id")) return false;
  const own = (element.getAttribute("class") ?? "").split(/\s+/);
  return classes.every((one) => own.includes(one));
}

/** The sixteen names of HTML 4 and CSS 2.1. */
const NAMED: Readonly<Record<string, string>> = {
  black: "#000000",
  silver: "#c0c0c0",
  gray: "#808080",
  white: "#ffffff",
  maroon: "#800000",
  red: "#ff0000",
  purple: "#800080",
  fuchsia: "#ff00ff",
  green: "#008000",
  lime: "#00ff00",
  olive: "#808000",
  yellow: "#ffff00",
  navy: "#000080",
  blue: "#0000ff",
  teal: "#008080",
  aqua: "#00ffff",
  orange: "#ffa500",
  grey: "#808080",
};

/** A colour as drawings write it; null for what is none that is known here. */
export function colorOfText(text: string): Rgba | null {
  const plain = text.trim().toLowerCase();
  const [r = 0, g = 0, b = 0] = plain.startsWith("rgb(") ? (plain.match(/-?[\d.]+/g) ?? []).map(Number) : [];
  const hex = (v: number) =>
    Math.round(Math.min(255, Math.max(0, v)))
      .toString(16)
      .padStart(2, "0");
  const short = /^#([\da-f])([\da-f])([\da-f])$/.exec(plain);
  const long = short
    ? `#${short
        .slice(1)
        .map((c) => c + c)
        .join("")}`
    : plain;
  return parseHex(plain.startsWith("rgb(") ? `#${hex(r)}${hex(g)}${hex(b)}` : (NAMED[plain] ?? long)) ?? null;
}

/**
 * What it is filled with, else what it is drawn with; of a gradient the mean of its stops, black for a pattern and what is not known.
 * @param stopsOf the colours of a gradient by its id
 */
export function colorOf(
  { fill, stroke, color, opacity }: Look,
  stopsOf: (id: string) => readonly Rgba[],
): Rgba {
  const wanted = fill !== "none" ? fill : stroke !== "none" ? stroke : "black";
  const named = /^url\(["']?#([^"')]+)["']?\)/.exec(wanted.trim());
  const stops = named ? stopsOf(named[1]) : [];
  const mean = (l: number) => stops.reduce((sum, stop) => sum + stop[l], 0) / stops.length;
  const found: Rgba | null =
    stops.length > 0
      ? [mean(0), mean(1), mean(2), mean(3)]
      : colorOfText(wanted === "currentColor" ? color : wanted);
  const [red, green, blue, alpha] = found ?? [0, 0, 0, 1];
  return [red, green, blue, alpha * opacity];
}
