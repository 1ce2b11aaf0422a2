/**
 * Building a graph by a user's actions, which are counted. One action is: something added by the search (a node, a
 * capsule of the library, or what a link is dropped on the ground for), cards chosen by a click or by drawing around them, a link
 * drawn by hand, chosen cards copied together. Values that are set are not counted: they are the same in any way of building.
 */
import { parseAddress } from "../src/core/document/links";
import type { PieceDocument } from "../src/core/document/schema";
import { shippedCapsules } from "../src/server/demo";
import { addLinked } from "../src/studio/graph/adder/add-linked";
import { bringIn } from "../src/studio/graph/clipboard-edits";
import { addNodeEdit, connectEdit, duplicateEdit } from "../src/studio/graph/graph-edits";
import { createStudioStore } from "../src/studio/state/store";
import { BLANK, boxesOf } from "./cards";

export class Builder {
  actions = 0;
  private readonly store = createStudioStore("piece", BLANK);

  private get state() {
    return this.store.getState();
  }

  get document(): PieceDocument {
    return this.state.document;
  }

  /** Nodes one after the other, each behind the chosen one, and chosen then. Gives the id of the last. */
  add(...types: readonly string[]): string {
    let last = "";
    for (const type of types) {
      this.actions++;
      const { document } = this.state.opened;
      const { id, edit } = addNodeEdit(document, type, [0, 0]);
      if (!addLinked(this.store, edit, id, boxesOf(document), [0, 0])) throw new Error(`No ${type}.`);
      last = id;
    }
    return last;
  }

  /** A node that feeds an input, or takes an output: a link dropped on the ground. */
  addAt(type: string, address: string, end: "from" | "to" = "to"): string {
    this.actions++;
    const { id, edit } = addNodeEdit(this.document, type, [0, 0], { address, end });
    this.state.edit(edit);
    this.state.select([id]);
    return id;
  }

  capsule(name: string): string {
    this.actions++;
    const capsule = shippedCapsules().get(name);
    const brought = capsule && bringIn(this.document, capsule, [0, 0]);
    if (!brought?.ok) throw new Error(`No capsule ${name}.`);
    addLinked(this.store, brought.edit, brought.ids[0], boxesOf(this.document), [0, 0]);
    return brought.ids[0];
  }

  choose(...ids: readonly string[]): void {
    this.actions++;
    this.state.select(ids);
  }

  link(from: string, to: string): void {
    this.actions++;
    this.state.edit(connectEdit(this.document, { from, to }));
  }

  /** Copies of the chosen cards with the links into them; they are chosen then. */
  duplicate(): readonly string[] {
    this.actions++;
    const { ids, edit } = duplicateEdit(this.document, this.state.selected);
    this.state.edit(edit);
    this.state.select(ids);
    return ids;
  }

  /** Links by the types that they join, sorted. */
  links(): string[] {
    return linkTypes(this.document);
  }
}

export function linkTypes({ graph }: PieceDocument): string[] {
  const typeOf = (address: string) => {
    const { node, port } = parseAddress(address);
    return `${graph.nodes.find(({ id }) => id === node)?.type}.${port}`;
  };
  return graph.links.map(({ from, to }) => `${typeOf(from)}>${typeOf(to)}`).sort();
}
