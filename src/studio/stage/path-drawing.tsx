"use client";
import clsx from "clsx";
import { Minus, PenLine, Redo, Spline } from "lucide-react";
import {
  type KeyboardEvent,
  type PointerEvent,
  type RefObject,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { type DrawnPath, withPointBetween } from "@/core/maths/drawn-path";
import type { Vec3 } from "@/core/maths/vector";
import type { Setting } from "@/core/nodes/ports";
import { IconButton } from "@/ui/button";
import { nodeOf, useKeyedFrame, useStudio, useStudioStore } from "../state/store";
import { ARROW_STEPS } from "./arrow-steps";
import {
  changedPoint,
  closedOrOpened,
  snapped,
  withHandleAt,
  withoutPoint,
  withPointAt,
  withSmoothness,
} from "./path-edits";
import { type PathSpot, pathLines, pathSpots, placeOnPlane, type StagePath, stagePathOf } from "./path-spots";
import { pointerRay } from "./sight";
import { StageTools } from "./stage-tools";
import type { StageView } from "./stage-view";
import { useLeaving } from "./use-leaving";
import { useSpotPlaces } from "./use-spot-places";

/** Units of a step by an arrow key, where there is no grid. */
const STEP = 0.1;

type View = RefObject<StageView | null>;

/** The path of the chosen node over the stage: drawn by clicks, changed by dragging its points and handles. */
export function PathDrawing({ view }: { readonly view: View }) {
  const store = useStudioStore();
  const selected = useStudio((s) => s.selected);
  const opened = useStudio((s) => s.opened);
  const frame = useKeyedFrame(useStudio((s) => s.selected.size === 1 && nodeOf(s, [...s.selected][0])?.keys));
  const shown = useMemo(
    () => stagePathOf({ ...store.getState(), opened, selected }, frame),
    [store, selected, opened, frame],
  );
  if (!shown) return null;
  return <PathOnStage key={`${shown.node}.${shown.input}`} view={view} shown={shown} />;
}

function PathOnStage({ view, shown }: { readonly view: View; readonly shown: StagePath }) {
  const store = useStudioStore();
  const { path, node, input } = shown;
  const [wanted, setChosen] = useState(-1);
  const [drawing, setDrawing] = useState(path.points.length === 0);
  const chosen = Math.min(wanted, path.points.length - 1);
  const box = useRef<HTMLDivElement>(null);
  const spots = useMemo(() => pathSpots(path, chosen), [path, chosen]);
  useSpotPlaces(view, box, spots, placeOfSpot);
  useEffect(() => {
    const stage = view.current;
    stage?.showGuide("drawn", pathLines(path, spots));
    return () => stage?.showGuide("drawn", null);
  }, [view, path, spots]);

  const group = `drag ${node}.${input}`;
  const set = (to: DrawnPath, dragging = false) =>
    store
      .getState()
      .edit(
        { kind: "set-input", node, input, value: to as unknown as Setting },
        dragging ? group : undefined,
      );
  const drag = useDragging(view, box, shown, set);
  const remove = (i: number) => {
    set(withoutPoint(path, i));
    setChosen(Math.max(0, i - 1));
  };
  const press = (event: PointerEvent, spot: PathSpot) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    if (drawing && spot.part === "at" && spot.point === 0 && path.points.length > 2 && !path.closed) {
      set(closedOrOpened(path));
      setDrawing(false);
      return;
    }
    setChosen(spot.part === "middle" ? spot.point + 1 : spot.point);
    if (spot.part === "middle") set(withPointBetween(path, spot.point, 0.5));
    else drag.begin(event.pointerId, spot);
  };
  const onKeyDown = (event: KeyboardEvent, spot: PathSpot) => {
    const by = ARROW_STEPS[event.key];
    const isAway = event.key === "Delete" || event.key === "Backspace";
    if (!by && !isAway) return;
    event.preventDefault();
    event.stopPropagation();
    if (isAway && spot.part === "at") return remove(spot.point);
    if (!by || spot.part === "middle") return;
    const width = shown.snap || STEP;
    const to = spot.place.map((v, a) => v + by[a] * width) as unknown as Vec3;
    set(movedTo(shown, spot, to));
  };
  return (
    <>
      <div
        ref={box}
        className={clsx(
          "absolute inset-0 overflow-hidden",
          drawing ? "pointer-events-auto cursor-crosshair touch-none" : "pointer-events-none",
        )}
        data-testid="path-drawing"
        onPointerDown={(event) => {
          if (!drawing || event.button !== 0 || event.target !== box.current) return;
          setChosen(path.points.length);
          drag.add(event);
        }}
        onPointerMove={drag.move}
        onPointerUp={drag.end}
      >
        {spots.map((spot) => (
          <button
            key={`${spot.point}.${spot.part}`}
            type="button"
            aria-label={spotName(spot)}
            title={SPOT_WORDS[spot.part]}
            data-grip
            className={clsx(
              "pointer-events-auto absolute -translate-x-1/2 -translate-y-1/2 border-ground touch-none",
              SPOT_LOOKS[spot.part],
              spot.part === "at" && spot.point === chosen ? "bg-accent" : "bg-ink",
            )}
            style={{ display: "none" }}
            onFocus={() => spot.part === "at" && setChosen(spot.point)}
            onPointerDown={(event) => press(event, spot)}
            onKeyDown={(event) => onKeyDown(event, spot)}
          />
        ))}
      </div>
      <Tools
        path={path}
        chosen={chosen}
        drawing={drawing}
        onDraw={() => setDrawing(!drawing)}
        onChange={set}
        onRemove={remove}
      />
    </>
  );
}

