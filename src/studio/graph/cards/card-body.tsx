"use client";
import { Handle, Position, useUpdateNodeInternals } from "@xyflow/react";
import clsx from "clsx";
import { ChevronDown, ChevronUp, Plus } from "lucide-react";
import { useContext, useEffect, useRef } from "react";
import { parseCapsuleType } from "@/core/capsules/definitions";
import { indexGraph, settingPort } from "@/core/document/links";
import type { GraphNode } from "@/core/document/schema";
import type { NodeReport } from "@/core/evaluate/report";
import { settingsAt } from "@/core/keys/track";
import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import { reportOf, type StudioState, useKeyedFrame, useStudio, useStudioStore } from "../../state/store";
import { LinkDrawnFrom } from "../dragging";
import { NEW_PORT } from "../graph-edits";
import { outputData, rowData } from "../input-menu";
import { cardRows, dialsOf, settingsOf } from "./card-rows";
import { FOLD_ROW, hasSummary, INPUT_ROW, OUTPUT_ROW, SUMMARY } from "./card-size";
import { Histogram } from "./histogram";
import { InputControl } from "./input-control";
import { KeyMark } from "./key-mark";
import { Port } from "./port";
import { RowName } from "./row-name";
import { sightText, tallyText, valueText } from "./summary";
import { portLabel } from "./value-control";

interface BodyProps {
  readonly id: string;
  readonly node: GraphNode;
  readonly definition: AnyNode;
  readonly report: NodeReport | undefined;
}

/** The rows of a card: inputs with their controls or what arrives, a line for those that are folded away, outputs. */
export function CardBody({ id, node, definition, report }: BodyProps) {
  const store = useStudioStore();
  const linked = useStudio((s) => {
    const index = indexGraph(s.opened.document.graph);
    const into = [...(index.into.get(id)?.keys() ?? [])];
    const out = (index.outOf.get(id) ?? []).map((link) => link.from.port);
    return `${into.join(" ")}|${[...new Set(out)].join(" ")}`;
  });
  const [into, out] = linked.split("|").map((list) => new Set(list.split(" ").filter((port) => port !== "")));
  const dials = useStudio((s) => (s.opened.capsule === null ? [...dialsOf(s.document, id)].join(" ") : ""));
  const open = useStudio((s) => s.unfolded.has(s.opened.prefix + id));
  const frame = useKeyedFrame(node.keys);
  const set = settingsAt(node, definition, frame);
  const main = Object.keys(definition.outputs)[0];
  const range = report?.values?.[main]?.ranges;
  const role = parseCapsuleType(definition.type)?.role;
  const now = { set, keys: node.keys };
  const folded = cardRows(definition, now, into, new Set(dials.split(" ")), false);
  const { shown } = open ? cardRows(definition, now, into, new Set(), true) : folded;
  const ports = shown.map(([name]) => name).join(" ");
  useToldPorts(id, ports);
  const isLinking = useContext(LinkDrawnFrom) !== null;
  const fold = (to: boolean) => {
    const { unfolded, opened, set: change } = store.getState();
    const next = new Set(unfolded);
    if (to) next.add(opened.prefix + id);
    else next.delete(opened.prefix + id);
    change({ unfolded: next });
  };
  return (
    <>
      {definition.summary && hasSummary(definition, into) && (
        <p
          className="card-word truncate px-5 text-faint leading-none"
          style={{ height: SUMMARY, paddingTop: 5 }}
        >
          {definition.summary(settingsOf(definition, set))}
        </p>
      )}
      <div className="py-[3px]">
        {shown.map(([name, input]) => (
          <InputRow key={name} id={id} name={name} input={input} linked={into.has(name)} />
        ))}
        {folded.more > 0 && (
          <button
            type="button"
            aria-expanded={open}
            data-unfolded={open}
            aria-label={open ? `fewer inputs of ${id}` : `${folded.more} more inputs of ${id}`}
            className="nodrag nopan card-word flex w-full items-center gap-1 px-5 text-faint hover:text-ink"
            style={{ height: FOLD_ROW }}
            onClick={() => fold(!open)}
            // A link that is led here looks for an input that is folded away.
            onPointerEnter={() => isLinking && fold(true)}
          >
            {open ? <ChevronUp size={12} /> : <ChevronDown size={12} />}
            {open ? "fewer" : `${folded.more} more`}
          </button>
        )}
        {role === "outputs-of" && <FreePort node={id} side="input" />}
      </div>
      {role !== "outputs-of" && (
        <div className="border-t border-dashed py-1">
          {Object.entries(definition.outputs as Record<string, AnyOutput>).map(([name, output]) => (
            <div
              key={name}
              {...outputData(id, name)}
              className="card-word relative flex items-center justify-end gap-2 pr-4 pl-5 text-faint"
              style={{ height: OUTPUT_ROW }}
            >
              {name === main && range?.length === 1 && (
                <Histogram bins={range[0].bins} className="h-4 min-w-0 flex-1" />
              )}
              <OutputValue
                node={id}
                port={name}
                rest={name === main ? "" : valueText(report?.values?.[name])}
              />
              {portLabel(name, output)}
              <Port
                node={id}
                port={name}
                kind={output.kind}
                side="output"
                comb={output.kind !== "shape" && report?.values?.[name]?.ranges !== undefined}
                linked={out.has(name)}
                about={output.about}
              />
            </div>
          ))}
          {role === "inputs-of" && <FreePort node={id} side="output" />}
        </div>
      )}
    </>
  );
}

