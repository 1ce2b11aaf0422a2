/**
 * How a node declares its inputs and outputs. A declaration carries everything else that is derived from it:
 * validation, the control on the card, search, the reference page, the command line.
 *
 * Lengths are units. Angles are degrees in documents and on links, radians in `evaluate`.
 */
import type { ColorField, NumberField, RotationField, VectorField } from "../fields/expression";
import type { AssetContent, FontAsset, LookUpAsset, PictureAsset, ShapeAsset } from "../formats/read/asset";
import type { Shape } from "../geometry/shape";
import type { Rgba } from "../maths/color";
import type { DrawnPath } from "../maths/drawn-path";
import type { Gradient } from "../maths/gradient";
import type { PaintedMask } from "../maths/painted-mask";
import type { Profile } from "../maths/profile";
import type { Vec3 } from "../maths/vector";
import type { Parts } from "../values/parts";

export const PORT_KINDS = [
  "shape",
  "number",
  "vector",
  "rotation",
  "color",
  "toggle",
  "text",
  "choice",
  "gradient",
  "profile",
  "path",
  "painted",
  "asset",
  "births",
  "forces",
  "camera",
  "light",
  "finish",
] as const;
export type PortKind = (typeof PORT_KINDS)[number];

/** Kinds that their nodes alone make: handed on as they are, several to an input. */
export const HANDED_ON: ReadonlySet<PortKind> = new Set<PortKind>([
  "births",
  "forces",
  "camera",
  "light",
  "finish",
]);

/** A value as a document stores it. */
export type Setting =
  | string
  | number
  | boolean
  | null
  | readonly Setting[]
  | { readonly [key: string]: Setting };

export const UNITS = ["", "units", "°", "frames", "s", "×", "px", "mm", "cm", "K"] as const;
export type Unit = (typeof UNITS)[number];

/** An input of a node. `T` is what `evaluate` receives for it. */
export interface Input<T> {
  readonly kind: PortKind;
  /** Shown instead of the port's name. */
  readonly label?: string;
  /** Takes a value per element (a field); otherwise one value, and a field is refused. */
  readonly perElement: boolean;
  /** Takes several links, in order. */
  readonly many: boolean;
  readonly default: Setting;
  /** Hard limits of a number: values outside are refused. */
  readonly min?: number;
  readonly max?: number;
  /** Limits of the slider; typed values may pass them. */
  readonly soft?: readonly [number, number];
  readonly whole?: boolean;
  readonly unit?: Unit;
  readonly choices?: readonly string[];
  /** Choices that stand for another one in what is taken away. */
  readonly takenAway?: Readonly<Record<string, string>>;
  /** What the file of an asset input has to hold. */
  readonly holds?: AssetContent["kind"];
  /** A text that wants a whole line to itself. */
  readonly long?: boolean;
  /** A text that may have several lines. */
  readonly lines?: boolean;
  /** "place" for one that can be moved on the stage; for a distance or a direction from it, the name of that input. */
  readonly handle?: string;
  /** The attribute that is read when nothing is linked. */
  readonly implicit?: string;
  /** Inputs of one group are shown together. */
  readonly group?: string;
  /** Shown only while another (choice or yes/no) input has one of these values. */
  readonly shownWhen?: { readonly input: string; readonly is: readonly Setting[] };
  readonly about: string;
  /** Only for types. */
  readonly resolved?: T;
}

export interface Output<T> {
  readonly kind: PortKind;
  /** Shown instead of the port's name. */
  readonly label?: string;
  readonly about: string;
  readonly resolved?: T;
}

type Common = Pick<Input<unknown>, "shownWhen" | "label"> & { about?: string };
type NumberOptions = Common & {
  default: number;
  min?: number;
  max?: number;
  soft?: [number, number];
  unit?: Unit;
  handle?: string;
};
type VectorOptions = Common & {
  default: Vec3;
  soft?: [number, number];
  min?: number;
  unit?: Unit;
  implicit?: string;
  handle?: string;
};

const make = <T>(kind: PortKind, options: Partial<Input<T>>): Input<T> => ({
  perElement: false,
  many: false,
  default: null,
  about: "",
  ...options,
  kind,
});

export const number = (o: NumberOptions): Input<number> => make("number", o);
export const integer = (o: NumberOptions): Input<number> => make("number", { ...o, whole: true });
export const length = (o: NumberOptions): Input<number> => make("number", { unit: "units", ...o });
export const angle = (o: NumberOptions): Input<number> =>
  make("number", { soft: [-360, 360], ...o, unit: "°" });
