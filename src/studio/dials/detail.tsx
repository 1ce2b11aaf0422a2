"use client";
import clsx from "clsx";
import { Gauge } from "lucide-react";
import { indexGraph, joinAddress, parseAddress } from "@/core/document/links";
import type { Gradient } from "@/core/maths/gradient";
import type { Profile } from "@/core/maths/profile";
import { catalogue } from "@/core/nodes/catalogue";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import { portWords } from "@/core/nodes/port-words";
import type { Setting } from "@/core/nodes/ports";
import { IconButton } from "@/ui/button";
import { visibleInputs } from "../graph/card";
import { FamilyGlyph } from "../graph/glyphs";
import { InputControl } from "../graph/input-control";
import { useStudio, useStudioStore } from "../state/store";
import { GradientEditor } from "./gradient-editor";
import { ProfileEditor } from "./profile-editor";

/** The drawer at the right: the piece's dials on top, the chosen node below. */
export function Detail() {
  const chosen = useStudio((s) => (s.selected.size === 1 ? [...s.selected][0] : null));
  return (
    <section aria-label="Detail" className="h-full overflow-auto bg-panel">
      <Dials />
      {chosen ? (
        <NodeDetail key={chosen} id={chosen} />
      ) : (
        <p className="px-3 py-3 text-12 text-faint">Choose a node to see all of it here.</p>
      )}
    </section>
  );
}

function Dials() {
  const dials = useStudio((s) => s.document.dials);
  const nodes = useStudio((s) => s.document.graph.nodes);
  return (
    <div className="border-b border-rule px-3 py-3">
      <h2 className="mb-1.5 font-display text-13 font-semibold">Dials</h2>
      {dials.length === 0 && (
        <p className="text-12 text-faint">None yet. The gauge beside an input makes it a dial.</p>
      )}
      {dials.map((dial) => {
        const { node, port } = parseAddress(dial.input);
        const input = catalogue.get(nodes.find((n) => n.id === node)?.type ?? "")?.inputs[port] as
          | AnyInput
          | undefined;
        return (
          <div key={dial.input} className="flex min-h-7 items-center justify-between gap-2 text-12">
            <span className="min-w-0 truncate" title={dial.input}>
              {dial.label}
            </span>
            {input ? (
              <InputControl node={node} name={port} input={input} />
            ) : (
              <span className="text-11 text-alert">its node is gone</span>
            )}
          </div>
        );
      })}
    </div>
  );
}

function NodeDetail({ id }: { id: string }) {
  const node = useStudio((s) => indexGraph(s.document.graph).nodes.get(id));
  const into = useStudio((s) => [...(indexGraph(s.document.graph).into.get(id)?.keys() ?? [])].join(" "));
  const definition = node && catalogue.get(node.type);
  if (!node || !definition) return null;
  const linked = new Set(into.split(" "));
  const settings: Record<string, Setting> = {};
  for (const [name, input] of Object.entries(definition.inputs as Record<string, AnyInput>))
    settings[name] = node.set[name] ?? input.default;
  return (
    <div className="px-3 py-3">
      <h2 className="flex items-center gap-2 font-display text-13 font-semibold">
        <FamilyGlyph family={definition.family} /> {definition.title}
        <span className="tabular ml-auto font-normal text-11 text-faint">{id}</span>
      </h2>
      <p className="mt-1 mb-2 text-12 text-faint">{definition.about}</p>
      {visibleInputs(definition, settings, linked)
        .filter(([, input]) => input.kind !== "shape")
        .map(([name, input]) => (
          <InputDetail
            key={name}
            id={id}
            name={name}
            input={input}
            definition={definition}
            linked={linked.has(name)}
            value={settings[name]}
          />
        ))}
    </div>
  );
}

interface InputDetailProps {
  readonly id: string;
  readonly name: string;
  readonly input: AnyInput;
  readonly definition: AnyNode;
  readonly linked: boolean;
  readonly value: Setting;
}

function InputDetail({ id, name, input, definition, linked, value }: InputDetailProps) {
  const store = useStudioStore();
  const address = joinAddress(id, name);
  const bins = useStudio((s) => arrivingBins(s, id, input));
  if (isWide(input) && !linked) {
    const editing = {
      bins,
      onChange: (to: unknown, dragging: boolean) =>
        store
          .getState()
          .edit(
            { kind: "set-input", node: id, input: name, value: to as Setting },
            dragging ? `drag ${address}` : undefined,
          ),
      onDragEnd: () => store.getState().endGroup(),
    };
    return (
      <div className="mt-2" title={input.about}>
        <h3 className="mb-1 flex items-center gap-1.5 text-12">
          <DialButton address={address} label={`${definition.title}, ${portWords(name)}`} />
          {portWords(name)}
        </h3>
        {input.kind === "gradient" ? (
          <GradientEditor value={value as unknown as Gradient} {...editing} />
        ) : input.kind === "profile" ? (
          <ProfileEditor value={value as unknown as Profile} {...editing} />
        ) : (
          <textarea
            aria-label={`${portWords(name)} of ${id}`}
            key={String(value)}
            rows={4}
            spellCheck={false}
            className="tabular w-full resize-y rounded border border-rule bg-ground px-2 py-1 text-12"
            defaultValue={String(value)}
            onBlur={(event) =>
              event.currentTarget.value !== value && editing.onChange(event.currentTarget.value, false)
            }
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === "Enter" && !event.shiftKey) event.currentTarget.blur();
            }}
          />
        )}
      </div>
    );
  }
  return (
    <div className="flex min-h-7 items-center gap-1.5 text-12" title={input.about}>
      <DialButton address={address} label={`${definition.title}, ${portWords(name)}`} />
      <span className="min-w-0 flex-1 truncate">{portWords(name)}</span>
      {linked || input.implicit ? (
        <span className="text-11 text-faint">{linked ? "linked" : input.implicit}</span>
      ) : (
        <InputControl node={id} name={name} input={input} />
      )}
    </div>
  );
}

/** Inputs that take a block of their own in the drawer. */
const isWide = (input: AnyInput): boolean =>
  input.kind === "gradient" || input.kind === "profile" || input.long === true;

/** Makes an input a dial of the piece, or takes it off again. */
function DialButton({ address, label }: { address: string; label: string }) {
  const store = useStudioStore();
  const dial = useStudio((s) => s.document.dials.find((d) => d.input === address));
  return (
    <IconButton
      label={dial ? `Take “${dial.label}” off the dials` : "Make it a dial"}
      aria-pressed={dial !== undefined}
      className={clsx("!h-5 !w-5", dial ? "text-accent" : "text-faint opacity-60")}
      onClick={() => {
        const { document, edit } = store.getState();
        if (dial) edit({ kind: "remove", dials: [dial] });
        else
          edit({ kind: "add", dials: [{ item: { label, input: address }, index: document.dials.length }] });
      }}
    >
      <Gauge size={12} />
    </IconButton>
  );
}

/** Histogram of what arrives at the input `value` of the same node, where the source's was worked out. */
function arrivingBins(
  state: Parameters<Parameters<typeof useStudio>[0]>[0],
  id: string,
  input: AnyInput,
): readonly number[] | undefined {
  if (input.kind !== "gradient" && input.kind !== "profile") return undefined;
  const link = indexGraph(state.document.graph).into.get(id)?.get("value")?.[0];
  return link && state.report?.nodes[link.from.node]?.values?.[link.from.port]?.ranges?.[0]?.bins;
}
