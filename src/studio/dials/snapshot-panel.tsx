"use client";
import { Columns2, X } from "lucide-react";
import { useState } from "react";
import type { Snapshot } from "@/core/document/schema";
import { Button, IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { useStudio, useStudioStore } from "../state/store";
import { applyValues, blendSnapshots, takeSnapshot } from "./snapshots";

/** Snapshots of all dials: kept by name, applied, blended, compared beside the stage. */
export function Snapshots() {
  const store = useStudioStore();
  const snapshots = useStudio((s) => s.document.snapshots) ?? NONE;
  const compared = useStudio((s) => s.compared);
  const [open, setOpen] = useState(false);
  const setAll = (to: readonly Snapshot[]) =>
    store.getState().editPiece({ kind: "set-snapshots", snapshots: to.length > 0 ? to : undefined });
  const keep = () => {
    let number = snapshots.length + 1;
    while (snapshots.some(({ name }) => name === `Look ${number}`)) number++;
    setAll([
      ...snapshots,
      takeSnapshot(store.getState().document, `Look ${number}`, store.time.getState().frame),
    ]);
    setOpen(true);
  };
  const compare = (snapshot: Snapshot) => {
    const title = compared?.title === snapshot.name ? null : snapshot.name;
    store
      .getState()
      .set({ compared: title === null ? null : { title, document: null, values: snapshot.values } });
  };
  return (
    <div className="mt-2">
      <div className="flex items-center gap-1">
        <button
          type="button"
          aria-expanded={open}
          className="flex-1 text-left text-11 text-faint hover:text-ink"
          onClick={() => setOpen(!open)}
        >
          Snapshots{snapshots.length > 0 ? ` (${snapshots.length})` : ""}
        </button>
        <Button className="!h-5 px-1.5 text-11" onClick={keep}>
          Keep these
        </Button>
      </div>
      {open &&
        snapshots.map((snapshot) => (
          <div key={snapshot.name} className="flex h-6 items-center gap-1 text-12">
            <input
              aria-label={`Name of snapshot ${snapshot.name}`}
              defaultValue={snapshot.name}
              maxLength={60}
              className="min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 hover:border-rule"
              onBlur={(event) => {
                const name = event.currentTarget.value.trim();
                if (name === snapshot.name) return;
                if (name === "" || snapshots.some((other) => other.name === name)) {
                  event.currentTarget.value = snapshot.name;
                  store.getState().set({ notice: "Snapshots need names of their own; the old one stays." });
                } else setAll(snapshots.map((other) => (other === snapshot ? { ...snapshot, name } : other)));
              }}
              onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
            />
            <Button
              className="!h-5 px-1.5 text-11"
              onClick={() =>
                store.getState().editPiece(applyValues(store.getState().document, snapshot.values))
              }
            >
              Use
            </Button>
            <IconButton
              label={`Compare with ${snapshot.name}`}
              aria-pressed={compared?.title === snapshot.name}
              className="!h-5 !w-5 aria-pressed:text-accent"
              onClick={() => compare(snapshot)}
            >
              <Columns2 size={12} />
            </IconButton>
            <IconButton
              label={`Forget ${snapshot.name}`}
              className="!h-5 !w-5"
              onClick={() => setAll(snapshots.filter((other) => other !== snapshot))}
            >
              <X size={11} />
            </IconButton>
          </div>
        ))}
      {open && snapshots.length > 1 && <Blending snapshots={snapshots} />}
    </div>
  );
}

const NONE: readonly Snapshot[] = [];

/** All dials between two snapshots. */
function Blending({ snapshots }: { snapshots: readonly Snapshot[] }) {
  const store = useStudioStore();
  const [from, setFrom] = useState(snapshots[0].name);
  const [to, setTo] = useState(snapshots[1].name);
  const [part, setPart] = useState(0);
  const named = (name: string, fallback: number) =>
    snapshots.find((s) => s.name === name) ?? snapshots[fallback];
  const [a, b] = [named(from, 0), named(to, 1)];
  const choices = snapshots.map(({ name }) => ({ value: name, label: name }));
  return (
    <div className="mt-1 flex items-center gap-1 text-11">
      <Select className="w-[64px]" label="Blend from" value={a.name} choices={choices} onChange={setFrom} />
      <NumberField
        className="flex-1"
        label="Blend between snapshots"
        value={part}
        soft={[0, 1]}
        min={0}
        max={1}
        onChange={(t, dragging) => {
          setPart(t);
          const { document, editPiece } = store.getState();
          editPiece(applyValues(document, blendSnapshots(document, a, b, t)), dragging ? "blend" : undefined);
        }}
        onDragEnd={() => store.getState().endGroup()}
      />
      <Select className="w-[64px]" label="Blend to" value={b.name} choices={choices} onChange={setTo} />
    </div>
  );
}