interface InputRowProps {
  readonly id: string;
  readonly name: string;
  readonly input: AnyInput;
  readonly linked: boolean;
}

function InputRow({ id, name, input, linked }: InputRowProps) {
  return (
    <div
      {...rowData(id, name)}
      className="card-word relative flex items-center justify-between gap-2 pr-2.5 pl-5"
      style={{ height: INPUT_ROW }}
    >
      <Port
        node={id}
        port={name}
        kind={input.kind}
        side="input"
        comb={input.perElement}
        linked={linked}
        about={input.about}
      />
      {linked ? (
        <span className="truncate">{portLabel(name, input)}</span>
      ) : (
        <RowName name={name} input={input} />
      )}
      <InputValue id={id} name={name} input={input} linked={linked} />
    </div>
  );
}

/** Beside an input's name, wherever it stands: what arrives, what is read instead, or the control of its value. */
export function InputValue({ id, name, input, linked, keyable }: InputRowProps & { keyable?: boolean }) {
  if (linked) return <Arriving node={id} input={name} />;
  if (input.implicit) return <span className="text-11 text-faint">{input.implicit}</span>;
  return (
    <span className="flex items-center gap-1">
      <KeyMark node={id} name={name} input={input} always={keyable} />
      <InputControl node={id} name={name} input={input} />
    </span>
  );
}

/** What arrives at a linked input: its value, or how many and from where to where. */
function Arriving({ node, input }: { node: string; input: string }) {
  const text = useStudio((s) => arrivingText(s, node, input));
  const seen = useStudio((s) => sightText(s.trace?.nodes[s.opened.prefix + node]?.inputs[input]));
  return (
    <span
      className={clsx("tabular max-w-[120px] truncate text-11", seen ? "text-accent" : "text-faint")}
      title={seen ? `${seen} at the traced element; ${text}` : text}
    >
      {seen || text}
    </span>
  );
}

/** At an output: the traced element's value, else what it gives to all. */
function OutputValue({ node, port, rest }: { node: string; port: string; rest: string }) {
  const seen = useStudio((s) => sightText(s.trace?.nodes[s.opened.prefix + node]?.outputs[port]));
  return <span className={clsx("tabular truncate", seen && "text-accent")}>{seen || rest}</span>;
}

function arrivingText(state: StudioState, node: string, input: string): string {
  const links = indexGraph(state.opened.document.graph).into.get(node)?.get(input) ?? [];
  if (links.length > 1) return `${links.length} links`;
  const { from } = links[0] ?? {};
  if (!from) return "linked";
  const followed = settingPort(from.port);
  if (followed !== null) return `as ${followed} of ${from.node}`;
  const report = reportOf(state, from.node);
  const value = report?.values?.[from.port];
  return valueText(value) || (value ? "" : tallyText(report, undefined)) || "linked";
}

/** Where a link makes a port of the capsule. */
function FreePort({ node, side }: { node: string; side: "input" | "output" }) {
  const isInput = side === "input";
  return (
    <div
      className="card-word relative flex items-center gap-2 px-5 text-faint"
      style={{ height: isInput ? INPUT_ROW : OUTPUT_ROW }}
    >
      <Handle
        id={NEW_PORT}
        type={isInput ? "target" : "source"}
        position={isInput ? Position.Left : Position.Right}
        role="img"
        aria-label={`new ${side} of ${node}`}
        title="Draw a link here to make a port"
        className="glemmo-port glemmo-port-free"
      >
        <Plus size={11} className="pointer-events-none mx-auto" />
      </Handle>
      <span className={isInput ? "" : "ml-auto"}>link to add one</span>
    </div>
  );
}

/** Ports that came or went while the card's height stayed are not noticed by the canvas; a new card it measures by itself. */
function useToldPorts(id: string, ports: string): void {
  const update = useUpdateNodeInternals();
  const told = useRef(ports);
  useEffect(() => {
    if (told.current === ports) return;
    told.current = ports;
    update(id);
  }, [ports, id, update]);
}
