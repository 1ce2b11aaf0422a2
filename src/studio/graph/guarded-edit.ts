import { capsulesWithin } from "@/core/capsules/definitions";
import { applyEdit, type Edit } from "@/core/document/edits";
import type { StudioStore } from "../state/store";

/** Makes an edit of what is open, unless a capsule would contain itself by it; then it says so and nothing changes. */
export function editUnlessSelf(store: StudioStore, edit: Edit): boolean {
  const { document, opened, edit: perform, set } = store.getState();
  const { capsule } = opened;
  if (capsule !== null) {
    const { capsules } = applyEdit(document, { kind: "within", capsule, edit }).document;
    if (capsulesWithin(capsules, capsule).has(capsule)) {
      set({
        notice: `“${capsules[capsule].title}” would contain itself by this, so it was left out. Make the inner one its own first.`,
      });
      return false;
    }
  }
  perform(edit);
  return true;
}