export const vector = (o: VectorOptions): Input<Vec3> => make("vector", { unit: "units", ...o });
/** Euler angles in degrees, XYZ, in documents. */
export const rotation = (o: Common): Input<readonly [number, number, number, number]> =>
  make("rotation", { default: [0, 0, 0], soft: [-180, 180], unit: "°", ...o });
export const color = (o: Common & { default: string }): Input<Rgba> => make("color", o);
export const toggle = (o: Common & { default: boolean }): Input<boolean> => make("toggle", o);
export const text = (o: Common & { default: string; long?: boolean; lines?: boolean }): Input<string> =>
  make("text", o);
export const choice = <const C extends readonly string[]>(
  choices: C,
  o: Common & { default?: C[number]; takenAway?: Readonly<Record<string, C[number]>> } = {},
): Input<C[number]> => make("choice", { choices, ...o, default: o.default ?? choices[0] });
export const gradient = (o: Common & { default: Gradient }): Input<Gradient> =>
  make("gradient", { ...o, default: o.default as unknown as Setting });
export const profile = (o: Common & { default: Profile }): Input<Profile> =>
  make("profile", { ...o, default: o.default as unknown as Setting });
export const painted = (o: Common & { default: PaintedMask }): Input<PaintedMask> =>
  make("painted", { ...o, default: o.default as unknown as Setting });
export const path = (o: Common & { default: DrawnPath }): Input<DrawnPath> =>
  make("path", { ...o, default: o.default as unknown as Setting });
/** The name of one of the document's assets, already read; null while none is chosen. */
export const assetShape = (o: Common): Input<ShapeAsset | null> => make("asset", { ...o, holds: "shape" });
export const assetPicture = (o: Common): Input<PictureAsset | null> =>
  make("asset", { ...o, holds: "picture" });
export const assetLookUp = (o: Common): Input<LookUpAsset | null> =>
  make("asset", { ...o, holds: "look-up" });
export const assetFont = (o: Common): Input<FontAsset | null> => make("asset", { ...o, holds: "font" });
export const shape = (o: Common = {}): Input<Shape> => make("shape", o);
export const shapes = (o: Common = {}): Input<readonly Shape[]> => make("shape", { ...o, many: true });
/** Where and how particles are born, of several emitters. */
export const births = (o: Common = {}): Input<readonly Parts[]> => make("births", { ...o, many: true });
/** What moves particles, in the order in which it is linked. */
export const forces = (o: Common = {}): Input<readonly Parts[]> => make("forces", { ...o, many: true });
/** Where the piece is seen from, by turns. */
export const cameras = (o: Common = {}): Input<readonly Parts[]> => make("camera", { ...o, many: true });
/** What lights the piece. */
export const lights = (o: Common = {}): Input<readonly Parts[]> => make("light", { ...o, many: true });
/** What becomes of the picture. */
export const finishes = (o: Common = {}): Input<readonly Parts[]> => make("finish", { ...o, many: true });

/** Inputs that take a value per element. */
export const field = {
  number: (o: NumberOptions): Input<NumberField> => make("number", { ...o, perElement: true }),
  angle: (o: NumberOptions): Input<NumberField> =>
    make("number", { soft: [-360, 360], ...o, unit: "°", perElement: true }),
  vector: (o: VectorOptions): Input<VectorField> => make("vector", { unit: "units", ...o, perElement: true }),
  rotation: (o: Common): Input<RotationField> =>
    make("rotation", { default: [0, 0, 0], soft: [-180, 180], unit: "°", ...o, perElement: true }),
  color: (o: Common & { default: string }): Input<ColorField> => make("color", { ...o, perElement: true }),
};

/** Outputs. A number, vector, rotation or colour may differ per element where it is used. */
export const out = {
  shape: (about: string): Output<Shape> => ({ kind: "shape", about }),
  number: (about: string): Output<NumberField> => ({ kind: "number", about }),
  vector: (about: string): Output<VectorField> => ({ kind: "vector", about }),
  rotation: (about: string): Output<RotationField> => ({ kind: "rotation", about }),
  color: (about: string): Output<ColorField> => ({ kind: "color", about }),
  births: (about: string): Output<Parts> => ({ kind: "births", about }),
  force: (about: string): Output<Parts> => ({ kind: "forces", about }),
  camera: (about: string): Output<Parts> => ({ kind: "camera", about }),
  light: (about: string): Output<Parts> => ({ kind: "light", about }),
  finish: (about: string): Output<Parts> => ({ kind: "finish", about }),
};
