"use client";
import { Command } from "cmdk";
import { Sprout } from "lucide-react";
import { Popover } from "radix-ui";
import { useMemo, useState } from "react";
import type { AnyNode } from "@/core/nodes/define";
import { FAMILIES, FAMILY_TITLES } from "@/core/nodes/define";
import { Button } from "@/ui/button";
import { insertFromLibrary } from "../../library/library-client";
import { chosenNode, useStudio, useStudioStore } from "../../state/store";
import type { AdderRequest } from "../../state/view-state";
import { freeBelow } from "../cards/card-places";
import { CARD_WIDTH, usualSize } from "../cards/card-size";
import { FamilyGlyph } from "../cards/glyphs";
import { NodePicture } from "../cards/node-picture";
import { addBetweenEdit, addNodeEdit } from "../graph-edits";
import { guardedEdit } from "../guarded-edit";
import type { Box } from "../opening-view";
import { addLinked } from "./add-linked";
import { type Choice, choicesFor, nextOf } from "./adder-choices";
import { ExampleDialog } from "./example-dialog";
import { firstSettings } from "./first-settings";
import { findNeeds } from "./needs";
import { insertRecipe } from "./put-recipe";
import { noteUsed, usedLast } from "./used-last";

/** Finds what to add by a need in plain words; opened at the pointer, filtered to what fits an open link. */
export function Adder(props: AdderProps) {
  const request = useStudio((s) => s.adder);
  return request && <OpenAdder key={request.screen.join()} request={request} {...props} />;
}

interface AdderProps {
  readonly toFlow: (screen: readonly [number, number]) => { x: number; y: number };
  /** Where all cards lie. */
  readonly boxes: () => ReadonlyMap<string, Box>;
  readonly onAdded: (node: string) => void;
}

/** Something in the list, with the name or need of it that fits what was typed. */
interface Line {
  readonly value: string;
  readonly choice: Choice;
  readonly why?: string;
}

interface Section {
  readonly heading: string;
  /** Under a heading that folds: whether it is open, and how many there are. */
  readonly fold?: { readonly open: boolean; readonly count: number };
  readonly lines: readonly Line[];
}

function OpenAdder({ request, toFlow, boxes, onAdded }: AdderProps & { readonly request: AdderRequest }) {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const chosen = useStudio(chosenNode);
  const library = useStudio((s) => s.library);
  const recipes = useStudio((s) => s.recipes);
  const [words, setWords] = useState(request.words ?? "");
  const [example, setExample] = useState<AnyNode | null>(null);
  const [current, setCurrent] = useState("");
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const close = () => store.getState().set({ adder: null });
  const { link, into } = request;
  const choices = useMemo(
    () => choicesFor(document, library, recipes, { link, into }),
    [document, library, recipes, link, into],
  );
  const typed = words.trim() !== "";
  const results = useMemo(
    (): readonly Line[] =>
      words.trim() === ""
        ? []
        : findNeeds(words, choices).map(({ thing, why }) => ({ value: thing.id, choice: thing, why })),
    [words, choices],
  );
  const sections: readonly Section[] =
    results.length > 0
      ? [{ heading: "", lines: results }]
      : sectionsOf(choices, nextOf(document, choices, { link, chosen }), link !== undefined, unfolded);
  const lines = sections.flatMap((section) => section.lines);
  // Enter must add what is best by the words typed last, until another one is pointed at.
  const value = current === "" ? (results[0]?.value ?? "") : current;
  const now = lines.find((line) => line.value === value)?.choice;
  const fold = (heading: string) => {
    const next = new Set(unfolded);
    if (!next.delete(heading)) next.add(heading);
    setUnfolded(next);
  };
  const add = (choice: Choice) => {
    const { x, y } = toFlow(request.screen);
    close();
    noteUsed(choice.id);
    if (choice.kind === "library") {
      void insertFromLibrary(store, choice.library, [x, y], boxes());
      return;
    }
    if (choice.kind === "recipe") {
      const last = insertRecipe(store, choice.recipe, boxes(), [x, y], link?.address);
      if (last) onAdded(last);
      return;
    }
    const { node } = choice;
    const { document } = store.getState().opened;
    const between = link && into ? { from: link.address, to: into } : null;
    const offset = between
      ? -CARD_WIDTH - 60
      : link
        ? link.end === "from"
          ? 0
          : -CARD_WIDTH
        : -CARD_WIDTH / 2;
    const free = freeBelow(
      { x: x + offset, y: y - 20, ...usualSize(node, firstSettings(document, node.type)) },
      [...boxes().values()],
    );
    const at = [free.x, free.y] as const;
    const added = between
      ? addBetweenEdit(document, node.type, at, between)
      : addNodeEdit(document, node.type, at, link);
    if (!added) return;
    if (!link) {
      if (addLinked(store, added.edit, added.id, boxes(), at)) onAdded(added.id);
    } else if (guardedEdit(store, added.edit)) {
      store.getState().select([added.id]);
    }
  };
  return (
    <Popover.Root open onOpenChange={(open) => !open && !example && close()}>
      <Popover.Anchor style={{ position: "fixed", left: request.screen[0], top: request.screen[1] }} />
      <Popover.Portal>
        <Popover.Content
          role="dialog"
          aria-label="Add a node"
          align="start"
          sideOffset={4}
          collisionPadding={12}
          className="z-50 w-[400px] overflow-hidden rounded-6 border border-rule bg-panel shadow-2xl"
        >
          <Command label="Add a node" shouldFilter={false} value={value} onValueChange={setCurrent} loop>
            <Command.Input
              autoFocus
              value={words}
              onValueChange={(typed) => {
                setWords(typed);
                setCurrent("");
              }}
              placeholder={
                into
                  ? "The kinds differ: what turns one into the other?"
                  : link
                    ? "What should it be linked with?"
                    : "What should happen?"
              }
              className="h-9 w-full border-b border-rule bg-transparent px-3 text-13 outline-none placeholder:text-faint"
            />
            <Command.List className="max-h-[320px] overflow-auto p-1">
              {typed && results.length === 0 && (
                <p className="px-2 py-1.5 text-12 text-faint" role="status">
                  None of these words is known here. Perhaps it is among these:
                </p>
              )}
              {sections.map((section) => (
                <Group key={section.heading} section={section} onAdd={add} onFold={fold} />
              ))}
            </Command.List>
          </Command>
          <div className="flex min-h-[66px] items-center gap-3 border-t border-rule px-3 py-2">
            {now?.kind === "node" && <NodePicture node={now.node} />}
            <p className="flex-1 text-11 text-faint leading-4">{now?.about}</p>
            {now?.kind === "node" && (
              <Button className="!h-6 text-12" onClick={() => setExample(now.node)}>
                Example
              </Button>
            )}
          </div>
        </Popover.Content>
      </Popover.Portal>
      {example && <ExampleDialog node={example} onClose={close} />}
    </Popover.Root>
  );
}

