"use client";
import { LineChart } from "echarts/charts";
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { type ECharts, init, use } from "echarts/core";
import { CanvasRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { shortNumber } from "../graph/cards/summary";

use([LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, CanvasRenderer]);

export interface Line {
  readonly name: string;
  readonly values: readonly (number | null)[];
}

interface Props {
  readonly frames: readonly number[];
  readonly lines: readonly Line[];
  /** The frame that is shown. */
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
}

const style = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

/** Numbers by frame, with a mark where the piece stands; a click goes to a frame. */
export default function OverTimeChart({ frames, lines, frame, onFrame }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<ECharts | null>(null);
  const go = useRef(onFrame);
  go.current = onFrame;
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const made = init(element);
    chart.current = made;
    made.getZr().on("click", ({ offsetX, offsetY }) => {
      const [at] = made.convertFromPixel({ gridIndex: 0 }, [offsetX, offsetY]);
      if (Number.isFinite(at)) go.current(Math.round(at));
    });
    const sizes = new ResizeObserver(() => made.resize());
    sizes.observe(element);
    return () => {
      sizes.disconnect();
      made.dispose();
    };
  }, []);
  useEffect(() => {
    const [faint, rule] = [style("--faint"), style("--rule")];
    const colors = ["--accent", "--ink", "--alert", "--faint"].map(style);
    chart.current?.setOption(
      {
        animation: false,
        color: colors,
        grid: { left: 52, right: 12, top: lines.length > 1 ? 22 : 8, bottom: 20 },
        legend: {
          show: lines.length > 1,
          top: 0,
          left: 44,
          itemWidth: 14,
          itemHeight: 2,
          icon: "rect",
          textStyle: { color: faint, fontSize: 11 },
        },
        xAxis: {
          type: "value",
          min: frames[0],
          max: frames[frames.length - 1],
          axisLabel: { color: faint, fontSize: 11 },
          axisLine: { lineStyle: { color: rule } },
          splitLine: { show: false },
        },
        yAxis: {
          type: "value",
          scale: true,
          splitNumber: 3,
          axisLabel: { color: faint, fontSize: 11, formatter: shortNumber },
          splitLine: { lineStyle: { color: rule } },
        },
        tooltip: {
          trigger: "axis",
          // Drawn on the canvas: the page's policy has no room for styles in markup.
          renderMode: "richText",
          confine: true,
          textStyle: { fontSize: 11 },
          valueFormatter: (value: unknown) => (typeof value === "number" ? shortNumber(value) : "–"),
        },
        series: lines.map(({ name, values }, i) => ({
          name,
          type: "line",
          showSymbol: false,
          lineStyle: { width: 1.5 },
          data: values.map((value, f) => [frames[f], value]),
          ...(i === 0
            ? {
                markLine: {
                  silent: true,
                  symbol: "none",
                  label: { show: false },
                  lineStyle: { color: faint, type: "dashed" },
                  data: [{ xAxis: frame }],
                },
              }
            : {}),
        })),
      },
      { notMerge: true },
    );
  }, [frames, lines, frame]);
  return <div ref={box} className="h-full w-full cursor-crosshair" aria-hidden="true" />;
}
