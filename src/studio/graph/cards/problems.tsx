"use client";
import clsx from "clsx";
import type { NodeReport } from "@/core/evaluate/report";
import type { Hint } from "@/core/nodes/define";
import { useStudioStore } from "../../state/store";
import { repairEdit } from "./repair-edit";

/** What is told of a node: what is wrong first, then what would surprise. */
export const problemsOf = (report: NodeReport | undefined): readonly Hint[] => [
  ...(report?.problems ?? []),
  ...(report?.hints ?? []),
];

interface ProblemsProps {
  readonly id: string;
  readonly problems: readonly Hint[];
  /** On a card: whether it is chosen; then it is told whole, over what lies below. Else it stands in the drawer. */
  readonly chosen?: boolean;
}

/**
 * What is wrong with a node, under its card, with the repair as a button where there is one. One line fits between two cards; the
 * rest is read by pointing at it or by choosing the card.
 */
export function Problems({ id, problems, chosen }: ProblemsProps) {
  const store = useStudioStore();
  if (problems.length === 0) return null;
  return (
    <div
      className={chosen === undefined ? "mb-2 grid gap-1 text-12" : "card-problems nodrag nopan"}
      data-whole={chosen}
    >
      {problems.map((problem) => (
        <div
          key={problem.what}
          role={problem.level === "error" ? "alert" : "status"}
          className={clsx(
            "border-l-2 px-2",
            chosen !== undefined && "card-problem",
            problem.level === "error" && "border-alert text-ink",
            problem.level === "warning" && "border-accent text-faint",
            problem.level === "note" && "border-rule text-faint",
          )}
        >
          <span className="card-problem-text">{problem.what}</span>
          {problem.repair && (
            <button
              type="button"
              className="ml-1.5 shrink-0 rounded border border-rule bg-raised px-1.5 text-accent hover:border-accent"
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
