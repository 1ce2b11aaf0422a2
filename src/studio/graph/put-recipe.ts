import { requestJson } from "@/ui/request";
import type { StudioStore } from "../state/store";
import type { Boxes } from "./card-places";
import { guardedEdit } from "./guarded-edit";
import { putRecipe, type Recipe } from "./recipe-edits";

/** Reads what there is; the studio works without recipes while the server is away. */
export async function loadRecipes(store: StudioStore): Promise<void> {
  const answer = await requestJson<{ recipes: Recipe[] }>("/api/recipes").catch(() => null);
  if (answer) store.getState().set({ recipes: answer.recipes });
}

/**
 * Puts a recipe into what is open, and chooses its nodes; tells why when it cannot. Its nodes are one step, its links the next.
 * Returns the last of its nodes.
 */
export function insertRecipe(
  store: StudioStore,
  recipe: Recipe,
  boxes: Boxes,
  pointer: readonly [number, number],
): string | null {
  const { opened, selected, select, set } = store.getState();
  const chosen = selected.size === 1 ? [...selected][0] : null;
  const put = putRecipe(opened.document, recipe, chosen, boxes, pointer, opened.capsule === null);
  if (!put.ok) {
    set({ notice: put.what });
    return null;
  }
  if (!guardedEdit(store, put.add)) return null;
  if (put.link) guardedEdit(store, put.link);
  select(put.ids);
  return put.ids.at(-1) ?? null;
}