/** What is offered before anything is typed: what comes next, what was used last, then families, folded unless few fit. */
function sectionsOf(
  choices: readonly Choice[],
  next: readonly Choice[],
  all: boolean,
  unfolded: ReadonlySet<string>,
): readonly Section[] {
  const lines = (list: readonly Choice[], heading: string): Line[] =>
    list.map((choice) => ({ value: `${heading} ${choice.id}`, choice }));
  const used = usedLast().flatMap((id) => choices.find((choice) => choice.id === id) ?? []);
  const short = [
    { heading: "Often put here", lines: lines(next, "next") },
    { heading: "Used last", lines: lines(used, "used") },
  ].filter((section) => section.lines.length > 0);
  const families = (["recipe", ...FAMILIES] as const).flatMap((family): Section[] => {
    const own = choices.filter((choice) => choice.family === family);
    if (own.length === 0) return [];
    const heading = family === "recipe" ? "Recipes" : FAMILY_TITLES[family];
    const open = all || unfolded.has(heading);
    return [
      {
        heading,
        fold: { open, count: own.length },
        lines: open ? own.map((choice) => ({ value: choice.id, choice })) : [],
      },
    ];
  });
  return [...short, ...families];
}

const ITEM = "flex h-7 cursor-default items-center gap-2 rounded px-2 text-13 data-[selected=true]:bg-raised";

interface GroupProps {
  readonly section: Section;
  readonly onAdd: (choice: Choice) => void;
  readonly onFold: (heading: string) => void;
}

function Group({ section: { heading, fold, lines }, onAdd, onFold }: GroupProps) {
  return (
    <>
      {fold && (
        <Command.Item
          value={`fold ${heading}`}
          onSelect={() => onFold(heading)}
          className={`${ITEM} text-12`}
        >
          <span aria-hidden="true" className="w-3 text-faint">
            {fold.open ? "−" : "+"}
          </span>
          {heading}
          <span className="tabular ml-auto text-11 text-faint">{fold.count}</span>
        </Command.Item>
      )}
      {!fold && heading !== "" && <p className="px-2 pt-1.5 pb-0.5 text-11 text-faint">{heading}</p>}
      {lines.map(({ value, choice, why }) => (
        <Command.Item key={value} value={value} onSelect={() => onAdd(choice)} className={ITEM}>
          <span className="grid w-4 shrink-0 place-content-center">
            {choice.family === "recipe" ? (
              <Sprout size={14} className="text-good" />
            ) : (
              <FamilyGlyph family={choice.family} />
            )}
          </span>
          <span className="shrink-0">{choice.title}</span>
          {why && <span className="ml-auto truncate pl-3 text-11 text-faint">{why}</span>}
        </Command.Item>
      ))}
    </>
  );
}
