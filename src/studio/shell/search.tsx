"use client";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { definitionOf } from "@/core/capsules/definitions";
import { flatten } from "@/core/capsules/flatten";
import { parseAddress } from "@/core/document/links";
import type { Link } from "@/core/document/schema";
import type { Family } from "@/core/nodes/define";
import { type Findable, foundUnder, matchOf } from "@/ui/word-match";
import { FamilyGlyph } from "../graph/cards/glyphs";
import { connectEdit, linksOffered } from "../graph/graph-edits";
import { type Action, keyText } from "../state/action";
import { chosenNode, useStudio, useStudioStore } from "../state/store";
import { goTo } from "../values/go-to";

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

interface Entry extends Findable {
  /** Unlike all others'. */
  readonly value: string;
  readonly glyph?: Family;
  /** At the right: keys, or where it is. */
  readonly aside?: string;
  readonly run: () => void;
}

interface Group {
  readonly heading: string;
  readonly entries: readonly Entry[];
}

/** Everything by name: actions, and the nodes of this piece. */
export function Search({ open, onClose, ...rest }: SearchProps) {
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 z-50 w-[520px] -translate-x-1/2 overflow-hidden rounded-6 border border-rule bg-panel shadow-2xl"
        >
          <Dialog.Title className="sr-only">Search everything</Dialog.Title>
          <Everything onClose={onClose} {...rest} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Everything({ begin, actions, onClose, onShowNode }: Omit<SearchProps, "open">) {
  const links = useLinks();
  const nodes = useNodes(onShowNode);
  const groups: readonly Group[] = [{ heading: "Do", entries: actions.map(actionEntry) }, links, nodes];
  const firstOf = (typed: string) => found(typed, groups)[0]?.entries[0]?.value ?? "";
  const [words, setWords] = useState(begin);
  const [current, setCurrent] = useState(() => firstOf(begin));
  return (
    // Found and sorted here: Enter must do what is best by the words typed last.
    <Command label="Search everything" shouldFilter={false} value={current} onValueChange={setCurrent} loop>
      <Command.Input
        autoFocus
        value={words}
        onValueChange={(typed) => {
          setWords(typed);
          setCurrent(firstOf(typed));
        }}
        placeholder="Find anything"
        className="h-11 w-full border-b border-rule bg-transparent px-4 text-16 outline-none placeholder:text-faint"
      />
      <Command.List className="max-h-[420px] overflow-auto p-1.5">
        <Command.Empty className="px-3 py-5 text-12 text-faint">
          Nothing is found under these words.
        </Command.Empty>
        {LINKING.test(words) && links.entries.length === 0 && (
          <p className="px-2 py-1 text-12 text-faint">Choose one node first; its links are listed here.</p>
        )}
        {found(words, groups).map(({ heading, entries }) => (
          <Command.Group key={heading} heading={heading} className={GROUP}>
            {entries.map(({ value, title, glyph, aside, run }) => (
              <Command.Item
                key={value}
                value={value}
                className={ITEM}
                onSelect={() => {
                  onClose();
                  run();
                }}
              >
                {glyph && <FamilyGlyph family={glyph} />}
                {title}
                {aside && <span className="tabular ml-auto truncate text-11 text-faint">{aside}</span>}
              </Command.Item>
            ))}
          </Command.Group>
        ))}
      </Command.List>
    </Command>
  );
}

const LINKING = /^(un)?link/i;

/** Groups with what is found in them, that with the best first; links only where they are asked for, as they are many. */
function found(words: string, groups: readonly Group[]): readonly Group[] {
  const best = ({ entries: [first] }: Group) => matchOf(words, first);
  return groups
    .filter(({ heading }) => heading !== LINKS || LINKING.test(words))
    .map(({ heading, entries }) => ({ heading, entries: foundUnder(words, entries, (entry) => entry) }))
    .filter(({ entries }) => entries.length > 0)
    .sort((a, b) => best(b) - best(a));
}

const actionEntry = ({ id, title, keys, run }: Action): Entry => ({
  value: `do ${id}`,
  title,
  aside: keys && keyText(keys),
  run,
});

/** Every node of the piece, those in capsules too, under the instance that leads to them. */
function useNodes(onShowNode: (node: string) => void): Group {
  const store = useStudioStore();
  const document = useStudio((s) => s.document);
  return useMemo(() => {
    const { graph, definitions, instances } = flatten(document);
    const own = document.graph.nodes.filter(({ id }) => instances.has(id));
    const entries = [...own, ...graph.nodes].map(({ id, type, set }): Entry => {
      const definition = definitions.get(id) ?? definitionOf(document, type);
      const texts = Object.values(set).filter((value) => typeof value === "string");
      return {
        value: `node ${id}`,
        title: definition?.title ?? type,
        synonyms: [id, ...texts],
        glyph: definition?.family,
        aside: id,
        run: () => {
          goTo(store, id);
          onShowNode(id);
        },
      };
    });
    return { heading: "Go to a node", entries };
  }, [document, store, onShowNode]);
}

const LINKS = "Links of the chosen node";

/** Links from and into the chosen node, to make or to take away: linking without a pointer. */
function useLinks(): Group {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const chosen = useStudio(chosenNode);
  return useMemo(() => {
    if (!chosen) return { heading: LINKS, entries: [] };
    const { edit } = store.getState();
    const entry = (title: string, run: () => void): Entry => ({ value: title, title, run });
    const ends = ({ from, to }: Link) => [parseAddress(from).node, parseAddress(to).node];
    const there = document.graph.links.filter((link) => ends(link).includes(chosen));
    const entries = [
      ...linksOffered(document, chosen).map((link) =>
        entry(`Link ${link.from} to ${link.to}`, () =>
          edit(connectEdit(store.getState().opened.document, link)),
        ),
      ),
      ...there.map((link) =>
        entry(`Unlink ${link.from} from ${link.to}`, () => edit({ kind: "remove", links: [link] })),
      ),
    ];
    return { heading: LINKS, entries };
  }, [document, chosen, store]);
}