/** A path with one of its spots somewhere else. */
const movedTo = ({ path, snap }: StagePath, { point, part }: PathSpot, to: Vec3): DrawnPath =>
  part === "at"
    ? changedPoint(path, point, { at: snapped(to, snap) })
    : withHandleAt(path, point, part as "before" | "after", to);

const placeOfSpot = ({ place }: PathSpot): Vec3 => place;

/** What is being dragged: a spot, or the handle that is pulled out of a point which was just set. */
type Dragged = { readonly spot: PathSpot } | { readonly before: DrawnPath; readonly at: Vec3 };

function useDragging(
  view: View,
  box: RefObject<HTMLDivElement | null>,
  shown: StagePath,
  set: (to: DrawnPath, dragging?: boolean) => void,
) {
  const store = useStudioStore();
  const dragged = useRef<Dragged | null>(null);
  const { path, on, snap } = shown;
  /** Where the pointer is on what is drawn on. */
  const placeAt = useCallback(
    (event: PointerEvent, through: Vec3): Vec3 | null => {
      const rect = box.current?.getBoundingClientRect();
      const stage = view.current;
      if (!rect || !stage) return null;
      const [x, y] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
      const met = on === "what is on the stage" ? stage.placeAt(x, y) : null;
      return met ?? placeOnPlane(on, through, pointerRay(stage.camera, x, y));
    },
    [view, box, on],
  );
  return {
    begin(pointer: number, spot: PathSpot) {
      dragged.current = { spot };
      box.current?.setPointerCapture(pointer);
    },
    add(event: PointerEvent) {
      const last = path.points[path.points.length - 1]?.at ?? ([0, 0, 0] as const);
      const met = placeAt(event, last);
      if (!met) return;
      const at = snapped(met, snap);
      dragged.current = { before: path, at };
      box.current?.setPointerCapture(event.pointerId);
      set(withPointAt(path, at), true);
    },
    move(event: PointerEvent) {
      const now = dragged.current;
      if (!now) return;
      if ("spot" in now) {
        const to = placeAt(event, now.spot.place);
        if (to) set(movedTo(shown, now.spot, to), true);
        return;
      }
      const to = placeAt(event, now.at);
      if (to) set(withPointAt(now.before, now.at, to.map((v, a) => v - now.at[a]) as unknown as Vec3), true);
    },
    end() {
      if (dragged.current) store.getState().endGroup();
      dragged.current = null;
    },
  };
}

interface ToolsProps {
  readonly path: DrawnPath;
  readonly chosen: number;
  readonly drawing: boolean;
  readonly onDraw: () => void;
  readonly onChange: (to: DrawnPath) => void;
  readonly onRemove: (point: number) => void;
}

/** What can be done with the path and with the point that is chosen. */
function Tools({ path, chosen, drawing, onDraw, onChange, onRemove }: ToolsProps) {
  const point = path.points[chosen];
  useLeaving(drawing, onDraw);
  return (
    <StageTools
      label="Path"
      taken={drawing}
      icon={PenLine}
      verb="Draw"
      title="Click on the stage to set points, drag to pull out handles; the first point closes the path"
      onTake={onDraw}
    >
      <IconButton
        label={path.closed ? "Open the path" : "Close the path"}
        disabled={path.points.length < 3}
        onClick={() => onChange(closedOrOpened(path))}
      >
        <Redo size={13} />
      </IconButton>
      <IconButton
        label={point?.smooth ? "Make the point a corner" : "Make the point smooth"}
        disabled={!point}
        onClick={() => onChange(withSmoothness(path, chosen, !point?.smooth))}
      >
        <Spline size={13} />
      </IconButton>
      <IconButton label="Remove the point" disabled={!point} onClick={() => onRemove(chosen)}>
        <Minus size={13} />
      </IconButton>
    </StageTools>
  );
}

const spotName = ({ point, part }: PathSpot): string =>
  ({
    at: `Point ${point + 1}`,
    before: `Handle before point ${point + 1}`,
    after: `Handle after point ${point + 1}`,
    middle: `Put a point in after point ${point + 1}`,
  })[part];

const SPOT_WORDS = {
  at: "Drag, or arrow keys and Page up and down; Delete removes it",
  before: "Drag, or arrow keys",
  after: "Drag, or arrow keys",
  middle: "Puts a point in",
} as const;

const SPOT_LOOKS = {
  at: "z-10 h-3 w-3 border-2 cursor-move",
  before: "h-2.5 w-2.5 rounded-full border-2 cursor-move",
  after: "h-2.5 w-2.5 rounded-full border-2 cursor-move",
  middle: "h-2 w-2 rounded-full border opacity-50 hover:opacity-100 cursor-copy",
} as const;
