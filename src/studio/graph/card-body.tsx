"use client";
import { Handle, Position } from "@xyflow/react";
import clsx from "clsx";
import { Plus } from "lucide-react";
import { parseCapsuleType } from "@/core/capsules/definitions";
import { indexGraph, settingPort } from "@/core/document/links";
import type { NodeReport } from "@/core/evaluate/report";
import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { reportOf, type StudioState, useStudio } from "../state/store";
import { NEW_PORT } from "./graph-edits";
import { Histogram } from "./histogram";
import { InputControl } from "./input-control";
import { outputData, rowData } from "./input-menu";
import { KeyMark } from "./key-mark";
import { sightText, tallyText, valueText } from "./summary";
import { Tab } from "./tab";
import { portLabel } from "./value-control";

interface BodyProps {
  readonly id: string;
  readonly set: Readonly<Record<string, Setting>>;
  readonly definition: AnyNode;
  readonly report: NodeReport | undefined;
}

/** The rows of a card: inputs with their controls or what arrives, the histogram of the main output, outputs. */
export function CardBody({ id, set, definition, report }: BodyProps) {
  const linked = useStudio((s) => {
    const index = indexGraph(s.opened.document.graph);
    const into = [...(index.into.get(id)?.keys() ?? [])];
    const out = (index.outOf.get(id) ?? []).map((link) => link.from.port);
    return `${into.join(" ")}|${[...new Set(out)].join(" ")}`;
  });
  const [into, out] = linked.split("|").map((list) => new Set(list.split(" ")));
  const settings = settingsOf(definition, set);
  const main = Object.keys(definition.outputs)[0];
  const range = report?.values?.[main]?.ranges;
  const role = parseCapsuleType(definition.type)?.role;
  const rows = role === "inputs-of" ? [] : visibleInputs(definition, settings, into);
  return (
    <>
      {definition.summary && into.size <= 1 && (
        <p className="truncate px-5 pt-1 text-11 text-faint">{definition.summary(settings)}</p>
      )}
      <div className="py-1">
        {rows.map(([name, input], i) => (
          <div key={name}>
            {input.group && input.group !== rows[i - 1]?.[1].group && (
              <p className="px-5 pt-1 text-[10px] text-faint uppercase tracking-wide">{input.group}</p>
            )}
            <InputRow id={id} name={name} input={input} linked={into.has(name)} />
          </div>
        ))}
        {role === "outputs-of" && <FreeTab node={id} side="input" />}
        {range?.length === 1 && (
          <Histogram bins={range[0].bins} className="mx-5 mt-1 h-5 w-[calc(100%-40px)]" />
        )}
      </div>
      {role !== "outputs-of" && (
        <div className="border-t border-dashed py-1">
          {Object.entries(definition.outputs as Record<string, AnyOutput>).map(([name, output]) => (
            <div
              key={name}
              {...outputData(id, name)}
              className="relative flex h-5 items-center justify-end gap-2 pr-4 pl-5 text-12 text-faint"
            >
              <OutputValue
                node={id}
                port={name}
                rest={name === main ? "" : valueText(report?.values?.[name])}
              />
              {portLabel(name, output)}
              <Tab
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
          {role === "inputs-of" && <FreeTab node={id} side="output" />}
        </div>
      )}
    </>
  );
}

/** What every input is set to, its default where it is not. */
export function settingsOf(
  definition: AnyNode,
  set: Readonly<Record<string, Setting>>,
): Record<string, Setting> {
  const settings: Record<string, Setting> = {};
  for (const [name, input] of Object.entries(definition.inputs as Record<string, AnyInput>))
    settings[name] = set[name] ?? input.default;
  return settings;
}

/** Inputs whose condition holds, and those that are linked all the same. */
export function visibleInputs(
  definition: AnyNode,
  settings: Readonly<Record<string, Setting>>,
  linked: ReadonlySet<string>,
): [string, AnyInput][] {
  return Object.entries(definition.inputs as Record<string, AnyInput>).filter(
    ([name, { shownWhen }]) =>
      !shownWhen ||
      linked.has(name) ||
      linked.has(shownWhen.input) ||
      shownWhen.is.includes(settings[shownWhen.input]),
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
      className="relative flex h-[22px] items-center justify-between gap-2 pr-2.5 pl-5"
    >
      <Tab
        node={id}
        port={name}
        kind={input.kind}
        side="input"
        comb={input.perElement}
        linked={linked}
        about={input.about}
      />
      <span className="truncate text-12">{portLabel(name, input)}</span>
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
      className={clsx("tabular max-w-[120px] truncate text-[10px]", seen ? "text-accent" : "text-faint")}
      title={seen ? `${seen} at the traced element; ${text}` : text}
    >
      {seen || text}
    </span>
  );
}

/** At an output: the traced element's value, else what it gives to all. */
function OutputValue({ node, port, rest }: { node: string; port: string; rest: string }) {
  const seen = useStudio((s) => sightText(s.trace?.nodes[s.opened.prefix + node]?.outputs[port]));
  return <span className={clsx("tabular truncate text-[10px]", seen && "text-accent")}>{seen || rest}</span>;
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
function FreeTab({ node, side }: { node: string; side: "input" | "output" }) {
  const isInput = side === "input";
  return (
    <div className="relative flex h-[22px] items-center gap-2 px-5 text-11 text-faint">
      <Handle
        id={NEW_PORT}
        type={isInput ? "target" : "source"}
        position={isInput ? Position.Left : Position.Right}
        role="img"
        aria-label={`new ${side} of ${node}`}
        title="Draw a link here to make a port"
        className="glemmo-tab glemmo-tab-free"
      >
        <Plus size={11} className="pointer-events-none mx-auto" />
      </Handle>
      <span className={isInput ? "" : "ml-auto"}>link to add one</span>
    </div>
  );
}
