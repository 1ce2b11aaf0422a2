"use client";
import clsx from "clsx";
import type { Hint } from "@/core/nodes/define";
import { useStudioStore } from "../state/store";
import { repairEdit } from "./repair-edit";

/** What is wrong with a node, under its card, with the repair as a button where there is one. */
export function Problems({ id, problems }: { id: string; problems: readonly Hint[] }) {
  const store = useStudioStore();
  if (problems.length === 0) return null;
  return (
    <div className="mt-1 grid gap-1">
      {problems.map((problem) => (
        <div
          key={problem.what}
          role={problem.level === "error" ? "alert" : "status"}
          className={clsx(
            "nodrag rounded border-l-2 bg-panel/95 px-2 py-1 text-11 leading-4",
            problem.level === "error" && "border-alert text-ink",
            problem.level === "warning" && "border-accent text-faint",
            problem.level === "note" && "border-rule text-faint",
          )}
        >
          {problem.what}
          {problem.repair && (
            <button
              type="button"
              className="ml-1.5 rounded border border-rule bg-raised px-1.5 text-accent hover:border-accent"
              onClick={() => {
                const { opened, edit } = store.getState();
                if (problem.repair) edit(repairEdit(opened.document, id, problem.repair));
              }}
            >
              {problem.repair.label}
            </button>
          )}
        </div>
      ))}
    </div>
  );
}
