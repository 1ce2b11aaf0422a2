import clsx from "clsx";
import { ArrowDown, ArrowUp } from "lucide-react";
import { useMemo } from "react";
import type { TablePage, TableQuery } from "@/core/inspect/table";
import { shortNumber } from "../graph/cards/summary";

/** Height of a row, pixels. */
export const ROW = 20;

interface RowsProps {
  readonly page: TablePage;
  readonly scroller: React.RefObject<HTMLDivElement | null>;
  readonly height: number;
  readonly items: readonly { readonly index: number; readonly start: number }[];
  readonly sort: TableQuery["sort"];
  readonly describe: string | undefined;
  readonly marked: readonly number[];
  readonly onColumn: (column: string) => void;
  readonly onPick: (element: number, add: boolean) => void;
}

/** Rows that are in view, under the names of their columns. */
export function Rows({ page, scroller, height, items, sort, describe, marked, onColumn, onPick }: RowsProps) {
  const { columns, from, elements, numbers } = page;
  const template = useMemo(() => `56px repeat(${columns.length}, minmax(72px, 1fr))`, [columns.length]);
  const chosen = new Set(marked);
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Values"
      aria-rowcount={page.passed + 1}
      aria-colcount={columns.length + 1}
      tabIndex={0}
      className="tabular min-h-0 flex-1 overflow-auto"
      onKeyDown={(event) => {
        const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
        const at = elements.indexOf(marked.at(-1) ?? -1);
        if (!by || at < 0) return;
        event.preventDefault();
        event.stopPropagation();
        const next = elements[at + by];
        if (next !== undefined) onPick(next, false);
      }}
    >
      <div
        role="row"
        className="sticky top-0 z-10 grid h-5 w-max min-w-full items-center border-b border-rule bg-raised"
        style={{ gridTemplateColumns: template }}
      >
        <span role="columnheader" className="px-2 text-faint">
          #
        </span>
        {columns.map((column) => (
          <span
            key={column}
            role="columnheader"
            aria-sort={sort?.column === column ? (sort.descending ? "descending" : "ascending") : "none"}
          >
            <button
              type="button"
              title={`Sort by ${column} and describe it`}
              className={clsx(
                "flex w-full items-center justify-end gap-1 px-1.5",
                describe === column ? "text-accent" : "text-faint hover:text-ink",
              )}
              onClick={() => onColumn(column)}
            >
              <span className="truncate">{column}</span>
              {sort?.column === column && (sort.descending ? <ArrowDown size={10} /> : <ArrowUp size={10} />)}
            </button>
          </span>
        ))}
      </div>
      <div className="relative w-max min-w-full" style={{ height }}>
        {items.map(({ index, start }) => {
          const at = index - from;
          if (at < 0 || at >= elements.length) return null;
          const element = elements[at];
          return (
            <div
              key={index}
              role="row"
              tabIndex={-1}
              aria-rowindex={index + 2}
              aria-selected={chosen.has(element)}
              className={clsx(
                "absolute inset-x-0 grid cursor-default items-center hover:bg-raised",
                chosen.has(element) && "bg-raised text-accent",
              )}
              style={{ gridTemplateColumns: template, height: ROW, top: start }}
              onClick={(event) => onPick(element, event.ctrlKey || event.metaKey || event.shiftKey)}
              onKeyDown={(event) => event.key === "Enter" && onPick(element, event.shiftKey)}
            >
              <span role="gridcell" className="px-2 text-faint">
                {element}
              </span>
              {columns.map((column, c) => (
                <span key={column} role="gridcell" className="truncate px-1.5 text-right">
                  {shortNumber(numbers[c * elements.length + at])}
                </span>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
