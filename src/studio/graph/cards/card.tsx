"use client";
import type { NodeProps } from "@xyflow/react";
import clsx from "clsx";
import { AppWindow } from "lucide-react";
import { type CSSProperties, memo } from "react";
import type { NodeReport } from "@/core/evaluate/report";
import type { AnyNode } from "@/core/nodes/define";
import { definitionOfNode, nodeOf, reportOf, useStudio } from "../../state/store";
import { CardBody } from "./card-body";
import { CARD_WIDTH, FLAP, LEAST_HEIGHT } from "./card-size";
import { FamilyGlyph } from "./glyphs";
import { Problems, problemsOf } from "./problems";
import { msText, shareOfTime, tallyText } from "./summary";

/** A node as a packet: flap, inputs, outputs; torn below when it failed. From afar only its title and how it is. */
export const Card = memo(function Card({ id, selected }: NodeProps) {
  const node = useStudio((s) => nodeOf(s, id));
  const definition = useStudio((s) => definitionOfNode(s, id));
  const report = useStudio((s) => reportOf(s, id));
  const spoken = useStudio((s) => s.spokenOf.has(id));
  if (!node) return null;
  const failed = report?.state === "failed";
  const title = definition?.title ?? node.type;
  const problems = problemsOf(report);
  return (
    <div className="relative" style={{ width: CARD_WIDTH }} data-node={id} data-state={report?.state}>
      <div
        className={clsx("packet-outline", report?.state === "unused" && "packet-unused")}
        data-edge={failed ? "failed" : selected ? "chosen" : spoken ? "spoken" : undefined}
      >
        <div
          className={clsx("packet-inner", failed && "packet-torn")}
          style={{ minHeight: LEAST_HEIGHT - 2 }}
        >
          <div className="card-parts">
            <Flap
              id={id}
              title={title}
              definition={definition}
              report={report}
              bypassed={node.bypass === true}
            />
            {definition ? (
              <CardBody id={id} node={node} definition={definition} report={report} />
            ) : (
              <p className="px-3 py-2 text-12 text-faint">Kept as it is.</p>
            )}
          </div>
          <Afar
            title={title}
            definition={definition}
            report={report}
            bypassed={node.bypass === true}
            warned={problems.some(({ level }) => level !== "note")}
          />
        </div>
      </div>
      <Problems id={id} problems={problems} chosen={selected} />
    </div>
  );
});

interface AfarProps {
  readonly title: string;
  readonly definition: AnyNode | undefined;
  readonly report: NodeReport | undefined;
  readonly bypassed: boolean;
  readonly warned: boolean;
}

/** What is told of a card in place of its parts when it is looked at from afar. */
function Afar({ title, definition, report, bypassed, warned }: AfarProps) {
  const main = definition && Object.keys(definition.outputs)[0];
  return (
    <div className={clsx("card-afar", bypassed && "opacity-50")} aria-hidden="true" data-warned={warned}>
      <span className="card-afar-glyph">{definition && <FamilyGlyph family={definition.family} />}</span>
      <span className="card-afar-title">{title}</span>
      <span className="card-afar-tally tabular">{bypassed ? "passed by" : tallyText(report, main)}</span>
    </div>
  );
}

/** From the flap's own colour to coral; the share is written beside it. */
const heatColor = (share: number): string =>
  `color-mix(in srgb, var(--alert) ${Math.round(Math.sqrt(share) * 70)}%, var(--raised))`;

interface FlapProps {
  readonly id: string;
  readonly title: string;
  readonly definition: AnyNode | undefined;
  readonly report: NodeReport | undefined;
  readonly bypassed: boolean;
}

function Flap({ id, title, definition, report, bypassed }: FlapProps) {
  const main = definition && Object.keys(definition.outputs)[0];
  const heat = useStudio((s) => (s.heat && s.report ? shareOfTime(s.report, report) : null));
  const peeked = useStudio((s) => s.peek?.node === s.opened.prefix + id);
  return (
    <div
      className={clsx(
        "packet-flap flex items-center gap-2 border-b border-dashed pr-2 pl-5",
        bypassed && "flap-folded",
      )}
      style={{ height: FLAP, ...(heat === null ? {} : { "--flap": heatColor(heat) }) } as CSSProperties}
      title={`${id}: ${report?.why ?? "not worked out yet"}`}
    >
      {definition && <FamilyGlyph family={definition.family} />}
      <span className="card-title min-w-0 flex-1 truncate font-display font-semibold">
        {title}
        {peeked && <AppWindow size={12} aria-label="peeked at" className="ml-1 inline text-accent" />}
        {bypassed && <span className="card-word ml-1 font-normal text-faint">passed by</span>}
      </span>
      <span className="card-word tabular text-right text-faint leading-none">
        {tallyText(report, main)}
        <br />
        {report && report.state !== "unused" ? msText(report.ms) : ""}
        {heat !== null && heat > 0.005 ? ` · ${Math.round(heat * 100)} %` : ""}
      </span>
    </div>
  );
}
