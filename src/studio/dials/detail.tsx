"use client";
import clsx from "clsx";
import { BookOpen, Gauge } from "lucide-react";
import { useState } from "react";
import { definitionOf, parseCapsuleType } from "@/core/capsules/definitions";
import { exposeEdit } from "@/core/capsules/ports";
import type { Edit } from "@/core/document/edits";
import { indexGraph, joinAddress } from "@/core/document/links";
import { binsBetween, type InputStatistics } from "@/core/inspect/input-statistics";
import { settingsAt } from "@/core/keys/track";
import type { DrawnPath } from "@/core/maths/drawn-path";
import type { Gradient } from "@/core/maths/gradient";
import type { Profile } from "@/core/maths/profile";
import { catalogue } from "@/core/nodes/catalogue";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { IconButton } from "@/ui/button";
import { ExampleDialog } from "../graph/adder/example-dialog";
import { InputValue } from "../graph/cards/card-body";
import { settingsOf, visibleInputs } from "../graph/cards/card-rows";
import { FamilyGlyph } from "../graph/cards/glyphs";
import { KeyMark } from "../graph/cards/key-mark";
import { Problems, problemsOf } from "../graph/cards/problems";
import { RowName } from "../graph/cards/row-name";
import { cardsSpokenOf } from "../graph/cards/spoken-of";
import { portLabel } from "../graph/cards/value-control";
import { InputMenuArea, NO_BORDER, rowData } from "../graph/input-menu";
import { ActionItems } from "../graph/menu-items";
import {
  alike,
  chosenNode,
  definitionOfNode,
  nodeOf,
  reportOf,
  useKeyedFrame,
  useStudio,
  useStudioStore,
} from "../state/store";
import { CapsulePanel, InstancePanel } from "./capsule-panel";
import { Dials } from "./dials";
import { FitPanel, useArrived } from "./fit-panel";
import { GradientEditor } from "./gradient-editor";
import { LinksInOrder } from "./links-in-order";
import { PathEditor } from "./path-editor";
import { ProfileEditor } from "./profile-editor";

const ON_A_NODE = [["peek", "bypass", "open"], ["duplicate", "pack", "unpack"], ["chosen-graph"], ["remove"]];

const ON_NODES = [
  ["duplicate", "pack", "pull", "bypass"],
  ["tidy", "column", "row", "note", "chosen-graph"],
  ["remove"],
];

const ON_NOTHING = [
  ["add", "search", "select-all"],
  ["play-layout", "arrange"],
  ["shortcuts", "tour"],
];

/** The drawer at the right: the dials of the piece, or the ports of the open capsule, on top; the chosen node below. */
export function Detail() {
  const chosen = useStudio(chosenNode);
  const several = useStudio((s) => s.selected.size > 1);
  const capsule = useStudio((s) => s.opened.capsule);
  const playing = useStudio((s) => s.maximised === "play");
  const groups = chosen ? ON_A_NODE : several ? ON_NODES : ON_NOTHING;
  const label = chosen ? "On the chosen node" : several ? "On the chosen nodes" : "On the drawer";
  return (
    <InputMenuArea elsewhere={{ label, items: <ActionItems groups={groups} /> }}>
      <section aria-label="Detail" className="h-full overflow-auto bg-panel">
        {capsule === null || playing ? <Dials /> : <CapsulePanel name={capsule} />}
        {playing ? null : chosen ? (
          <NodeDetail key={chosen} id={chosen} />
        ) : several ? (
          <SeveralDetail />
        ) : (
          <>
            <p className="px-3 py-3 text-12 text-faint">Choose a node to see all of it here.</p>
            <HowItIsMade />
          </>
        )}
      </section>
    </InputMenuArea>
  );
}

