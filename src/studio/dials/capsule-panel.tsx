"use client";
import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useState } from "react";
import { makeOwnEdit } from "@/core/capsules/carry";
import { parseCapsuleType } from "@/core/capsules/definitions";
import { instancesOf } from "@/core/capsules/instances";
import { labelFault, removePortEdit } from "@/core/capsules/ports";
import { stepLoopEdit } from "@/core/capsules/step-loop";
import { unpackEdit } from "@/core/capsules/unpack";
import type { Capsule, CapsuleInput, CapsuleOutput } from "@/core/document/schema";
import { KIND_WORDS } from "@/core/evaluate/convert";
import type { AnyInput } from "@/core/nodes/define";
import { type Setting, UNITS, type Unit } from "@/core/nodes/ports";
import { Button, IconButton } from "@/ui/button";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { Switch } from "@/ui/switch";
import { ValueControl } from "../graph/cards/value-control";
import { openInstance } from "../graph/open-instance";
import { LibraryButtons } from "../library/library-buttons";
import { useStudio, useStudioStore } from "../state/store";

/** What can be done with one instance. */
export function InstancePanel({ id, type }: { id: string; type: string }) {
  const store = useStudioStore();
  const name = parseCapsuleType(type)?.name ?? "";
  const count = useStudio((s) => instancesOf(s.document, name).length);
  const capsule = useStudio((s) => s.document.capsules[name]);
  if (!capsule) return null;
  const unpack = () => {
    const { opened, edit, select, set } = store.getState();
    const out = unpackEdit(opened.document, id);
    if (!out.ok) return set({ notice: out.what });
    edit(out.edit);
    select(out.nodes);
  };
  const makeOwn = () => {
    const { opened, edit } = store.getState();
    const own = makeOwnEdit(opened.document, id);
    if (own) edit(own.edit);
  };
  return (
    <div className="mb-2">
      <div className="flex flex-wrap gap-1">
        <Button className="!h-6 px-2 text-12" onClick={() => openInstance(store, id)}>
          Open
        </Button>
        <Button className="!h-6 px-2 text-12" onClick={unpack}>
          Unpack
        </Button>
        {count > 1 && (
          <Button className="!h-6 px-2 text-12" onClick={makeOwn} title="A capsule of its own for this node">
            Make own
          </Button>
        )}
        <LibraryButtons name={name} />
      </div>
      <p className="mt-1 text-11 text-faint">
        {count > 1
          ? `Shared by ${count}: what is edited inside changes all of them.`
          : "Used once in this piece."}
        {capsule.stepLoop && " A Step loop: it goes on from what it gave at the step before."}
      </p>
    </div>
  );
}

