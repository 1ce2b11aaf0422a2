import { plainNumbers } from "../../fields/expression";
import { EMPTY_SHAPE, isFilled, type Shape } from "../../geometry/shape";
import { TILE } from "../../geometry/volume";
import { greatestOf } from "../../kernels/statistics";
import type { Stepping } from "../../simulate/state";
import { asDistances } from "../../volumes/as-distances";
import { steppedSmoke } from "../../volumes/smoke";
import { NO_SMOKE, type Smoke, type SmokeSettings } from "../../volumes/smoke-state";
import { volumeOfSmoke } from "../../volumes/smoke-volume";
import { defineNode, type NodeContext, type Resolved } from "../define";
import { fine } from "../form/volumes/input-volume";
import { choice, field, integer, length, number, out, shapes } from "../ports";
import { runUpInput } from "./step-inputs";

const AS_SET = "as set here";
/** Ready ways to move; the dials behind them are times these. */
const STYLES = {
  calm: { rise: 1.2, weight: 0.1, swirl: 2, fade: 0.35, cool: 0.6, drag: 0.4 },
  billowing: { rise: 2.6, weight: 0, swirl: 7, fade: 0.3, cool: 0.35, drag: 0 },
  "a fast jet": { rise: 1, weight: 0, swirl: 4, fade: 0.9, cool: 1.4, drag: 0.1 },
  "ink in water": { rise: 0.05, weight: 0.9, swirl: 3, fade: 0.05, cool: 0.2, drag: 0.9 },
} as const;
const AS_IS = "as it is";
const TWICE = "twice as fine";
const TAKEN_AWAY = "twice as fine when taken away";
const NAMES = Object.keys(STYLES) as (keyof typeof STYLES)[];
const OWN = { input: "style", is: [AS_SET] } as const;

const own = (usual: number, most: number, about: string) =>
  number({ default: usual, min: 0, soft: [0, most], shownWhen: OWN, about });

const INPUTS = {
  sources: shapes({ about: "Where smoke comes from: meshes, volumes, sites or curves." }),
  obstacles: shapes({ about: "What it flows around; may move." }),
  style: choice([...NAMES, AS_SET], { about: "How it moves, ready; or as you set it." }),
  amount: field.number({
    default: 3,
    min: 0,
    soft: [0, 10],
    about: "Density that each place of a source gives in a second.",
  }),
  warmth: field.number({
    default: 3,
    soft: [0, 10],
    about: "Heat that it gives in a second; what is warm rises.",
  }),
  speed: field.vector({
    default: [0, 0, 0],
    soft: [-5, 5],
    about: "How it leaves its source, units a second.",
  }),
  push: field.vector({
    default: [0, 0, 0],
    soft: [-5, 5],
    about: "A wind everywhere, in units a second²; link a swirl here. It may read `density` and `heat`.",
  }),
  voxel: length({
    default: 0.1,
    min: 0.001,
    soft: [0.04, 0.3],
    about: "How wide a cell is: half of it costs ten times as much.",
  }),
  detail: choice([AS_IS, TWICE, TAKEN_AWAY], {
    takenAway: { [TAKEN_AWAY]: TWICE },
    about:
      "Twice as many cells along each side, for the same smoke in more detail: now, which takes about twelve times as long, or only in what is taken away.",
  }),
  time: number({
    default: 1,
    min: 0,
    soft: [0, 2],
    unit: "×",
    about: "How quickly time passes; 0 stands still.",
  }),
  rise: own(1.5, 6, "How strongly heat 1 rises, units a second²."),
  weight: own(0, 3, "How strongly density 1 sinks, units a second²."),
  swirl: own(4, 15, "How much eddies are kept turning."),
  fade: own(0.3, 3, "How much of it is gone in a second."),
  cool: own(0.5, 3, "How much of its heat is gone in a second."),
  drag: own(0.1, 3, "How much of its speed is lost in a second."),
  radius: length({
    default: 0.2,
    min: 0,
    soft: [0.02, 1],
    about: "Of the ball that each site or point of a source or an obstacle is.",
  }),
  walls: choice(["open", "floor", "closed"], {
    about: "Whether it leaves its box, not through the floor at height 0, or not at all.",
  }),
  most: integer({
    default: 96,
    min: 16,
    max: 256,
    soft: [32, 160],
    about: "Cells along any side; the box grows with the smoke until then.",
  }),
  runUp: runUpInput("Frames worked out before the first, so that it is there already."),
};

