"use client";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Download } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { DomainName } from "@/core/geometry/domains";
import type { TableQuery } from "@/core/inspect/table";
import { IconButton } from "@/ui/button";
import { download } from "@/ui/download";
import { Select } from "@/ui/select";
import { countText } from "../graph/cards/summary";
import { useStudio, useStudioStore } from "../state/store";
import { outputsAt, pickElement, type Source, shownSource } from "./pick";
import { ROW, Rows } from "./rows";
import { Statistics } from "./statistics";
import { useQuery } from "./use-query";

/** Rows asked for at a time; the window begins at multiples of half of it. */
const WINDOW = 160;

/** Elements of the result, or of the chosen node's output, as rows: sorted, filtered, described, chosen. */
export function ValuesTable() {
  const store = useStudioStore();
  const document = useStudio((s) => s.document);
  const peek = useStudio((s) => s.peek);
  const chosen = useStudio((s) => (s.selected.size === 1 ? s.opened.prefix + [...s.selected][0] : null));
  const [port, setPort] = useState<string | null>(null);
  const [domain, setDomain] = useState<DomainName | undefined>();
  const [sort, setSort] = useState<TableQuery["sort"]>();
  const [filter, setFilter] = useState("");
  const [describe, setDescribe] = useState<string | undefined>();
  const [first, setFirst] = useState(0);

  const shown = shownSource({ peek, document });
  const ports = chosen === null ? [] : outputsAt(document, chosen);
  const own = chosen !== null && ports.length > 0 ? chosen : null;
  const source: Source | null =
    own !== null ? { node: own, port: port && ports.includes(port) ? port : ports[0] } : shown;
  const query = source && { ...source, domain, sort, filter, describe };
  const where = useStudio((s) => (source ? markedElements(s, source) : NONE));
  const { answer: page, fault } = useQuery(
    "table",
    query && { ...query, from: first, count: WINDOW, find: where.at(-1) },
  );

  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: page?.passed ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const [top] = rows.getVirtualItems();
  useEffect(() => {
    const half = WINDOW / 2;
    const wanted = Math.max(0, Math.floor(((top?.index ?? 0) - half / 2) / half) * half);
    if (wanted !== first) setFirst(wanted);
  }, [top?.index, first]);

  // What was chosen on the stage is brought into view.
  const row = page?.row ?? null;
  useEffect(() => {
    if (row !== null && row >= 0) rows.scrollToIndex(row, { align: "auto" });
  }, [row, rows]);

  const takeAway = async () => {
    const { query: answer, set } = store.getState();
    try {
      const text = query && (await answer?.("csv", query));
      if (text) download(new Blob([text], { type: "text/csv" }), `${source?.node.replaceAll("/", "-")}.csv`);
      else set({ notice: "There are no elements to take away." });
    } catch (error) {
      set({ notice: (error as Error).message });
    }
  };
  const name = own ?? (peek ? peek.node : "the result");
  return (
    <div className="flex h-full min-h-0 text-11">
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex h-7 shrink-0 items-center gap-2 border-b border-dashed px-2">
          <span className="truncate font-semibold">{name}</span>
          {ports.length > 1 && source && (
            <Select
              className="w-24"
              label="Output"
              value={source.port}
              choices={ports.map((p) => ({ value: p, label: p }))}
              onChange={setPort}
            />
          )}
          {page && page.domains.length > 1 && (
            <Select
              className="w-28"
              label="Elements"
              value={page.domain}
              choices={page.domains.map((d) => ({ value: d.name, label: `${d.name} ${countText(d.count)}` }))}
              onChange={(to) => setDomain(to as DomainName)}
            />
          )}
          <input
            aria-label="Show only rows where"
            aria-invalid={page?.fault != null}
            placeholder="only where, as scale.x > 0.5"
            defaultValue={filter}
            spellCheck={false}
            className="tabular h-5 min-w-24 flex-1 rounded border border-rule bg-ground px-1.5 aria-invalid:border-alert"
            onChange={(event) => setFilter(event.currentTarget.value)}
            onKeyDown={(event) => event.stopPropagation()}
          />
          <span className="tabular shrink-0 text-faint">
            {page
              ? page.passed < page.total
                ? `${countText(page.passed)} of ${countText(page.total)}`
                : countText(page.total)
              : ""}
          </span>
          <IconButton label="Take the rows away as CSV" className="!h-5 !w-5" onClick={() => void takeAway()}>
            <Download size={12} />
          </IconButton>
        </div>
        {(page?.fault ?? fault) && (
          <p role="alert" className="border-alert border-l-2 bg-raised px-2 py-0.5">
            {page?.fault ?? fault}
          </p>
        )}
        {page?.plain != null ? (
          <p className="tabular p-3 text-12">{page.plain}</p>
        ) : page && page.total === 0 ? (
          <p className="p-3 text-12 text-faint">{emptyWords(own !== null)}</p>
        ) : (
          page && (
            <Rows
              page={page}
              scroller={scroller}
              height={rows.getTotalSize()}
              items={rows.getVirtualItems()}
              sort={sort}
              describe={describe}
              marked={where}
              onColumn={(column) => {
                setDescribe(column);
                setSort(
                  sort?.column === column
                    ? sort.descending
                      ? undefined
                      : { column, descending: true }
                    : { column, descending: false },
                );
              }}
              onPick={(element, add) => {
                // Only what is cloned or drawn is somewhere on the stage.
                if (source && page.domain === page.domains[0].name) pickElement(store, source, element, add);
              }}
            />
          )
        )}
      </div>
      {page?.statistics && <Statistics statistics={page.statistics} />}
    </div>
  );
}

const NONE: readonly number[] = [];

const emptyWords = (own: boolean): string =>
  own
    ? "Nothing to list: it has no elements, or its value is not used on any yet."
    : "Nothing reaches the stage. Choose a node to see its elements.";

/** Elements of an output that are chosen, there or by the trace of what is chosen elsewhere. */
function markedElements(
  { picked, trace }: Parameters<Parameters<typeof useStudio>[0]>[0],
  { node, port }: Source,
): readonly number[] {
  if (!picked) return NONE;
  if (picked.node === node && picked.port === port) return picked.elements;
  const sight = trace?.nodes[node]?.outputs[port];
  if (sight?.kind !== "element") return NONE;
  const known = single.get(sight.index) ?? [sight.index];
  single.set(sight.index, known);
  return known;
}

/** The same list for the same element, so that nothing is drawn again for it. */
const single = new Map<number, readonly number[]>();
