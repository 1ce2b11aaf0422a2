/** What an emitter is told: how its node says it, and how that travels to the particles. */
import { constant, type NumberField, type VectorField } from "../fields/expression";
import type { Shape } from "../geometry/shape";
import type { Parts } from "../values/parts";
import type { Birthplace } from "./birthplaces";

export const BIRTH_TIMES = ["at a rate", "in bursts", "at frames", "once", "where a field rises"] as const;
export type BirthTimes = (typeof BIRTH_TIMES)[number];

/** As the node Emitter says it; angles in radians. */
export interface Emitting {
  readonly shape: Shape;
  readonly from: Birthplace;
  readonly when: BirthTimes;
  /** Each element of the source as many, instead of all together. */
  readonly each: boolean;
  /** A second. */
  readonly rate: number;
  /** At once. */
  readonly count: number;
  /** Seconds from burst to burst. */
  readonly every: number;
  readonly frames: readonly number[];
  /** Nothing is born before the first and after the last of these frames. */
  readonly between: readonly [number, number];
  readonly weight: NumberField;
  readonly inTurn: boolean;
  /** Seconds; 0 for ever. */
  readonly life: NumberField;
  readonly lifeSpread: number;
  readonly speed: NumberField;
  readonly speedSpread: number;
  readonly spread: number;
  readonly velocity: VectorField;
  readonly inherit: number;
  readonly carry: boolean;
  /** Of what dies: those of this generation and above have no children. */
  readonly generations: number;
  readonly seed: number;
  /** Seconds after which births come again with the same chances; null for never. */
  readonly loop: number | null;
}

const ZERO = constant(0);

/** Frames before and after all others; numbers that text can say. */
export const ALWAYS: readonly [number, number] = [-1e9, 1e9];

/** Seconds of a life, units a second, and degrees: what each is born with where nothing else is said. */
export const USUAL_AT_BIRTH = { life: 3, speed: 1, spread: 15 } as const;

/** What an emitter does of which only a shape is said. */
export const USUAL: Omit<Emitting, "shape"> = {
  from: "what is there",
  when: "at a rate",
  each: false,
  rate: 60,
  count: 100,
  every: 1,
  frames: [],
  between: ALWAYS,
  weight: constant(1),
  inTurn: false,
  life: constant(USUAL_AT_BIRTH.life),
  lifeSpread: 0.3,
  speed: constant(USUAL_AT_BIRTH.speed),
  speedSpread: 0.3,
  spread: (USUAL_AT_BIRTH.spread * Math.PI) / 180,
  velocity: [ZERO, ZERO, ZERO],
  inherit: 0,
  carry: true,
  generations: 1,
  seed: 0,
  loop: null,
};

export function birthsOf(emitting: Emitting): Parts {
  const { shape, weight, life, speed, velocity, ...settings } = emitting;
  return {
    what: "births",
    title: "Emitter",
    shapes: { shape },
    fields: { weight: [weight], life: [life], speed: [speed], velocity },
    settings,
  };
}

/** A shape that is linked where births are wanted. */
export const usualBirths = (shape: Shape): Parts => birthsOf({ ...USUAL, shape });

export const emittingOf = ({ shapes, fields, settings }: Parts): Emitting =>
  ({
    ...settings,
    shape: shapes.shape,
    weight: fields.weight[0],
    life: fields.life[0],
    speed: fields.speed[0],
    velocity: fields.velocity,
  }) as unknown as Emitting;
