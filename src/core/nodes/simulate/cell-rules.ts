import { column } from "../../fields/expression";
import { runValues } from "../../fields/run";
import { withKin } from "../../geometry/across";
import { type Lane, makeColumn } from "../../geometry/column";
import { placedName } from "../../geometry/domains";
import type { Shape } from "../../geometry/shape";
import { type Incidence, topologyOf } from "../../geometry/topology";
import { aliveOf, byCount, byRow, type Cells, cellsOf } from "../../growth/automata";
import { hash3, unit24 } from "../../maths/random";
import type { State, Stepping } from "../../simulate/state";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, NodeError, type Resolved } from "../define";
import { elementsOf, withElements } from "../elements";
import { choice, field, integer, length, number, out, shape, text } from "../ports";
import { runUpInput } from "./step-inputs";

const BY_COUNT = "by how many live beside them";
const BY_ROW = "in a row, by a number";

const INPUTS = {
  shape: shape({ about: "Sites, as a grid of them, or a mesh whose points are cells." }),
  rule: choice([BY_COUNT, BY_ROW], { about: "What decides whether a cell lives." }),
  born: text({
    default: "3",
    shownWhen: { input: "rule", is: [BY_COUNT] },
    about: "With how many living neighbours a cell comes to life: numbers with spaces between.",
  }),
  stays: text({
    default: "2 3",
    shownWhen: { input: "rule", is: [BY_COUNT] },
    about: "With how many it stays alive.",
  }),
  reach: length({
    default: 1.5,
    min: 0,
    soft: [0.1, 3],
    shownWhen: { input: "rule", is: [BY_COUNT] },
    about: "How far away neighbours of sites are; on a mesh those along edges count.",
  }),
  number: integer({
    default: 30,
    min: 0,
    max: 255,
    soft: [0, 255],
    shownWhen: { input: "rule", is: [BY_ROW] },
    about: "One of 256 rules for a cell and both beside it, in the order of their numbers.",
  }),
  start: field.number({
    default: 0,
    min: 0,
    max: 1,
    soft: [0, 1],
    about: "Above 0.5 a cell lives at first: a picture, a falloff, a mask.",
  }),
  share: number({
    default: 0.3,
    min: 0,
    max: 1,
    soft: [0, 1],
    unit: "×",
    about: "Of all others, how many live at first by chance.",
  }),
  every: integer({
    default: 3,
    min: 1,
    soft: [1, 25],
    unit: "frames",
    about: "From one generation to the next.",
  }),
  runUp: runUpInput("Frames lived before the first."),
};

type Inputs = Resolved<typeof INPUTS>;

interface Living extends State {
  readonly domains: Cells["domains"];
  readonly numbers: { readonly frames: readonly [number] };
}

const living = ({ domains }: Cells, frames: number): Living => ({ domains, numbers: { frames: [frames] } });

/** @throws NodeError for what is no list of numbers */
function numbersOf(words: string, input: "born" | "stays"): ReadonlySet<number> {
  const parts = words.split(/[\s,]+/).filter((part) => part !== "");
  const wrong = parts.find((part) => !/^\d+$/.test(part));
  if (wrong !== undefined)
    throw new NodeError(
      `"${wrong}" is no number of neighbours: whole numbers with spaces between, as 2 3.`,
      input,
    );
  return new Set(parts.map(Number));
}

const known = new WeakMap<Lane, { readonly reach: number; readonly beside: Incidence }>();

function besides({ sites, mesh }: Shape, reach: number): Incidence {
  if (!sites)
    return mesh ? topologyOf(mesh).pointsOfPoints : { starts: new Int32Array(1), items: new Int32Array(0) };
  const { lanes } = sites.columns.position;
  const found = known.get(lanes[0]);
  if (found?.reach === reach) return found.beside;
  const { starts, numbers } = new PointGrid(lanes).within(lanes, reach, true);
  const beside = { starts, items: numbers };
  known.set(lanes[0], { reach, beside });
  return beside;
}

function atFirst({ shape, start, share }: Inputs, seed: number): Cells {
  const on = placedName(shape);
  if (!on) return cellsOf(new Float32Array(0), new Float32Array(0));
  const [said] = runValues([start], withKin(shape, on), { onlyFinite: true }).lanes;
  const alive = Float32Array.from(said, (v, i) => (v > 0.5 || unit24(hash3(seed, i, 11)) < share ? 1 : 0));
  return cellsOf(alive, new Float32Array(alive.length));
}

const stepping: Stepping<Inputs, Living> = {
  runUp: "runUp",
  start: (inputs, { seed }) => living(atFirst(inputs, seed), 0),
  step(before, inputs, { seconds, fps, seed }) {
    const { shape, rule, every } = inputs;
    const on = placedName(shape);
    const count = on ? withKin(shape, on).count : 0;
    const [done] = before.numbers.frames;
    const frames = done + seconds * fps;
    let cells: Cells = before.domains.cells.count === count ? before : atFirst(inputs, seed);
    const more = Math.floor(frames / every + 1e-6) - Math.floor(done / every + 1e-6);
    for (let g = 0; g < more && count > 0; g++) {
      if (rule === BY_ROW) cells = byRow(cells, inputs.number);
      else {
        const counts = { born: numbersOf(inputs.born, "born"), stays: numbersOf(inputs.stays, "stays") };
        cells = byCount(cells, besides(shape, inputs.reach), counts);
      }
    }
    return living(cells, frames);
  },
};

export const cellRules = defineNode({
  type: "cell-rules",
  family: "simulate",
  title: "Cell rules",
  about: "Cells that come to life, stay and die by what lives beside them, generation after generation.",
  synonyms: [
    "cellular automaton",
    "game of life",
    "automata",
    "rule 30",
    "population",
    "grid rule",
    "neighbour rule",
  ],
  inputs: INPUTS,
  outputs: {
    shape: out.shape("The same; `alive` is 0 or 1, `age` generations since that changed."),
    alive: out.number("1 where a cell lives."),
  },
  summary: ({ rule, born, stays, number: n }) =>
    rule === BY_ROW ? `rule ${n}` : `born ${born}, stays ${stays}`,
  cost: ({ shape: { sites, mesh } }) => ({
    milliseconds: (sites?.count ?? mesh?.points.count ?? 0) * 0.0001,
  }),
  stepping,
  evaluate({ shape, rule, born, stays }, context) {
    if (rule === BY_COUNT) {
      numbersOf(born, "born");
      numbersOf(stays, "stays");
    }
    const state = context.carried<Living>();
    const alive = column("alive", 0, 0);
    const elements = elementsOf(shape, context);
    if (!elements || elements.domain.count !== state.domains.cells.count) return { shape, alive };
    const { age } = state.domains.cells.columns;
    return {
      shape: withElements(shape, elements, { alive: makeColumn("number", [aliveOf(state)]), age }),
      alive,
    };
  },
});
