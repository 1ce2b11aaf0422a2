"use client";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useEffect, useMemo, useState } from "react";
import { definitionOf } from "@/core/capsules/definitions";
import { flatten } from "@/core/capsules/flatten";
import { parseAddress } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import type { Family } from "@/core/nodes/define";
import { FamilyGlyph } from "../graph/glyphs";
import { connectEdit, linksOffered } from "../graph/graph-edits";
import { useStudio, useStudioStore } from "../state/store";
import { goTo } from "../values/go-to";
import type { Action } from "./actions";

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-11 [&_[cmdk-group-heading]]:text-faint";
const ITEM = "flex h-8 cursor-default items-center gap-2 rounded px-2 text-13 data-[selected=true]:bg-raised";

interface SearchProps {
  readonly open: boolean;
  /** What the field holds when it opens. */
  readonly begin: string;
  readonly actions: readonly Action[];
  readonly onClose: () => void;
  readonly onShowNode: (node: string) => void;
}

/** Everything by name: actions, and the nodes of this piece. */
export function Search({ open, begin, actions, onClose, onShowNode }: SearchProps) {
  const store = useStudioStore();
  const document = useStudio((s) => s.document);
  const places = useMemo(() => (open ? placesIn(document) : []), [document, open]);
  const [words, setWords] = useState(begin);
  useEffect(() => {
    if (open) setWords(begin);
  }, [open, begin]);
  const done = (run: () => void) => () => {
    onClose();
    run();
  };
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[520px] -translate-x-1/2 overflow-hidden rounded-6 border border-rule bg-panel shadow-2xl"
        >
          <Dialog.Title className="sr-only">Search everything</Dialog.Title>
          <Command label="Search everything" loop>
            <Command.Input
              autoFocus
              value={words}
              onValueChange={setWords}
              placeholder="Find anything"
              className="h-11 w-full border-b border-rule bg-transparent px-4 text-16 outline-none placeholder:text-faint"
            />
            <Command.List className="max-h-[420px] overflow-auto p-1.5">
              <Command.Empty className="px-3 py-5 text-12 text-faint">
                Nothing is found under these words.
              </Command.Empty>
              <Command.Group heading="Do" className={GROUP}>
                {actions.map((action) => (
                  <Command.Item
                    key={action.id}
                    value={action.title}
                    onSelect={done(action.run)}
                    className={ITEM}
                  >
                    {action.title}
                    {action.keys && (
                      <kbd className="tabular ml-auto text-11 text-faint">{keyText(action.keys)}</kbd>
                    )}
                  </Command.Item>
                ))}
              </Command.Group>
              {/^(un)?link/i.test(words) && <LinkGroup done={done} />}
              <Command.Group heading="Go to a node" className={GROUP}>
                {places.map(({ way, title, family, words: more }) => (
                  <Command.Item
                    key={way}
                    value={`${title} ${way} ${more}`}
                    className={ITEM}
                    onSelect={done(() => {
                      goTo(store, way);
                      onShowNode(way);
                    })}
                  >
                    {family && <FamilyGlyph family={family} />}
                    {title}
                    <span className="tabular ml-auto truncate text-11 text-faint">{way}</span>
                  </Command.Item>
                ))}
              </Command.Group>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

interface Place {
  readonly way: string;
  readonly title: string;
  readonly family: Family | undefined;
  /** What it is also found under: texts, choices and attributes that it names. */
  readonly words: string;
}

/** Every node of the piece, those in capsules too, under the instance that leads to them. */
function placesIn(document: PieceDocument): Place[] {
  const { graph, definitions, instances } = flatten(document);
  const own = document.graph.nodes.filter(({ id }) => instances.has(id));
  return [...own, ...graph.nodes].map(({ id, type, set }) => {
    const definition = definitions.get(id) ?? definitionOf(document, type);
    const words = Object.values(set).filter((value) => typeof value === "string");
    return { way: id, title: definition?.title ?? type, family: definition?.family, words: words.join(" ") };
  });
}

/** Links from and into the chosen node, to make or to take away: linking without a pointer. */
function LinkGroup({ done }: { done: (run: () => void) => () => void }) {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const chosen = useStudio((s) => (s.selected.size === 1 ? [...s.selected][0] : null));
  const { offered, there } = useMemo(() => {
    if (!chosen) return { offered: [], there: [] };
    const ends = ({ from, to }: Link) => [parseAddress(from).node, parseAddress(to).node];
    return {
      offered: linksOffered(document, chosen),
      there: document.graph.links.filter((link) => ends(link).includes(chosen)),
    };
  }, [document, chosen]);
  if (!chosen) return <p className="px-2 py-1 text-12 text-faint">Choose one node first.</p>;
  const item = (title: string, run: () => void) => (
    <Command.Item key={title} value={title} className={ITEM} onSelect={done(run)}>
      <span className="tabular text-12">{title}</span>
    </Command.Item>
  );
  return (
    <Command.Group heading={`Links of ${chosen}`} className={GROUP}>
      {offered.map((link) =>
        item(`Link ${link.from} to ${link.to}`, () =>
          store.getState().edit(connectEdit(store.getState().opened.document, link)),
        ),
      )}
      {there.map((link) =>
        item(`Unlink ${link.from} from ${link.to}`, () =>
          store.getState().edit({ kind: "remove", links: [link] }),
        ),
      )}
    </Command.Group>
  );
}

export const keyText = (keys: string): string =>
  keys.replace("Mod", "Ctrl").replace("ArrowRight", "→").replace("ArrowLeft", "←").replaceAll("+", " ");
