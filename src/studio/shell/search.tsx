"use client";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { catalogue } from "@/core/nodes/catalogue";
import { FamilyGlyph } from "../graph/glyphs";
import { useStudio, useStudioStore } from "../state/store";
import type { Action } from "./actions";

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-11 [&_[cmdk-group-heading]]:text-faint";
const ITEM = "flex h-8 cursor-default items-center gap-2 rounded px-2 text-13 data-[selected=true]:bg-raised";

interface SearchProps {
  readonly open: boolean;
  readonly actions: readonly Action[];
  readonly onClose: () => void;
  readonly onShowNode: (node: string) => void;
}

/** Everything by name: actions, and the nodes of this piece. */
export function Search({ open, actions, onClose, onShowNode }: SearchProps) {
  const store = useStudioStore();
  const nodes = useStudio((s) => s.document.graph.nodes);
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
              <Command.Group heading="Go to a node" className={GROUP}>
                {nodes.map((node) => {
                  const definition = catalogue.get(node.type);
                  return (
                    <Command.Item
                      key={node.id}
                      value={`${definition?.title ?? node.type} ${node.id}`}
                      className={ITEM}
                      onSelect={done(() => {
                        store.getState().select([node.id]);
                        onShowNode(node.id);
                      })}
                    >
                      {definition && <FamilyGlyph family={definition.family} />}
                      {definition?.title ?? node.type}
                      <span className="tabular ml-auto text-11 text-faint">{node.id}</span>
                    </Command.Item>
                  );
                })}
              </Command.Group>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export const keyText = (keys: string): string =>
  keys.replace("Mod", "Ctrl").replace("ArrowRight", "→").replace("ArrowLeft", "←").replaceAll("+", " ");
