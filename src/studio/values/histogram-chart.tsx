"use client";
import { BarChart } from "echarts/charts";
import { GridComponent, TooltipComponent } from "echarts/components";
import { type ECharts, init, use } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { ColumnStatistics } from "@/core/inspect/table";
import { countText, shortNumber } from "../graph/cards/summary";

use([BarChart, GridComponent, TooltipComponent, CanvasRenderer]);

/** How many elements have which value; the numbers beside it say the same in words. */
export default function HistogramChart({ statistics }: { statistics: ColumnStatistics }) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  useEffect(() => {
    if (!box.current) return;
    chart.current = init(box.current);
    return () => chart.current?.dispose();
  }, []);
  useEffect(() => {
    const { bins, min, max } = statistics;
    const color = getComputedStyle(document.documentElement).getPropertyValue("--accent").trim();
    const width = (max - min) / bins.length;
    chart.current?.setOption({
      animation: false,
      grid: { left: 0, right: 0, top: 4, bottom: 2 },
      xAxis: { type: "category", show: false, data: bins.map((_, i) => i) },
      yAxis: { type: "value", show: false },
      tooltip: {
        trigger: "axis",
        // Drawn on the canvas: the page's policy has no room for styles in markup.
        renderMode: "richText",
        confine: true,
        textStyle: { fontSize: 10 },
        formatter: ([{ dataIndex }]: { dataIndex: number }[]) =>
          `${shortNumber(min + dataIndex * width)} … ${shortNumber(min + (dataIndex + 1) * width)}: ${countText(bins[dataIndex])}`,
      },
      series: [{ type: "bar", data: bins, barCategoryGap: "12%", itemStyle: { color } }],
    });
  }, [statistics]);
  return <div ref={box} aria-hidden="true" className="h-[76px] w-full" />;
}
