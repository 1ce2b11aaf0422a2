"use client";
import { ArrowDown, ArrowUp } from "lucide-react";
import { definitionOf } from "@/core/capsules/definitions";
import { indexGraph, joinAddress, parseAddress } from "@/core/document/links";
import { IconButton } from "@/ui/button";
import { swapLinksEdit } from "../graph/links/link-edits";
import { useStudio, useStudioStore } from "../state/store";

/** What is linked to an input that takes several, in the order in which it counts. */
export function LinksInOrder({
  node,
  name,
  label,
}: {
  readonly node: string;
  readonly name: string;
  readonly label: string;
}) {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const links = document.graph.links.filter(({ to }) => to === joinAddress(node, name));
  if (links.length < 2) return null;
  const { nodes } = indexGraph(document.graph);
  const swap = (i: number, j: number) => store.getState().edit(swapLinksEdit(document, links[i], links[j]));
  return (
    <section aria-label={`${label} in order`} className="mt-2">
      <h3 className="mb-0.5 text-12">{label} in order</h3>
      <ol className="rounded border border-rule">
        {links.map((link, i) => {
          const from = parseAddress(link.from).node;
          const title = definitionOf(document, nodes.get(from)?.type ?? "")?.title ?? from;
          const isPassed = nodes.get(from)?.bypass === true;
          return (
            <li
              key={link.from}
              className="flex h-7 items-center gap-1 border-rule border-t px-1.5 text-12 first:border-t-0"
            >
              <span className="tabular w-4 text-faint">{i + 1}</span>
              <button
                type="button"
                className="min-w-0 flex-1 truncate text-left hover:text-accent"
                title="Go to the node"
                onClick={() => {
                  store.getState().select([from]);
                  store.getState().graphView?.show([from]);
                }}
              >
                {title} <span className="text-11 text-faint">{isPassed ? "passed by" : from}</span>
              </button>
              <IconButton
                label={`${title} earlier`}
                className="!h-5 !w-5"
                disabled={i === 0}
                onClick={() => swap(i - 1, i)}
              >
                <ArrowUp size={12} />
              </IconButton>
              <IconButton
                label={`${title} later`}
                className="!h-5 !w-5"
                disabled={i === links.length - 1}
                onClick={() => swap(i, i + 1)}
              >
                <ArrowDown size={12} />
              </IconButton>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
