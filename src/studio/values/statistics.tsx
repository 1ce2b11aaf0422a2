import dynamic from "next/dynamic";
import type { TablePage } from "@/core/inspect/table";
import { shortNumber } from "../graph/cards/summary";

const HistogramChart = dynamic(() => import("./histogram-chart"), { ssr: false });

/** A column in figures, and how its numbers are spread. */
export function Statistics({ statistics }: { readonly statistics: NonNullable<TablePage["statistics"]> }) {
  return (
    <aside
      aria-label={`Statistics of ${statistics.column}`}
      className="w-52 shrink-0 border-l border-dashed p-2"
    >
      <p className="tabular font-semibold">{statistics.column}</p>
      <HistogramChart statistics={statistics} />
      <dl className="tabular grid grid-cols-2 gap-x-2 text-faint">
        {(["count", "min", "max", "mean", "median", "deviation"] as const).map((key) => (
          <div key={key} className="contents">
            <dt>{key}</dt>
            <dd className="text-right text-ink">{shortNumber(statistics[key])}</dd>
          </div>
        ))}
      </dl>
    </aside>
  );
}
