"use client";
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from "@dnd-kit/sortable";
import clsx from "clsx";
import { GripVertical, Pencil, X } from "lucide-react";
import { useState } from "react";
import type { Dial } from "@/core/document/schema";
import { IconButton } from "@/ui/button";
import { InputControl } from "../graph/cards/input-control";
import { RowName } from "../graph/cards/row-name";
import { rowData } from "../graph/input-menu";
import { useStudio, useStudioStore } from "../state/store";
import { Snapshots } from "./snapshot-panel";
import { targetOf } from "./snapshots";

/** The values that the piece is played with, in groups; names, groups and order can be changed in place. */
export function Dials() {
  const store = useStudioStore();
  const dials = useStudio((s) => s.document.dials);
  const [arranging, setArranging] = useState(false);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const setDials = (to: readonly Dial[]) => store.getState().editPiece({ kind: "set-dials", dials: to });
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const at = (id: unknown) => dials.findIndex((dial) => dial.input === id);
    if (over && active.id !== over.id) setDials(arrayMove([...dials], at(active.id), at(over.id)));
  };
  return (
    <section aria-label="Dials" className="border-b border-rule px-3 py-3">
      <div className="mb-1.5 flex items-center">
        <h2 className="flex-1 font-display text-13 font-semibold">Dials</h2>
        {dials.length > 0 && (
          <IconButton
            label="Name, group and order the dials"
            aria-pressed={arranging}
            className={clsx("!h-5 !w-5", arranging ? "text-accent" : "text-faint")}
            onClick={() => setArranging(!arranging)}
          >
            <Pencil size={12} />
          </IconButton>
        )}
      </div>
      {dials.length === 0 && (
        <p className="text-12 text-faint">None yet. The gauge beside an input makes it a dial.</p>
      )}
      {arranging ? (
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={dials.map((dial) => dial.input)} strategy={verticalListSortingStrategy}>
            {dials.map((dial) => (
              <ArrangedDial
                key={dial.input}
                dial={dial}
                onChange={(to) =>
                  setDials(dials.flatMap((other) => (other === dial ? (to ? [to] : []) : [other])))
                }
              />
            ))}
          </SortableContext>
        </DndContext>
      ) : (
        inGroups(dials).map(([group, members]) => (
          <div key={group}>
            {group && <h3 className="mt-1.5 text-11 text-faint">{group}</h3>}
            {members.map((dial) => (
              <DialRow key={dial.input} dial={dial} />
            ))}
          </div>
        ))
      )}
      {dials.length > 0 && <Snapshots />}
    </section>
  );
}

/** Groups in the order of their first members; those without one come first. */
function inGroups(dials: readonly Dial[]): [string, Dial[]][] {
  const groups = new Map<string, Dial[]>([["", []]]);
  for (const dial of dials) {
    const group = groups.get(dial.group ?? "");
    if (group) group.push(dial);
    else groups.set(dial.group ?? "", [dial]);
  }
  return [...groups].filter(([, members]) => members.length > 0);
}

function DialRow({ dial }: { dial: Dial }) {
  const document = useStudio((s) => s.document);
  const target = targetOf(document, dial.input);
  const linked = document.graph.links.some((link) => link.to === dial.input);
  return (
    <div
      {...(target ? rowData(target.node, target.port) : {})}
      className="flex min-h-7 items-center justify-between gap-2 text-12"
    >
      {target && !linked ? (
        <RowName name={target.port} input={target.input} words={dial.label} />
      ) : (
        <span className="line-clamp-2 min-w-0 leading-tight">{dial.label}</span>
      )}
      {!target ? (
        <span className="text-11 text-alert">its node is gone</span>
      ) : linked ? (
        <span className="text-11 text-faint">linked</span>
      ) : (
        <InputControl node={target.node} name={target.port} input={target.input} ofPiece />
      )}
    </div>
  );
}

/** A dial being named, grouped, moved or taken off. */
function ArrangedDial({ dial, onChange }: { dial: Dial; onChange: (to: Dial | null) => void }) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: dial.input });
  const style = transform
    ? { transform: `translate3d(${transform.x}px, ${transform.y}px, 0)`, transition }
    : undefined;
  const field = (label: string, value: string, change: (to: string) => void, placeholder?: string) => (
    <input
      aria-label={label}
      key={value}
      defaultValue={value}
      placeholder={placeholder}
      maxLength={60}
      className="h-5 min-w-0 rounded border border-rule bg-ground px-1 text-11"
      onBlur={(event) =>
        event.currentTarget.value.trim() !== value && change(event.currentTarget.value.trim())
      }
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
  return (
    <div
      ref={setNodeRef}
      style={style}
      className="grid grid-cols-[16px_1fr_72px_20px] items-center gap-1 py-0.5"
    >
      <button
        type="button"
        aria-label={`Move ${dial.label}`}
        className="cursor-grab text-faint"
        {...attributes}
        {...listeners}
      >
        <GripVertical size={12} />
      </button>
      {field(`Name of ${dial.label}`, dial.label, (label) => label && onChange({ ...dial, label }))}
      {field(
        `Group of ${dial.label}`,
        dial.group ?? "",
        (group) => {
          const { group: _old, ...bare } = dial;
          onChange((group ? { ...bare, group } : bare) as Dial);
        },
        "group",
      )}
      <IconButton
        label={`Take “${dial.label}” off the dials`}
        className="!h-5 !w-5"
        onClick={() => onChange(null)}
      >
        <X size={11} />
      </IconButton>
    </div>
  );
}
