"use client";
import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { useState } from "react";
import { capsuleType, definitionOf } from "@/core/capsules/definitions";
import { catalogue } from "@/core/nodes/catalogue";
import { type AnyNode, FAMILIES, FAMILY_TITLES } from "@/core/nodes/define";
import { foundUnder } from "@/ui/word-match";
import { insertFromLibrary } from "../library/library-client";
import { type AdderRequest, useStudio, useStudioStore } from "../state/store";
import { CARD_WIDTH } from "./card";
import { FamilyGlyph } from "./glyphs";
import { addBetweenEdit, addNodeEdit, converting, fittingPort } from "./graph-edits";
import { guardedEdit } from "./guarded-edit";
import { NodePicture } from "./node-picture";

/** Finds a node to add by title, need or synonym; opened at the pointer, filtered to what fits an open link. */
export function Adder({
  toFlow,
}: {
  toFlow: (screen: readonly [number, number]) => { x: number; y: number };
}) {
  const request = useStudio((s) => s.adder);
  return request && <OpenAdder key={request.screen.join()} request={request} toFlow={toFlow} />;
}

interface OpenAdderProps {
  readonly request: AdderRequest;
  readonly toFlow: (screen: readonly [number, number]) => { x: number; y: number };
}

function OpenAdder({ request, toFlow }: OpenAdderProps) {
  const store = useStudioStore();
  const document = useStudio((s) => s.opened.document);
  const library = useStudio((s) => s.library);
  const [words, setWords] = useState("");
  const [current, setCurrent] = useState("");
  const close = () => store.getState().set({ adder: null });
  const { link, into } = request;
  const find = (wanted: string) => {
    const own = Object.keys(document.capsules).flatMap(
      (name) => definitionOf(document, capsuleType("capsule", name)) ?? [],
    );
    const fitting = [...catalogue.values(), ...own].filter(
      (node) =>
        !link ||
        (into
          ? converting(document, node, { from: link.address, to: into }) !== null
          : fittingPort(document, node, link) !== undefined),
    );
    return foundUnder(wanted, fitting, (node) => node);
  };
  const found = find(words);
  const now = found.find(({ type }) => type === current);
  // What comes from the library has ports only when it is here: it is not offered for an open link.
  const shelf = link
    ? []
    : foundUnder(
        words,
        library.filter(({ id }) => !Object.values(document.capsules).some((c) => c.library?.id === id)),
        ({ title, about }) => ({ title, about, synonyms: ["capsule", "library"] }),
      );
  const add = (node: AnyNode) => {
    const { x, y } = toFlow(request.screen);
    const offset = link ? (link.end === "from" ? 0 : -CARD_WIDTH) : -CARD_WIDTH / 2;
    const { document } = store.getState().opened;
    const between = link && into ? { from: link.address, to: into } : null;
    const added = between
      ? addBetweenEdit(document, node.type, [x - CARD_WIDTH - 60, y - 20], between)
      : addNodeEdit(document, node.type, [x + offset, y - 20], link);
    if (added && guardedEdit(store, added.edit)) store.getState().select([added.id]);
    close();
  };
  return (
    <Popover.Root open onOpenChange={(open) => !open && close()}>
      <Popover.Anchor style={{ position: "fixed", left: request.screen[0], top: request.screen[1] }} />
      <Popover.Portal>
        <Popover.Content
          role="dialog"
          aria-label="Add a node"
          align="start"
          sideOffset={4}
          collisionPadding={12}
          className="z-50 w-[330px] overflow-hidden rounded-6 border border-rule bg-panel shadow-2xl"
        >
          {/* Found and sorted here: Enter must add what is best by the words typed last. */}
          <Command label="Add a node" shouldFilter={false} value={current} onValueChange={setCurrent} loop>
            <Command.Input
              autoFocus
              value={words}
              onValueChange={(typed) => {
                setWords(typed);
                setCurrent(find(typed)[0]?.type ?? "");
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
            <Command.List className="max-h-[300px] overflow-auto p-1">
              <Command.Empty className="px-3 py-4 text-12 text-faint">
                No node is found under these words.
              </Command.Empty>
              {words.trim() === ""
                ? FAMILIES.map((family) => (
                    <Family
                      key={family}
                      family={family}
                      nodes={found.filter((node) => node.family === family)}
                      onAdd={add}
                    />
                  ))
                : found.map((node) => <Choice key={node.type} node={node} onAdd={add} />)}
              {shelf.length > 0 && (
                <Command.Group heading="From the library" className={GROUP}>
                  {shelf.map(({ id, title }) => (
                    <Command.Item
                      key={id}
                      value={`library ${id}`}
                      onSelect={() => {
                        const { x, y } = toFlow(request.screen);
                        close();
                        void insertFromLibrary(store, id, [x, y]);
                      }}
                      className={ITEM}
                    >
                      <FamilyGlyph family="capsule" />
                      {title}
                    </Command.Item>
                  ))}
                </Command.Group>
              )}
            </Command.List>
          </Command>
          <div className="flex min-h-[66px] items-center gap-3 border-t border-rule px-3 py-2">
            {now && <NodePicture node={now} />}
            <p className="flex-1 text-11 text-faint leading-4">
              {now?.about ?? library.find(({ id }) => current === `library ${id}`)?.about}
            </p>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:text-11 [&_[cmdk-group-heading]]:text-faint";
const ITEM = "flex h-7 cursor-default items-center gap-2 rounded px-2 text-13 data-[selected=true]:bg-raised";

interface FamilyProps {
  readonly family: (typeof FAMILIES)[number];
  readonly nodes: readonly AnyNode[];
  readonly onAdd: (node: AnyNode) => void;
}

function Family({ family, nodes, onAdd }: FamilyProps) {
  if (nodes.length === 0) return null;
  return (
    <Command.Group heading={FAMILY_TITLES[family]} className={GROUP}>
      {nodes.map((node) => (
        <Choice key={node.type} node={node} onAdd={onAdd} />
      ))}
    </Command.Group>
  );
}

const Choice = ({ node, onAdd }: { node: AnyNode; onAdd: (node: AnyNode) => void }) => (
  <Command.Item value={node.type} onSelect={() => onAdd(node)} className={ITEM}>
    <FamilyGlyph family={node.family} />
    {node.title}
  </Command.Item>
);
