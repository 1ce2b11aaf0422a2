import { useMemo } from "react";
import { type DrawnPath, piecesOf } from "@/core/maths/drawn-path";

/** A drawn path from the side that shows most of it, in a box of 100 × 40. */
export function PathPicture({ path, className }: { path: DrawnPath; className?: string }) {
  const points = useMemo(() => pointsOf(path), [path]);
  return (
    <svg className={className} viewBox="0 0 100 40" aria-hidden="true">
      <path
        d={points}
        fill="none"
        stroke="var(--accent)"
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

function pointsOf(path: DrawnPath): string {
  const places = piecesOf(path, 8).map(({ at }) => at);
  if (places.length === 0) return "";
  const ranges = [0, 1, 2].map((a) => {
    const values = places.map((place) => place[a]);
    return { low: Math.min(...values), high: Math.max(...values) };
  });
  const flat = ranges.map(({ low, high }) => high - low);
  // The axis along which it is flattest is the one that is looked along; what is up is seen upwards, z downwards.
  const along = flat.indexOf(Math.min(...flat));
  const [right, up] = along === 0 ? [2, 1] : along === 1 ? [0, 2] : [0, 1];
  const scale = Math.min(92 / (flat[right] || 1), 34 / (flat[up] || 1));
  const at = (place: readonly number[]) => {
    const x = 50 + (place[right] - (ranges[right].low + ranges[right].high) / 2) * scale;
    const y = (place[up] - (ranges[up].low + ranges[up].high) / 2) * scale;
    return `${x.toFixed(1)} ${(20 + (up === 2 ? y : -y)).toFixed(1)}`;
  };
  return `M${places.map(at).join("L")}${path.closed ? "Z" : ""}`;
}