/** The open capsule: its title and its ports, with all that is said of them. */
export function CapsulePanel({ name }: { name: string }) {
  const store = useStudioStore();
  const capsule = useStudio((s) => s.document.capsules[name]);
  const [fault, setFault] = useState<string | null>(null);
  if (!capsule) return null;
  const change = (to: Partial<Capsule>, group?: string) =>
    store.getState().editPiece({ kind: "set-capsule", name, capsule: { ...capsule, ...to } }, group);
  const rename = (
    ports: readonly { readonly label: string }[],
    old: string,
    label: string,
    done: () => void,
  ) => {
    const clash = labelFault(
      ports.filter((port) => port.label !== old),
      label,
    );
    setFault(clash);
    if (!clash) done();
  };
  return (
    <section aria-label="Capsule" className="border-b border-rule px-3 py-3">
      <h2 className="mb-1.5 font-display text-13 font-semibold">Capsule</h2>
      <Words
        label="Title of the capsule"
        value={capsule.title}
        onChange={(title) => title && change({ title })}
      />
      <Words
        label="About the capsule"
        placeholder="One line about it"
        value={capsule.about}
        onChange={(about) => change({ about })}
      />
      <span className="mt-1 flex items-center justify-between text-12">
        <span title="What leaves it comes back inside at the next step, in the node “Step before”.">
          Step loop
        </span>
        <Switch
          label="Step loop"
          value={capsule.stepLoop === true}
          onChange={(on) => store.getState().editPiece(stepLoopEdit(store.getState().document, name, on))}
        />
      </span>
      {fault && (
        <p role="alert" className="my-1 border-alert border-l-2 bg-raised px-2 py-1 text-11">
          {fault}
        </p>
      )}
      {(["inputs", "outputs"] as const).map((side) => (
        <div key={side} className="mt-2">
          <h3 className="text-11 text-faint">{side === "inputs" ? "Inputs" : "Outputs"}</h3>
          {capsule[side].length === 0 && <p className="text-11 text-faint">None yet.</p>}
          {capsule[side].map((port, at) => (
            <Port
              key={port.name}
              port={port}
              onLabel={(label) =>
                rename(capsule[side], port.label, label, () =>
                  change({ [side]: replaced(capsule[side], at, { ...port, label: label.trim() }) }),
                )
              }
              onChange={(to, group) => change({ [side]: replaced(capsule[side], at, to) }, group)}
              onEnd={() => store.getState().endGroup()}
              onMove={(by) => change({ [side]: swapped(capsule[side], at, at + by) })}
              onRemove={() =>
                store.getState().editPiece(removePortEdit(store.getState().document, name, side, port.name))
              }
            />
          ))}
        </div>
      ))}
    </section>
  );
}

type AnyPort = CapsuleInput | CapsuleOutput;

const replaced = <T,>(list: readonly T[], at: number, to: T): T[] =>
  list.map((item, i) => (i === at ? to : item));

function swapped<T>(list: readonly T[], a: number, b: number): T[] {
  const next = [...list];
  if (b >= 0 && b < list.length) [next[a], next[b]] = [next[b], next[a]];
  return next;
}

interface PortProps {
  readonly port: AnyPort;
  readonly onLabel: (label: string) => void;
  readonly onChange: (to: AnyPort, group?: string) => void;
  readonly onEnd: () => void;
  readonly onMove: (by: number) => void;
  readonly onRemove: () => void;
}

function Port({ port, onLabel, onChange, onEnd, onMove, onRemove }: PortProps) {
  const [open, setOpen] = useState(false);
  const input = "default" in port ? (port as CapsuleInput) : null;
  return (
    <div className="border-b border-dashed py-1">
      <div className="flex items-center gap-1 text-12">
        <Words label={`Name of port ${port.name}`} value={port.label} onChange={onLabel} />
        <span className="text-[10px] text-faint">{KIND_WORDS[port.kind]}</span>
        <IconButton label={`Move ${port.label} up`} className="!h-5 !w-5" onClick={() => onMove(-1)}>
          <ArrowUp size={11} />
        </IconButton>
        <IconButton label={`Move ${port.label} down`} className="!h-5 !w-5" onClick={() => onMove(1)}>
          <ArrowDown size={11} />
        </IconButton>
        <IconButton label={`Take ${port.label} away`} className="!h-5 !w-5" onClick={onRemove}>
          <X size={11} />
        </IconButton>
      </div>
      <button
        type="button"
        aria-expanded={open}
        className="text-[10px] text-faint hover:text-ink"
        onClick={() => setOpen(!open)}
      >
        {open ? "less" : "default, limits, words"}
      </button>
      {open && (
        <div className="grid gap-1 py-1">
          <Words
            label={`About ${port.label}`}
            placeholder="One line about it"
            value={port.about}
            onChange={(about) => onChange({ ...port, about })}
          />
          {input && <InputDetails input={input} onChange={onChange} onEnd={onEnd} />}
        </div>
      )}
    </div>
  );
}

const NO_UNIT = "none";

interface InputDetailsProps {
  readonly input: CapsuleInput;
  readonly onChange: (to: CapsuleInput, group?: string) => void;
  readonly onEnd: () => void;
}

