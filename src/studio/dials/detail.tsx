"use client";
import clsx from "clsx";
import { Gauge } from "lucide-react";
import { parseCapsuleType } from "@/core/capsules/definitions";
import { exposeEdit } from "@/core/capsules/ports";
import type { Edit } from "@/core/document/edits";
import { indexGraph, joinAddress } from "@/core/document/links";
import { type Arrived, binsBetween } from "@/core/inspect/arriving";
import { settingsAt } from "@/core/keys/track";
import type { Gradient } from "@/core/maths/gradient";
import type { Profile } from "@/core/maths/profile";
import type { AnyInput, AnyNode } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { IconButton } from "@/ui/button";
import { InputValue, settingsOf, visibleInputs } from "../graph/card-body";
import { FamilyGlyph } from "../graph/glyphs";
import { InputMenuArea, NO_BORDER, rowData } from "../graph/input-menu";
import { KeyMark } from "../graph/key-mark";
import { portLabel } from "../graph/value-control";
import {
  chosenNode,
  definitionOfNode,
  nodeOf,
  useKeyedFrame,
  useStudio,
  useStudioStore,
} from "../state/store";
import { CapsulePanel, InstancePanel } from "./capsule-panel";
import { Dials } from "./dials";
import { FitPanel, useArrived } from "./fit-panel";
import { GradientEditor } from "./gradient-editor";
import { ProfileEditor } from "./profile-editor";

/** The drawer at the right: the dials of the piece, or the ports of the open capsule, on top; the chosen node below. */
export function Detail() {
  const chosen = useStudio(chosenNode);
  const capsule = useStudio((s) => s.opened.capsule);
  const playing = useStudio((s) => s.maximised === "play");
  return (
    <section aria-label="Detail" className="h-full overflow-auto bg-panel">
      {capsule === null || playing ? <Dials /> : <CapsulePanel name={capsule} />}
      {playing ? null : chosen ? (
        <InputMenuArea>
          <NodeDetail key={chosen} id={chosen} />
        </InputMenuArea>
      ) : (
        <>
          <p className="px-3 py-3 text-12 text-faint">Choose a node to see all of it here.</p>
          <HowItIsMade />
        </>
      )}
    </section>
  );
}

/** What whoever made the piece wants to tell about it. */
function HowItIsMade() {
  const made = useStudio((s) => s.document.made);
  if (!made) return null;
  return (
    <section aria-label="How it is made" className="mx-3 border-rule border-t py-3">
      <h2 className="mb-1.5 font-display text-13 font-semibold">How it is made</h2>
      {made.split(/\n\s*\n/).map((paragraph) => (
        <p key={paragraph} className="mb-2 text-12 text-faint leading-[17px]">
          {paragraph}
        </p>
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
      </h2>
      <p className="mt-1 mb-2 text-12 text-faint">{definition.about}</p>
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
      {fits && <FitPanel key={id} node={node} definition={definition} linked={linked} arrived={arrived} />}
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
  readonly arrived: Arrived | null;
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
      <span className="min-w-0 flex-1 truncate">{portLabel(name, input)}</span>
      <InputValue id={id} name={name} input={input} linked={linked} keyable />
    </div>
  );
}

/** Inputs that take a block of their own in the drawer. */
const isWide = (input: AnyInput): boolean =>
  input.kind === "gradient" || input.kind === "profile" || input.long === true;

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
