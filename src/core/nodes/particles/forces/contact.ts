/** What happens to a particle that touches something. */
import {
  apply,
  constant,
  dotProduct,
  positionField,
  scaleBy,
  subtract,
  type Value,
  type VectorField,
} from "../../../fields/expression";
import { both, either, isLess, less, sum, timesEach } from "../../../fields/vector-fields";
import { limiting, velocityField } from "../../../particles/forces";
import type { Parts } from "../../../values/parts";

export interface Touching {
  /** Units to the surface, below 0 on the wrong side. */
  readonly signed: Value;
  /** Unit, away from it to the right side. */
  readonly normal: VectorField;
  /** Where it is put on the right side if it has gone through since the step before; with whether it has. */
  readonly through?: { readonly is: Value; readonly place: VectorField; readonly normal: VectorField };
  /** Units a second at which the surface moves where it is touched; missing where it stands still. */
  readonly moves?: VectorField;
}

export interface Response {
  readonly thickness: number;
  /** Part of the speed against the surface that comes back. */
  readonly bounce: Value;
  /** Part of the speed along it that is lost. */
  readonly friction: Value;
  readonly sticks: boolean;
  readonly ends: boolean;
}

/**
 * Put back to the surface, and beyond it by what comes back of the way that it went too far; its speed, against that of the surface, turned
 * round and lessened.
 */
export function contact(title: string, { signed, normal, through, moves }: Touching, way: Response): Parts {
  const { thickness, friction, sticks, ends } = way;
  const bounce = sticks ? constant(0) : way.bounce;
  const depth = subtract(constant(thickness), signed);
  const near = isLess(constant(0), depth);
  const touches = through ? apply("maximum", [near, through.is]) : near;
  const facing = through ? either(normal, through.normal, through.is) : normal;
  const velocity = moves ? less(velocityField(), moves) : velocityField();
  const against = dotProduct(velocity, facing);
  const isGoingIn = isLess(against, constant(0));
  const back = apply("select", [constant(0), bounce, isGoingIn]);
  const lifted = sum(positionField(), timesEach(normal, scaleBy(depth, apply("add", [constant(1), back]))));
  const place = through
    ? either(lifted, sum(through.place, timesEach(through.normal, constant(thickness))), through.is)
    : lifted;
  const along = less(velocity, timesEach(facing, against));
  const kept = timesEach(along, subtract(constant(1), friction));
  const bounced = sum(kept, timesEach(facing, scaleBy(apply("subtract", [constant(0), against]), bounce)));
  const stopped = [constant(0), constant(0), constant(0)] as const;
  const response = sticks ? stopped : bounced;
  const after = moves ? sum(response, moves) : response;
  const turns = sticks ? touches : both(touches, isGoingIn);
  return limiting(title, {
    place: either(positionField(), place, touches),
    velocity: either(velocityField(), after, turns),
    ...(ends ? { ends: touches } : {}),
  });
}
