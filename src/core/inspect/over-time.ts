/** How many elements there are at a port, how fast they are, and the numbers of one of them, frame by frame. */
import type { ResultMemory } from "../evaluate/memory";
import type { Domain } from "../geometry/column";
import { shapeNamed } from "../values/kinds";
import { elementsIn } from "./carried-values";
import { indexOfId } from "./table";

export interface OverTime {
  readonly frames: readonly number[];
  readonly count: readonly number[];
  /** Half the square of the speed, of all together, as if each had a mass of 1; null where they have no speed. */
  readonly energy: readonly (number | null)[];
  /** By attribute and component what one element had; null at frames at which it was not there. */
  readonly element: Readonly<Record<string, readonly (readonly (number | null)[])[]>>;
}

export class OverTimeReader {
  private readonly frames: number[] = [];
  private readonly count: number[] = [];
  private readonly energy: (number | null)[] = [];
  private readonly element: Record<string, (number | null)[][]> = {};

  /** @param node the path of a node @param id the element's; its number where there are no ids */
  constructor(
    private readonly node: string,
    private readonly port: string,
    private readonly id: number,
  ) {}

  /** Takes what the port gives in the last evaluation. */
  add(frame: number, memory: ResultMemory): void {
    const result = memory.get(this.node);
    const domain = elementsIn(result && shapeNamed(result.definition.outputs, result.outputs, this.port));
    this.frames.push(frame);
    this.count.push(domain?.count ?? 0);
    this.energy.push(domain ? energyOf(domain) : null);
    const index = domain ? indexOfId(domain, this.id) : -1;
    if (domain && index >= 0) this.take(domain, index);
    for (const parts of Object.values(this.element))
      for (const part of parts) if (part.length < this.frames.length) part.push(null);
  }

  answer(): OverTime {
    const { frames, count, energy, element } = this;
    return { frames, count, energy, element };
  }

  private take({ columns }: Domain, index: number): void {
    for (const [name, { lanes }] of Object.entries(columns)) {
      // An attribute that comes later was not there before.
      this.element[name] ??= lanes.map(() => this.frames.slice(1).map(() => null));
      for (const [l, lane] of lanes.entries()) this.element[name][l]?.push(lane[index]);
    }
  }
}

function energyOf({ columns }: Domain): number | null {
  const velocity = columns.velocity?.lanes;
  if (!velocity) return null;
  let sum = 0;
  for (const lane of velocity) for (let i = 0; i < lane.length; i++) sum += lane[i] * lane[i];
  return sum / 2;
}