function InputDetails({ input, onChange, onEnd }: InputDetailsProps) {
  const declared = { ...input, perElement: false, many: false } as unknown as AnyInput;
  const limits = ["number", "vector"].includes(input.kind);
  const limit = (label: string, key: "min" | "max") => (
    <span className="flex items-center justify-between text-11 text-faint">
      {label}
      {input[key] === undefined ? (
        <Button
          className="!h-5 px-1.5 text-11"
          onClick={() => onChange({ ...input, [key]: key === "min" ? 0 : 1 })}
        >
          None
        </Button>
      ) : (
        <span className="flex gap-1">
          <NumberField
            className="w-[60px]"
            label={`${label} of ${input.label}`}
            value={input[key]}
            onChange={(to, dragging) =>
              onChange({ ...input, [key]: to }, dragging ? `${key} ${input.name}` : undefined)
            }
            onDragEnd={onEnd}
          />
          <IconButton
            label={`No ${label.toLowerCase()}`}
            className="!h-5 !w-5"
            onClick={() => {
              const { [key]: _gone, ...rest } = input;
              onChange(rest as CapsuleInput);
            }}
          >
            <X size={11} />
          </IconButton>
        </span>
      )}
    </span>
  );
  return (
    <>
      <Words
        label={`Group of ${input.label}`}
        placeholder="Group"
        value={input.group ?? ""}
        onChange={(group) => {
          const { group: _old, ...bare } = input;
          onChange((group ? { ...bare, group } : bare) as CapsuleInput);
        }}
      />
      {input.kind !== "shape" && (
        <span className="flex items-center justify-between text-11 text-faint">
          Default
          <ValueControl
            input={declared}
            value={input.default as Setting}
            label={`Default of ${input.label}`}
            onSet={(to, dragging) =>
              onChange({ ...input, default: to }, dragging ? `default ${input.name}` : undefined)
            }
            onEnd={onEnd}
          />
        </span>
      )}
      {input.kind === "number" && (
        <span className="flex items-center justify-between text-11 text-faint">
          Unit
          <Select
            className="w-[84px]"
            label={`Unit of ${input.label}`}
            value={input.unit || NO_UNIT}
            // An angle is turned into radians where it is used: it cannot become something else, nor something else one.
            choices={(input.unit === "°" ? ["°"] : UNITS.filter((unit) => unit !== "°")).map((unit) => ({
              value: unit || NO_UNIT,
              label: unit || NO_UNIT,
            }))}
            onChange={(unit) => onChange({ ...input, unit: unit === NO_UNIT ? "" : (unit as Unit) })}
          />
        </span>
      )}
      {limits && (
        <span className="flex items-center justify-between text-11 text-faint">
          Slider
          <span className="flex gap-1">
            {[0, 1].map((end) => (
              <NumberField
                key={end}
                className="w-[52px]"
                label={`${end === 0 ? "Slider from" : "Slider to"} of ${input.label}`}
                value={(input.soft ?? [0, 1])[end]}
                onChange={(to, dragging) => {
                  const [low, high] = input.soft ?? [0, 1];
                  const soft: [number, number] =
                    end === 0 ? [Math.min(to, high), high] : [low, Math.max(to, low)];
                  onChange({ ...input, soft }, dragging ? `slider ${input.name}` : undefined);
                }}
                onDragEnd={onEnd}
              />
            ))}
          </span>
        </span>
      )}
      {limits && limit("Least", "min")}
      {limits && limit("Most", "max")}
    </>
  );
}

interface WordsProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly onChange: (to: string) => void;
}

/** A line of text that is taken when it is left. */
const Words = ({ label, value, placeholder, onChange }: WordsProps) => (
  <input
    aria-label={label}
    key={value}
    defaultValue={value}
    placeholder={placeholder}
    maxLength={300}
    className="h-6 w-full min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 text-12 hover:border-rule focus:border-rule"
    onBlur={(event) =>
      event.currentTarget.value.trim() !== value && onChange(event.currentTarget.value.trim())
    }
    onKeyDown={(event) => {
      event.stopPropagation();
      if (event.key === "Enter") event.currentTarget.blur();
    }}
  />
);
