"use client";
import { Minus, Plus } from "lucide-react";
import type { DrawnPath, PathPoint } from "@/core/maths/drawn-path";
import type { Vec3 } from "@/core/maths/vector";
import { IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Switch } from "@/ui/switch";
import { changedPoint, closedOrOpened, withoutPoint, withPointAt, withSmoothness } from "../stage/path-edits";

interface PathEditorProps {
  readonly value: DrawnPath;
  readonly onChange: (value: DrawnPath, dragging: boolean) => void;
  readonly onDragEnd: () => void;
}

/** Points that the list shows; more of them are changed on the stage. */
const MOST_ROWS = 60;

/** The points of a drawn path as a list. */
export function PathEditor({ value, onChange, onDragEnd }: PathEditorProps) {
  const { points, closed } = value;
  const set = (i: number, change: Partial<PathPoint>, dragging: boolean) =>
    onChange(changedPoint(value, i, change), dragging);
  const last = points[points.length - 1]?.at ?? [0, 0, 0];
  return (
    <div className="text-11">
      <div className="mb-1 flex items-center gap-2">
        <span className="flex-1 text-faint">{points.length} points</span>
        <span className="text-faint">closed</span>
        <Switch label="Closed" value={closed} onChange={() => onChange(closedOrOpened(value), false)} />
        <IconButton
          label="Add a point"
          onClick={() => onChange(withPointAt(value, [last[0] + 0.5, last[1], last[2]]), false)}
        >
          <Plus size={12} />
        </IconButton>
      </div>
      <ol className="max-h-[240px] overflow-y-auto">
        {points.slice(0, MOST_ROWS).map((point, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: points have no names, and their order is what tells them apart
          <li key={i} className="border-b border-rule/60 py-1 last:border-0">
            <div className="flex items-center gap-0.5">
              <span className="tabular w-5 shrink-0 text-faint">{i + 1}</span>
              {["x", "y", "z"].map((axis, a) => (
                <NumberField
                  key={axis}
                  className="min-w-0 flex-1"
                  label={`${axis} of point ${i + 1}`}
                  value={point.at[a]}
                  soft={[-5, 5]}
                  onChange={(to, dragging) =>
                    set(i, { at: point.at.map((v, k) => (k === a ? to : v)) as unknown as Vec3 }, dragging)
                  }
                  onDragEnd={onDragEnd}
                />
              ))}
              <IconButton
                label={`Remove point ${i + 1}`}
                onClick={() => onChange(withoutPoint(value, i), false)}
              >
                <Minus size={12} />
              </IconButton>
            </div>
            <div className="mt-0.5 flex items-center gap-1 pl-5 text-faint">
              <span>thick</span>
              <NumberField
                className="min-w-0 flex-1"
                label={`Radius of point ${i + 1}`}
                value={point.radius}
                soft={[0, 3]}
                min={0}
                unit="×"
                onChange={(radius, dragging) => set(i, { radius }, dragging)}
                onDragEnd={onDragEnd}
              />
              <span>tilt</span>
              <NumberField
                className="min-w-0 flex-1"
                label={`Tilt of point ${i + 1}`}
                value={point.tilt}
                soft={[-180, 180]}
                unit="°"
                onChange={(tilt, dragging) => set(i, { tilt }, dragging)}
                onDragEnd={onDragEnd}
              />
              <span>smooth</span>
              <Switch
                label={`Point ${i + 1} is smooth`}
                value={point.smooth}
                onChange={(smooth) => onChange(withSmoothness(value, i, smooth), false)}
              />
            </div>
          </li>
        ))}
      </ol>
      {points.length > MOST_ROWS && (
        <p className="mt-1 text-faint">The first {MOST_ROWS} of them; drag the others on the stage.</p>
      )}
    </div>
  );
}
