/** What is read of a shape where it was found: one of its attributes, as a number, a vector and a colour. */

import { type ColorField, constant, type Value, type VectorField } from "../../fields/expression";
import type { ColumnKind, Domain, Lane } from "../../geometry/column";
import type { Mesh } from "../../geometry/mesh";
import { own } from "../../own";
import type { NodeContext } from "../define";
import { out, text } from "../ports";

/** Read where nothing else is said; it is no fault to be without. */
const USUAL = "color";

export const attributeInput = (about: string) => text({ default: USUAL, about });

/** @param where such as "there" @param none what the number is where nothing is found */
export const attributeOutputs = (where: string, none: string) => ({
  value: out.number(`The attribute ${where}, its first component; ${none}.`),
  vector: out.vector(`The attribute ${where} as a vector.`),
  color: out.color(`The attribute ${where} as a colour.`),
});

/** Lanes of an attribute, of a mesh's corners or of points. */
export interface Carried {
  readonly lanes: readonly Lane[];
  readonly kind: ColumnKind;
  readonly byCorner: boolean;
}

/** An attribute of a surface: of its corners, where it may differ from face to face, else of its points. */
export function ofSurface({ corners, points }: Mesh, name: string, context: NodeContext): Carried {
  const column = own(corners.columns, name.trim());
  return column ? { ...column, byCorner: true } : ofElements(points, name, context);
}

/** An attribute of sites or points; none where they have no such one, which is told. */
export function ofElements({ columns }: Domain, name: string, context: NodeContext): Carried {
  const wanted = name.trim();
  const column = own(columns, wanted);
  if (!column && wanted !== "" && wanted !== USUAL)
    context.warn(`What is found has no attribute "${wanted}", so it is 0.`, { input: "attribute" });
  return { lanes: column?.lanes ?? [], kind: column?.kind ?? "number", byCorner: false };
}

/** Up to four components as outputs. */
export const attributeValues = ({ lanes }: Carried, [first, second, third, fourth]: readonly Value[]) => ({
  value: first,
  vector: [first, second, third] as VectorField,
  color: [first, second, third, lanes.length > 3 ? fourth : constant(1)] as ColorField,
});

const none = constant(0);

/** The outputs where nothing arrives to be found. */
export const NO_VALUES = {
  value: none,
  vector: [none, none, none] as VectorField,
  color: [none, none, none, none] as ColorField,
};