/** What whoever made the piece wants to tell about it. */
function HowItIsMade() {
  const store = useStudioStore();
  const made = useStudio((s) => s.document.made);
  const document = useStudio((s) => s.document);
  if (!made) return null;
  const speak = (of: readonly string[]) => store.getState().set({ spokenOf: new Set(of) });
  return (
    <section aria-label="How it is made" className="mx-3 border-rule border-t py-3">
      <h2 className="mb-1.5 font-display text-13 font-semibold">How it is made</h2>
      {made.split(/\n\s*\n/).map((paragraph) => (
        <button
          key={paragraph}
          type="button"
          title="Show the cards that this speaks of"
          className="-mx-1 mb-1 block rounded px-1 py-0.5 text-left text-12 text-faint leading-[17px] hover:bg-raised hover:text-ink focus-visible:bg-raised"
          onPointerEnter={() => speak(cardsSpokenOf(document, paragraph))}
          onPointerLeave={() => speak([])}
          onFocus={() => speak(cardsSpokenOf(document, paragraph))}
          onBlur={() => speak([])}
          onClick={() => {
            store.getState().graphView?.show(cardsSpokenOf(document, paragraph));
          }}
        >
          {paragraph}
        </button>
      ))}
    </section>
  );
}

function NodeDetail({ id }: { id: string }) {
  const node = useStudio((s) => nodeOf(s, id));
  const frame = useKeyedFrame(node?.keys);
  const into = useStudio((s) =>
    [...(indexGraph(s.opened.document.graph).into.get(id)?.keys() ?? [])].join(" "),
  );
  const definition = useStudio((s) => definitionOfNode(s, id));
  const arrived = useArrived(id, definition);
  const [example, setExample] = useState(false);
  const report = useStudio((s) => reportOf(s, id));
  if (!node || !definition) return null;
  const { fits } = definition;
  const linked = new Set(into.split(" "));
  const settings = settingsOf(definition, settingsAt(node, definition, frame));
  const role = parseCapsuleType(node.type)?.role;
  const ends = fits ? ([Number(settings[fits.low]), Number(settings[fits.high])] as const) : NO_ENDS;
  return (
    <div className="px-3 py-3">
      <h2 className="flex items-center gap-2 font-display text-13 font-semibold">
        <FamilyGlyph family={definition.family} /> {definition.title}
        <span className="tabular ml-auto font-normal text-11 text-faint">{id}</span>
        {catalogue.get(definition.type) && (
          <IconButton
            label={`Example of ${definition.title}`}
            className="!h-5 !w-5 text-faint"
            onClick={() => setExample(true)}
          >
            <BookOpen size={13} />
          </IconButton>
        )}
      </h2>
      <p className="mt-1 mb-2 text-12 text-faint">{definition.about}</p>
      <Problems id={id} problems={problemsOf(report)} />
      {example && <ExampleDialog node={definition} onClose={() => setExample(false)} />}
      {role === "capsule" && <InstancePanel id={id} type={node.type} />}
      {(role === "inputs-of" ? [] : visibleInputs(definition, settings, linked))
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
            arrived={arrived}
            ends={ends}
          />
        ))}
      {Object.entries(definition.inputs as Record<string, AnyInput>)
        .filter(([, input]) => input.many)
        .map(([name, input]) => (
          <LinksInOrder key={name} node={id} name={name} label={portLabel(name, input)} />
        ))}
      {fits && <FitPanel key={id} node={node} definition={definition} linked={linked} arrived={arrived} />}
    </div>
  );
}

/** What all of the chosen nodes have: it is changed in all of them. */
function SeveralDetail() {
  const store = useStudioStore();
  const selected = useStudio((s) => s.selected);
  const document = useStudio((s) => s.opened.document);
  const { nodes, into } = indexGraph(document.graph);
  const ids = [...selected].filter((id) => nodes.has(id));
  const [first] = ids;
  const settingsIn = (id: string) => {
    const node = nodes.get(id);
    const definition = node && definitionOf(document, node.type);
    return definition && node ? settingsOf(definition, node.set) : {};
  };
  const definition = definitionOf(document, nodes.get(first)?.type ?? "");
  if (!definition) return null;
  const settings = settingsIn(first);
  const linked = new Set(into.get(first)?.keys() ?? []);
  const shared = visibleInputs(definition, settings, linked).filter(
    ([name, { kind }]) =>
      kind !== "shape" &&
      kind !== "gradient" &&
      kind !== "profile" &&
      kind !== "path" &&
      kind !== "painted" &&
      !linked.has(name) &&
      // What can be set together is what the control then sets together.
      ids.every((id) => alike(store.getState(), first, name).includes(id)),
  );
  const differs = (name: string) =>
    ids.some((id) => JSON.stringify(settingsIn(id)[name]) !== JSON.stringify(settings[name]));
  return (
    <div className="px-3 py-3">
      <h2 className="font-display text-13 font-semibold">{ids.length} nodes are chosen</h2>
      <p className="mt-1 mb-2 text-12 text-faint">
        {shared.length > 0
          ? "What you set here is set in all of them."
          : "They have no value in common that is not linked."}
      </p>
      {shared.map(([name, input]) => (
        <div key={name} {...rowData(first, name)} className="flex min-h-7 items-center gap-1.5 text-12">
          <RowName name={name} input={input} />
          {differs(name) && <span className="text-11 text-faint">differs</span>}
          <InputValue id={first} name={name} input={input} linked={false} />
        </div>
      ))}
    </div>
  );
}

