import { capsulesWithin } from "@/core/capsules/definitions";
import { applyEdit, type Edit } from "@/core/document/edits";
import { faultsText } from "@/core/document/fault";
import { validateDocument } from "@/core/document/read";
import type { StudioStore } from "../state/store";

/**
 * Brings something into what is open, unless a capsule would contain itself by it, or the piece could not be saved any more;
 * then it says so and nothing changes.
 */
export function guardedEdit(store: StudioStore, edit: Edit): boolean {
  const { document, opened, edit: perform, set } = store.getState();
  const { capsule } = opened;
  const after = applyEdit(document, capsule === null ? edit : { kind: "within", capsule, edit }).document;
  const refuse = (notice: string) => {
    set({ notice });
    return false;
  };
  if (capsule !== null && capsulesWithin(after.capsules, capsule).has(capsule))
    return refuse(
      `“${after.capsules[capsule].title}” would contain itself by this, so it was left out. Make the inner one its own first.`,
    );
  const read = validateDocument(after);
  if (!read.ok)
    return refuse(
      `With this the piece could not be saved any more, so it was left out. ${faultsText(read.faults.slice(0, 1))}`,
    );
  perform(edit);
  return true;
}
