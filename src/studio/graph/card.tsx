"use client";
import type { NodeProps } from "@xyflow/react";
import clsx from "clsx";
import { AppWindow } from "lucide-react";
import { type CSSProperties, memo } from "react";
import type { NodeReport } from "@/core/evaluate/report";
import { settingsAt } from "@/core/keys/track";
import type { AnyNode } from "@/core/nodes/define";
import { definitionOfNode, nodeOf, reportOf, useKeyedFrame, useStudio } from "../state/store";
import { CardBody } from "./card-body";
import { CARD_WIDTH } from "./card-size";
import { FamilyGlyph } from "./glyphs";
import { Problems } from "./problems";
import { msText, shareOfTime, tallyText } from "./summary";

/** A node as a packet: flap, inputs, outputs; torn below when it failed. */
export const Card = memo(function Card({ id, selected }: NodeProps) {
  const node = useStudio((s) => nodeOf(s, id));
  const definition = useStudio((s) => definitionOfNode(s, id));
  const report = useStudio((s) => reportOf(s, id));
  const frame = useKeyedFrame(node?.keys);
  if (!node) return null;
  const failed = report?.state === "failed";
  return (
    <div style={{ width: CARD_WIDTH }} data-node={id} data-state={report?.state}>
      <div
        className={clsx("packet-outline", report?.state === "unused" && "packet-unused")}
        data-edge={failed ? "failed" : selected ? "chosen" : undefined}
      >
        <div className={clsx("packet-inner", failed && "packet-torn")}>
          <Flap
            id={id}
            title={definition?.title ?? node.type}
            definition={definition}
            report={report}
            bypassed={node.bypass === true}
          />
          {definition ? (
            <CardBody
              id={id}
              set={settingsAt(node, definition, frame)}
              definition={definition}
              report={report}
            />
          ) : (
            <p className="px-3 py-2 text-12 text-faint">Kept as it is.</p>
          )}
        </div>
      </div>
      <Problems id={id} problems={[...(report?.problems ?? []), ...(report?.hints ?? [])]} />
    </div>
  );
});

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
        "packet-flap flex items-start gap-2 border-b border-dashed py-1.5 pr-2 pl-5",
        bypassed && "flap-folded",
      )}
      style={heat === null ? undefined : ({ "--flap": heatColor(heat) } as CSSProperties)}
      title={`${id}: ${report?.why ?? "not worked out yet"}`}
    >
      <span className="mt-px">{definition && <FamilyGlyph family={definition.family} />}</span>
      <span className="min-w-0 flex-1 truncate font-display text-13 font-semibold">
        {title}
        {peeked && <AppWindow size={12} aria-label="peeked at" className="ml-1 inline text-accent" />}
        {bypassed && <span className="ml-1 font-normal text-11 text-faint">passed by</span>}
      </span>
      <span className="tabular text-right text-[10px] text-faint leading-[13px]">
        {tallyText(report, main)}
        <br />
        {report && report.state !== "unused" ? msText(report.ms) : ""}
        {heat !== null && heat > 0.005 ? ` · ${Math.round(heat * 100)} %` : ""}
      </span>
    </div>
  );
}