type Inputs = Resolved<typeof INPUTS>;

/** Cells, and how many times finer they are than as it is set. */
function cellsOf({ voxel, most, detail }: Pick<Inputs, "voxel" | "most" | "detail">) {
  const finer = detail === TWICE ? 2 : 1;
  return { voxel: voxel / finer, most: most * finer, finer };
}

function settingsOf(inputs: Inputs): SmokeSettings {
  const { sources, obstacles, style, amount, warmth, speed, push, radius, walls } = inputs;
  const { voxel, most, finer } = cellsOf(inputs);
  const { rise, weight, swirl, fade, cool, drag } = inputs;
  const distances = (all: readonly Shape[]) =>
    all.flatMap((shape) => fine(() => asDistances(shape, voxel, Math.max(radius, voxel))) ?? []);
  const moves = style === AS_SET ? { rise, weight, swirl, fade, cool, drag } : STYLES[style];
  const still = plainNumbers(push)?.every((v) => v === 0);
  return {
    voxel,
    sources: distances(sources).map((volume) => ({ volume, fields: [amount, warmth, ...speed] })),
    obstacles: distances(obstacles),
    ...moves,
    // What keeps eddies turning pushes by cells: as far as before only if it is as many times stronger.
    swirl: moves.swirl * finer,
    push: still ? null : push,
    walls,
    most,
  };
}

const stepping: Stepping<Inputs, Smoke> = {
  runUp: "runUp",
  start: () => NO_SMOKE,
  step: (before, inputs, { seconds }) => steppedSmoke(before, settingsOf(inputs), seconds * inputs.time),
};

export const smoke = defineNode({
  type: "smoke",
  family: "simulate",
  title: "Smoke",
  about: "Smoke, steam or ink that rises from shapes, turns, flows around others and fades.",
  synonyms: ["fluid", "fire", "steam", "fog", "gas", "fluid simulation", "ink", "cloud", "plume", "dust"],
  inputs: INPUTS,
  outputs: {
    shape: out.shape(
      "A volume: voxels have `density`, `heat` and `velocity`, for particles to be carried by.",
    ),
  },
  summary: ({ style, voxel }) => `${style}, cells of ${voxel}`,
  cost: ({ most: set, detail, sources }) => {
    const most = detail === TWICE ? 2 * set : set;
    // A plume is about a third as wide and deep as it is high.
    const cells = sources.length > 0 ? most ** 3 / 8 : 0;
    return { bytes: cells * 60, milliseconds: cells * 0.0004 };
  },
  stepping,
  evaluate(inputs, context) {
    const smoke = context.carried<Smoke>();
    if (inputs.sources.every((shape) => !isFilled(shape)))
      context.warn("No source arrives, so there is no smoke.", { input: "sources" });
    const volume = volumeOfSmoke(smoke);
    if (!volume) return { shape: EMPTY_SHAPE };
    tell(smoke, inputs, context);
    return { shape: { volume } };
  },
});

function tell({ domains: { cells }, numbers: { tiles } }: Smoke, inputs: Inputs, context: NodeContext): void {
  const { most, voxel } = cellsOf(inputs);
  const sides = tiles.map((t) => t * TILE);
  context.note(`${sides.join(" × ")} cells.`);
  if (Math.max(...sides) + TILE > most)
    context.note(
      `It has grown to ${most} cells along a side and leaves the box there. Larger cells or a greater "most" give it room.`,
    );
  const fastest = greatestOf(cells.columns.velocity.lanes) * voxel * inputs.time;
  if (fastest > 0) context.note(`The fastest goes ${Number(fastest.toPrecision(2))} units a second.`);
}
