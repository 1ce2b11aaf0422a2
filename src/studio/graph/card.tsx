"use client";
import type { NodeProps } from "@xyflow/react";
import clsx from "clsx";
import { memo } from "react";
import { indexGraph } from "@/core/document/links";
import type { NodeReport } from "@/core/evaluate/report";
import { catalogue } from "@/core/nodes/catalogue";
import type { AnyInput, AnyNode, AnyOutput, Problem } from "@/core/nodes/define";
import { portWords } from "@/core/nodes/port-words";
import type { Setting } from "@/core/nodes/ports";
import { useStudio, useStudioStore } from "../state/store";
import { FamilyGlyph } from "./glyphs";
import { Histogram } from "./histogram";
import { InputControl } from "./input-control";
import { msText, tallyText, valueText } from "./summary";
import { Tab } from "./tab";

export const CARD_WIDTH = 224;

/** A node as a packet: flap, inputs, outputs; torn below when it failed. */
export const Card = memo(function Card({ id, selected }: NodeProps) {
  const node = useStudio((s) => indexGraph(s.document.graph).nodes.get(id));
  const report = useStudio((s) => s.report?.nodes[id]);
  if (!node) return null;
  const definition = catalogue.get(node.type);
  const failed = report?.state === "failed";
  return (
    <div style={{ width: CARD_WIDTH }} data-node={id} data-state={report?.state}>
      <div
        className={clsx(
          "drop-shadow-[0_3px_8px_rgba(0,0,0,0.35)]",
          report?.state === "unused" && "opacity-60",
        )}
      >
        <div className={clsx("packet-outline", failed ? "bg-alert" : selected ? "bg-accent" : "bg-rule")}>
          <div className={clsx("packet-inner bg-panel", failed && "packet-torn")}>
            <Flap
              id={id}
              title={definition?.title ?? node.type}
              definition={definition}
              report={report}
              bypassed={node.bypass === true}
            />
            {definition ? (
              <Body id={id} set={node.set} definition={definition} report={report} />
            ) : (
              <p className="px-3 py-2 text-12 text-faint">Kept as it is.</p>
            )}
          </div>
        </div>
      </div>
      <Problems id={id} problems={report?.problems ?? []} />
    </div>
  );
});

interface FlapProps {
  readonly id: string;
  readonly title: string;
  readonly definition: AnyNode | undefined;
  readonly report: NodeReport | undefined;
  readonly bypassed: boolean;
}

function Flap({ id, title, definition, report, bypassed }: FlapProps) {
  const main = definition && Object.keys(definition.outputs)[0];
  return (
    <div
      className={clsx(
        "flex items-start gap-2 border-b border-dashed bg-raised py-1.5 pr-2 pl-5",
        bypassed && "flap-folded",
      )}
      title={`${id}: ${report?.why ?? "not worked out yet"}`}
    >
      <span className="mt-px">{definition && <FamilyGlyph family={definition.family} />}</span>
      <span className="min-w-0 flex-1 truncate font-display text-13 font-semibold">
        {title}
        {bypassed && <span className="ml-1 font-normal text-11 text-faint">passed by</span>}
      </span>
      <span className="tabular text-right text-[10px] text-faint leading-[13px]">
        {tallyText(report, main)}
        <br />
        {report && report.state !== "unused" ? msText(report.ms) : ""}
      </span>
    </div>
  );
}

interface BodyProps {
  readonly id: string;
  readonly set: Readonly<Record<string, Setting>>;
  readonly definition: AnyNode;
  readonly report: NodeReport | undefined;
}

function Body({ id, set, definition, report }: BodyProps) {
  const linked = useStudio((s) => {
    const index = indexGraph(s.document.graph);
    const into = [...(index.into.get(id)?.keys() ?? [])];
    const out = (index.outOf.get(id) ?? []).map((link) => link.from.port);
    return `${into.join(" ")}|${[...new Set(out)].join(" ")}`;
  });
  const [into, out] = linked.split("|").map((list) => new Set(list.split(" ")));
  const settings: Record<string, Setting> = {};
  for (const [name, input] of Object.entries(definition.inputs as Record<string, AnyInput>))
    settings[name] = set[name] ?? input.default;
  const main = Object.keys(definition.outputs)[0];
  const range = report?.values?.[main]?.ranges;
  return (
    <>
      {definition.summary && into.size <= 1 && (
        <p className="truncate px-5 pt-1 text-11 text-faint">{definition.summary(settings)}</p>
      )}
      <div className="py-1">
        {visibleInputs(definition, settings, into).map(([name, input]) => (
          <div key={name} className="relative flex h-[22px] items-center justify-between gap-2 pr-2.5 pl-5">
            <Tab
              node={id}
              port={name}
              kind={input.kind}
              side="input"
              comb={input.perElement}
              linked={into.has(name)}
              about={input.about}
            />
            <span className="truncate text-12">{portWords(name)}</span>
            {into.has(name) ? (
              <span className="tabular text-[10px] text-faint">linked</span>
            ) : input.implicit ? (
              <span className="text-11 text-faint">{input.implicit}</span>
            ) : (
              <InputControl node={id} name={name} input={input} />
            )}
          </div>
        ))}
        {range?.length === 1 && <Histogram bins={range[0].bins} className="mx-5 mt-1 h-5" />}
      </div>
      <div className="border-t border-dashed py-1">
        {Object.entries(definition.outputs as Record<string, AnyOutput>).map(([name, output]) => (
          <div
            key={name}
            className="relative flex h-5 items-center justify-end gap-2 pr-4 pl-5 text-12 text-faint"
          >
            <span className="tabular truncate text-[10px]">
              {name === main ? "" : valueText(report?.values?.[name])}
            </span>
            {portWords(name)}
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
      </div>
    </>
  );
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

function Problems({ id, problems }: { id: string; problems: readonly Problem[] }) {
  const store = useStudioStore();
  if (problems.length === 0) return null;
  return (
    <ul className="mt-1 grid gap-1">
      {problems.map((problem) => (
        <li
          key={problem.what}
          role={problem.level === "error" ? "alert" : "status"}
          className={clsx(
            "nodrag rounded border-l-2 bg-panel/95 px-2 py-1 text-11 leading-4",
            problem.level === "error" && "border-alert text-ink",
            problem.level === "warning" && "border-accent text-faint",
            problem.level === "note" && "border-rule text-faint",
          )}
        >
          {problem.what}
          {problem.repair && (
            <button
              type="button"
              className="ml-1.5 rounded border border-rule bg-raised px-1.5 text-accent hover:border-accent"
              onClick={() => {
                const { input, value } = problem.repair as NonNullable<Problem["repair"]>;
                store.getState().edit({ kind: "set-input", node: id, input, value });
              }}
            >
              {problem.repair.label}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