const NO_ENDS = [0, 1] as const;

interface InputDetailProps {
  readonly id: string;
  readonly name: string;
  readonly input: AnyInput;
  readonly definition: AnyNode;
  readonly linked: boolean;
  readonly value: Setting;
  /** What arrives, and the range that its editor stands for. */
  readonly arrived: InputStatistics | null;
  readonly ends: readonly [number, number];
}

function InputDetail({ id, name, input, definition, linked, value, arrived, ends }: InputDetailProps) {
  const store = useStudioStore();
  const address = joinAddress(id, name);
  if (isWide(input) && !linked) {
    const bins = arrived ? binsBetween(arrived, ends[0], ends[1], 40) : undefined;
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
          <DialButton address={address} label={`${definition.title}, ${portLabel(name, input)}`} />
          <span className="flex-1">{portLabel(name, input)}</span>
          <KeyMark node={id} name={name} input={input} always />
        </h3>
        {input.kind === "gradient" ? (
          <GradientEditor value={value as unknown as Gradient} {...editing} />
        ) : input.kind === "profile" ? (
          <ProfileEditor value={value as unknown as Profile} {...editing} />
        ) : input.kind === "path" ? (
          <PathEditor
            value={value as unknown as DrawnPath}
            onChange={editing.onChange}
            onDragEnd={editing.onDragEnd}
          />
        ) : (
          <textarea
            aria-label={`${portLabel(name, input)} of ${id}`}
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
    <div {...rowData(id, name)} className="flex min-h-7 items-center gap-1.5 text-12" title={input.about}>
      <DialButton address={address} label={`${definition.title}, ${portLabel(name, input)}`} />
      <RowName name={name} input={input} />
      <InputValue id={id} name={name} input={input} linked={linked} keyable />
    </div>
  );
}

/** Inputs that take a block of their own in the drawer. */
const isWide = (input: AnyInput): boolean =>
  input.kind === "gradient" || input.kind === "profile" || input.kind === "path" || input.long === true;

/** Makes an input a dial of the piece, or an input of the open capsule, or takes it off again. */
function DialButton({ address, label }: { address: string; label: string }) {
  const store = useStudioStore();
  const capsule = useStudio((s) => s.opened.capsule);
  const dial = useStudio((s) => s.document.dials.find((d) => capsule === null && d.input === address));
  const linked = useStudio((s) => s.opened.document.graph.links.some((link) => link.to === address));
  if (capsule !== null && linked) return <span className="w-5" />;
  const words = dial
    ? `Take “${dial.label}” off the dials`
    : capsule === null
      ? "Make it a dial"
      : "Make it an input of the capsule";
  return (
    <IconButton
      label={words}
      aria-pressed={dial !== undefined}
      className={clsx("!h-5 !w-5", dial ? "text-accent" : "text-faint opacity-60")}
      onClick={() => {
        const { document, editPiece, set } = store.getState();
        const change: Edit | null = dial
          ? { kind: "remove", dials: [dial] }
          : capsule === null
            ? { kind: "add", dials: [{ item: { label, input: address }, index: document.dials.length }] }
            : exposeEdit(document, capsule, address);
        if (change) editPiece(change);
        else set({ notice: NO_BORDER });
      }}
    >
      <Gauge size={12} />
    </IconButton>
  );
}
