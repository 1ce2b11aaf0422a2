import { parseAddress } from "@/core/document/links";
import { requestJson } from "@/ui/request";
import { chosenNode, type StudioStore } from "../../state/store";
import type { Boxes } from "../cards/card-places";
import { performLinked } from "./add-linked";
import { lackedBy, putRecipe, type Recipe } from "./recipe-edits";

/** Reads what there is; the studio works without recipes while the server is away. */
export async function loadRecipes(store: StudioStore): Promise<void> {
  const answer = await requestJson<{ recipes: Recipe[] }>("/api/recipes").catch(() => null);
  if (answer) store.getState().set({ recipes: answer.recipes });
}

/**
 * Puts a recipe into what is open, and chooses its nodes; tells why when it cannot. Returns the last of its nodes.
 * @param from the output that a link was led from; else it works on what is chosen
 */
export function insertRecipe(
  store: StudioStore,
  recipe: Recipe,
  boxes: Boxes,
  pointer: readonly [number, number],
  from?: string,
): string | null {
  const state = store.getState();
  const { document, capsule } = state.opened;
  const lacks = from === undefined ? null : lackedBy(document, recipe, from);
  if (lacks) {
    state.set({ notice: lacks });
    return null;
  }
  const chosen = from === undefined ? chosenNode(state) : parseAddress(from).node;
  const put = putRecipe(document, recipe, chosen, boxes, pointer, capsule === null);
  if (!put.ok) {
    state.set({ notice: put.what });
    return null;
  }
  return performLinked(store, put.add, put.link, put.ids) ? (put.ids.at(-1) ?? null) : null;
}
