"use client";
import { useMemo } from "react";
import { joinAddress } from "@/core/document/links";
import type { Gradient } from "@/core/maths/gradient";
import type { Profile } from "@/core/maths/profile";
import type { AnyInput } from "@/core/nodes/define";
import { portWords } from "@/core/nodes/port-words";
import type { Setting } from "@/core/nodes/ports";
import { ColorField } from "@/ui/color-field";
import { NumberField } from "@/ui/number-field";
import { Select } from "@/ui/select";
import { Switch } from "@/ui/switch";
import { AssetControl } from "../export/asset-control";
import { useStudio, useStudioStore } from "../state/store";
import { gradientStyle } from "./gradient-style";
import { ProfilePicture } from "./profile-picture";

interface InputControlProps {
  readonly node: string;
  readonly name: string;
  readonly input: AnyInput;
}

/** The control for the value of an input that is not linked; the same on cards, in the drawer and for dials. */
export function InputControl({ node, name, input }: InputControlProps) {
  const store = useStudioStore();
  const setting = useStudio((s) => s.document.graph.nodes.find((n) => n.id === node)?.set[name]);
  const value = setting === undefined ? input.default : setting;
  const label = `${portWords(name)} of ${node}`;
  const actions = useMemo(
    () => ({
      set: (to: Setting, dragging = false) => {
        const { edit } = store.getState();
        edit(
          { kind: "set-input", node, input: name, value: to },
          dragging ? `drag ${joinAddress(node, name)}` : undefined,
        );
      },
      end: () => store.getState().endGroup(),
    }),
    [store, node, name],
  );
  switch (input.kind) {
    case "number":
      return (
        <NumberField
          className="w-[84px]"
          label={label}
          value={typeof value === "number" ? value : 0}
          soft={input.soft}
          min={input.min}
          max={input.max}
          whole={input.whole}
          unit={input.unit}
          onChange={actions.set}
          onDragEnd={actions.end}
        />
      );
    case "vector":
    case "rotation": {
      const parts = Array.isArray(value) && value.length === 3 ? (value as number[]) : [0, 0, 0];
      return (
        <span className="flex gap-0.5">
          {["x", "y", "z"].map((axis, i) => (
            <NumberField
              key={axis}
              className="w-[38px] text-[10px]"
              label={`${axis} of ${label}`}
              value={parts[i]}
              soft={input.soft}
              min={input.min}
              onChange={(v, dragging) =>
                actions.set(
                  parts.map((p, k) => (k === i ? v : p)),
                  dragging,
                )
              }
              onDragEnd={actions.end}
            />
          ))}
        </span>
      );
    }
    case "color":
      return (
        <ColorField
          className="w-[84px]"
          label={label}
          value={String(value)}
          onChange={actions.set}
          onDragEnd={actions.end}
        />
      );
    case "toggle":
      return <Switch label={label} value={value === true} onChange={(to) => actions.set(to)} />;
    case "choice":
      return (
        <Select
          className="w-[104px]"
          label={label}
          value={String(value)}
          choices={(input.choices ?? []).map((choice) => ({ value: choice, label: choice }))}
          onChange={(to) => actions.set(to)}
        />
      );
    case "text":
      return (
        <input
          aria-label={label}
          className="nodrag nopan h-5 w-[104px] rounded border border-rule bg-ground px-1.5 text-11"
          defaultValue={String(value)}
          key={String(value)}
          onBlur={(event) => event.currentTarget.value !== value && actions.set(event.currentTarget.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === "Enter") event.currentTarget.blur();
          }}
        />
      );
    case "gradient":
      return (
        <button
          type="button"
          aria-label={`${label}: edit in the drawer`}
          className="nodrag nopan h-4 w-[104px] rounded border border-rule"
          style={gradientStyle(value as unknown as Gradient)}
          onClick={() => store.getState().select([node])}
        />
      );
    case "profile":
      return (
        <button
          type="button"
          aria-label={`${label}: edit in the drawer`}
          className="nodrag nopan h-5 w-[104px] rounded border border-rule bg-ground"
          onClick={() => store.getState().select([node])}
        >
          <ProfilePicture profile={value as unknown as Profile} className="h-full w-full" />
        </button>
      );
    case "asset":
      return (
        <AssetControl
          node={node}
          input={name}
          holds={input.holds}
          value={typeof value === "string" ? value : null}
        />
      );
    case "shape":
      return null;
  }
}
