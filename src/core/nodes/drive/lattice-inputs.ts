/** Inputs that all nodes with a noise share, and what they come to. */
import { applyAll, constant, divide, type Value, type VectorField } from "../../fields/expression";
import { timesEach } from "../../fields/vector-fields";
import { hash3 } from "../../maths/random";
import { type NodeContext, NodeError } from "../define";
import { field, integer, length, number, toggle } from "../ports";
import { passedSteps } from "./loop-time";

export const placeInputs = (sizeAbout: string) => ({
  place: field.vector({
    default: [0, 0, 0],
    implicit: "position",
    about: "Where it is read; the element's position unless linked.",
  }),
  size: length({ default: 1, min: 0, soft: [0.05, 8], about: sizeAbout }),
});

export const layerInputs = {
  octaves: integer({ default: 1, min: 1, max: 8, soft: [1, 8], about: "Layers of ever finer detail." }),
  roughness: number({ default: 0.5, min: 0, max: 1, soft: [0, 1], about: "How strong each finer layer is." }),
  lacunarity: number({ default: 2, min: 1, max: 8, soft: [1, 4], about: "How much finer each layer is." }),
};

export const timeInputs = (others: string) => ({
  speed: number({ default: 0, soft: [0, 4], about: "Changes a second." }),
  loop: toggle({
    default: false,
    about: "Repeat exactly over the piece's range; the speed is rounded to fit.",
  }),
  seed: integer({ default: 0, min: 0, soft: [0, 100], about: `Another number, other ${others}.` }),
});

/** The place in units of `size`. @throws NodeError for a size of 0 */
export function sizedPlace(place: VectorField, size: number, what: string): VectorField {
  if (size === 0) {
    throw new NodeError(`"size" is 0, so there are no ${what} to speak of.`, "size", {
      label: 'Set "size" to 1',
      input: "size",
      value: 1,
    });
  }
  return place.map((p) => divide(p, constant(size))) as unknown as VectorField;
}

/** Lattice steps passed at the frame. What does not move does not ask for the time. */
export const latticeTime = (context: NodeContext, speed: number, loop: boolean) => {
  const { steps, period } = speed === 0 ? { steps: 0, period: 0 } : passedSteps(context.time, speed, loop);
  return { w: steps, period };
};

/** As the inputs of these names resolve. */
interface Layers {
  readonly octaves: number;
  readonly roughness: number;
  readonly lacunarity: number;
  readonly speed: number;
  readonly loop: boolean;
  readonly seed: number;
}

interface Eddies extends Layers {
  readonly size: number;
  readonly strength: Value;
}

/** What operations with noises of one or several numbers take. @param channels of the seed, one a number */
export function latticeData(
  { octaves, roughness, lacunarity, speed, loop, seed }: Layers,
  context: NodeContext,
  channels: readonly number[] = [0, 1, 2],
) {
  const seeds = channels.map((channel) => hash3(context.seed, seed, channel));
  const options = { octaves, roughness, lacunarity, ...latticeTime(context, speed, loop) };
  return { key: JSON.stringify([seeds, options]), seeds, ...options };
}

/** The flow of the operation `swirl`, at a place. @throws NodeError for a size of 0 */
export function swirlFlow(place: VectorField, eddies: Eddies, context: NodeContext): VectorField {
  const at = sizedPlace(place, eddies.size, "eddies");
  const flow = applyAll("swirl", at, latticeData(eddies, context));
  return timesEach(flow as unknown as VectorField, eddies.strength);
}
