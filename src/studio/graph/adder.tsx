"use client";
import { Command } from "cmdk";
import { Popover } from "radix-ui";
import { useState } from "react";
import { catalogue } from "@/core/nodes/catalogue";
import { type AnyNode, FAMILIES, FAMILY_TITLES } from "@/core/nodes/define";
import { useStudio, useStudioStore } from "../state/store";
import { FamilyGlyph } from "./glyphs";
import { addNodeEdit, fittingPort } from "./graph-edits";

/** Finds a node to add by title, need or synonym; opened at the pointer, filtered to what fits an open link. */
export function Adder({
  toFlow,
}: {
  toFlow: (screen: readonly [number, number]) => { x: number; y: number };
}) {
  const store = useStudioStore();
  const request = useStudio((s) => s.adder);
  const document = useStudio((s) => (s.adder ? s.document : null));
  const [current, setCurrent] = useState("");
  if (!request || !document) return null;
  const close = () => store.getState().set({ adder: null });
  const { link } = request;
  const fitting = [...catalogue.values()].filter(
    (node) => !link || fittingPort(document, node, link) !== undefined,
  );
  const add = (node: AnyNode) => {
    const { x, y } = toFlow(request.screen);
    const offset = link ? (link.end === "from" ? 0 : -224) : -112;
    const added = addNodeEdit(store.getState().document, node.type, [x + offset, y - 20], link);
    store.getState().edit(added.edit);
    store.getState().select([added.id]);
    close();
  };
  const shown = catalogue.get(current);
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
          <Command label="Add a node" value={current} onValueChange={setCurrent} filter={match} loop>
            <Command.Input
              autoFocus
              placeholder={link ? "What should it be linked with?" : "What should happen?"}
              className="h-9 w-full border-b border-rule bg-transparent px-3 text-13 outline-none placeholder:text-faint"
            />
            <Command.List className="max-h-[300px] overflow-auto p-1">
              <Command.Empty className="px-3 py-4 text-12 text-faint">
                No node is found under these words.
              </Command.Empty>
              {FAMILIES.map((family) => {
                const nodes = fitting.filter((node) => node.family === family);
                if (nodes.length === 0) return null;
                return (
                  <Command.Group
                    key={family}
                    heading={FAMILY_TITLES[family]}
                    className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-0.5 [&_[cmdk-group-heading]]:text-11 [&_[cmdk-group-heading]]:text-faint"
                  >
                    {nodes.map((node) => (
                      <Command.Item
                        key={node.type}
                        value={node.type}
                        keywords={[node.title, ...node.synonyms, node.about]}
                        onSelect={() => add(node)}
                        className="flex h-7 cursor-default items-center gap-2 rounded px-2 text-13 data-[selected=true]:bg-raised"
                      >
                        <FamilyGlyph family={node.family} />
                        {node.title}
                      </Command.Item>
                    ))}
                  </Command.Group>
                );
              })}
            </Command.List>
          </Command>
          <p className="min-h-[42px] border-t border-rule px-3 py-2 text-11 text-faint leading-4">
            {shown?.about}
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** Every typed word must be found; title beats synonym beats meaning, beginnings beat middles. */
function match(_value: string, search: string, keywords: string[] = []): number {
  const [title, ...rest] = keywords.map((word) => word.toLowerCase());
  const about = rest.pop() ?? "";
  let score = 1;
  for (const word of search.toLowerCase().split(/\s+/).filter(Boolean)) {
    const found = Math.max(
      title.startsWith(word) ? 1 : title.includes(word) ? 0.8 : 0,
      ...rest.map((synonym) => (synonym.startsWith(word) ? 0.7 : synonym.includes(word) ? 0.5 : 0)),
      about.toLowerCase().includes(word) ? 0.2 : 0,
    );
    if (found === 0) return 0;
    score *= found;
  }
  return score;
}
