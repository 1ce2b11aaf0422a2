"use client";
import { X } from "lucide-react";
import { flatten } from "@/core/capsules/flatten";
import type { ForceSight } from "@/core/inspect/force-sights";
import type { Change } from "@/core/inspect/trace";
import { encodeSrgb } from "@/core/maths/color";
import { IconButton } from "@/ui/button";
import { shortNumber } from "../graph/cards/summary";
import { useStudio, useStudioStore } from "../state/store";
import { goTo } from "./go-to";

const ATTRIBUTES = ["position", "rotation", "scale", "color"] as const;
const WORDS: Readonly<Record<string, string>> = { color: "colour" };

/** Why the traced element is as it is: who changed its place, turn, size and colour, in order, and by how much. */
export function TracePanel() {
  const store = useStudioStore();
  const trace = useStudio((s) => s.trace);
  const picked = useStudio((s) => s.picked);
  const document = useStudio((s) => s.document);
  if (!trace || !picked) {
    return (
      <p className="p-3 text-12 text-faint">
        {picked
          ? "It is not there at this frame."
          : "Click a clone on the stage, or a row of the values: every card on its way then shows what it was there."}
      </p>
    );
  }
  const { definitions } = flatten(document);
  const { element, changes, count, forces } = trace;
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_220px] overflow-auto text-12">
      <div className="p-3">
        <p className="mb-2 flex items-center gap-2">
          <span className="font-semibold">
            Element {element.index} of {count}
          </span>
          <span className="tabular text-11 text-faint">id {element.id}</span>
          <IconButton
            label="Stop tracing"
            className="!h-5 !w-5"
            onClick={() => store.getState().set({ picked: null })}
          >
            <X size={12} />
          </IconButton>
        </p>
        <dl className="grid grid-cols-[64px_1fr] gap-y-1.5">
          {ATTRIBUTES.map((attribute) => (
            <div key={attribute} className="contents">
              <dt className="text-faint">{WORDS[attribute] ?? attribute}</dt>
              <dd>
                {changes.some((change) => change.attribute === attribute) ? (
                  <ol className="grid gap-0.5">
                    {changes
                      .filter((change) => change.attribute === attribute)
                      .map((change) => (
                        <li key={change.node} className="flex flex-wrap items-center gap-x-2">
                          <button
                            type="button"
                            className="rounded border border-rule bg-raised px-1.5 text-11 hover:border-accent"
                            title={change.node}
                            onClick={() => goTo(store, change.node)}
                          >
                            {definitions.get(change.node)?.title ?? change.node}
                          </button>
                          <Amount change={change} />
                          {change.overriddenBy && (
                            <span className="text-11 text-alert">
                              overridden by{" "}
                              {definitions.get(change.overriddenBy)?.title ?? change.overriddenBy}
                            </span>
                          )}
                        </li>
                      ))}
                  </ol>
                ) : (
                  <span className="text-11 text-faint">as it was made</span>
                )}
              </dd>
            </div>
          ))}
          {forces.length > 0 && <ForcesOn forces={forces} />}
        </dl>
      </div>
      <dl className="tabular grid h-fit grid-cols-[auto_1fr] gap-x-3 border-l border-dashed p-3 text-11">
        {Object.entries(element.attributes).map(([name, parts]) => (
          <div key={name} className="contents">
            <dt className="text-faint">{name}</dt>
            <dd className="text-right">{parts.map(shortNumber).join(", ")}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

/** Why a particle goes where it goes: what each force does to it. */
function ForcesOn({ forces }: { readonly forces: readonly ForceSight[] }) {
  const store = useStudioStore();
  return (
    <div className="contents">
      <dt className="text-faint">moved by</dt>
      <dd>
        <ol className="grid gap-0.5">
          {forces.map(({ node, title, push, flow }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: two may come from one node
            <li key={i} className="flex flex-wrap items-center gap-x-2">
              <button
                type="button"
                className="rounded border border-rule bg-raised px-1.5 text-11 hover:border-accent"
                title={node}
                disabled={node === ""}
                onClick={() => goTo(store, node)}
              >
                {title}
              </button>
              {push && <Pace values={push} unit="units a second²" />}
              {flow && <Pace values={flow} unit="units a second, carried along" />}
              {!push && !flow && <span className="text-11 text-faint">after the move</span>}
            </li>
          ))}
        </ol>
      </dd>
    </div>
  );
}

/** A vector of three digits, so that it fits into one line with its unit. */
function Pace({ values, unit }: { readonly values: readonly number[]; readonly unit: string }) {
  return (
    <span className="text-11">
      <span className="tabular">{values.map((value) => Number(value.toPrecision(3))).join(", ")}</span>{" "}
      <span className="text-faint">{unit}</span>
    </span>
  );
}

/** By how much a change is one, in the words of its attribute. */
function Amount({ change: { attribute, before, after } }: { change: Change }) {
  if (attribute === "color")
    return (
      <span className="flex items-center gap-1">
        <Swatch color={before} /> → <Swatch color={after} />
      </span>
    );
  const text =
    attribute === "rotation"
      ? `turned by ${shortNumber(angleBetween(before, after))}°`
      : attribute === "scale"
        ? `× ${before.map((b, i) => (b === 0 ? "–" : shortNumber(after[i] / b))).join(", ")}, now ${after.map(shortNumber).join(", ")}`
        : `by ${after.map((a, i) => shortNumber(a - before[i])).join(", ")}`;
  return <span className="tabular text-11">{text}</span>;
}

function Swatch({ color }: { color: readonly number[] }) {
  const byte = (c: number) => Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, c))));
  const text = `rgb(${byte(color[0])} ${byte(color[1])} ${byte(color[2])})`;
  return (
    <span
      role="img"
      aria-label={text}
      title={color.map(shortNumber).join(", ")}
      className="inline-block size-3.5 rounded border border-rule"
      style={{ background: text }}
    />
  );
}

/** Degrees between two unit quaternions. */
function angleBetween(a: readonly number[], b: readonly number[]): number {
  const dot = Math.abs(a.reduce((sum, part, i) => sum + part * b[i], 0));
  return (2 * Math.acos(Math.min(1, dot)) * 180) / Math.PI;
}
