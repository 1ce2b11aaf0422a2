"use client";
import { ContextMenu } from "radix-ui";
import { type ReactNode, useContext } from "react";
import { Actions, keyText } from "../state/action";

export const MENU =
  "z-50 max-h-[min(640px,90dvh)] min-w-44 overflow-auto rounded-6 border border-rule bg-raised p-1 shadow-xl";
const ITEM =
  "flex h-6 cursor-default items-center gap-2 rounded px-2 text-12 outline-none data-[disabled]:text-faint/60 data-[highlighted]:bg-rule";

interface ItemProps {
  readonly title: string;
  readonly run: () => void;
  readonly disabled?: boolean;
  readonly keys?: string;
}

export const Item = ({ title, run, disabled, keys }: ItemProps) => (
  <ContextMenu.Item className={ITEM} onSelect={run} disabled={disabled}>
    {title}
    {keys && <kbd className="tabular ml-auto pl-4 text-11 text-faint">{keyText(keys)}</kbd>}
  </ContextMenu.Item>
);

export function Sub({ title, children }: { title: string; children: ReactNode }) {
  return (
    <ContextMenu.Sub>
      <ContextMenu.SubTrigger className={ITEM}>
        {title} <span className="ml-auto text-faint">›</span>
      </ContextMenu.SubTrigger>
      <ContextMenu.Portal>
        <ContextMenu.SubContent className={MENU} collisionPadding={8}>
          {children}
        </ContextMenu.SubContent>
      </ContextMenu.Portal>
    </ContextMenu.Sub>
  );
}

/** Actions of the studio by their ids, in groups, with their keys. */
export function ActionItems({ groups }: { groups: readonly (readonly string[])[] }) {
  const actions = useContext(Actions);
  return groups.map((ids, i) => (
    <ContextMenu.Group key={ids.join()}>
      {i > 0 && <ContextMenu.Separator className="my-1 h-px bg-rule" />}
      {ids.map((id) => {
        const action = actions.find((one) => one.id === id);
        return action && <Item key={id} title={action.title} keys={action.keys} run={action.run} />;
      })}
    </ContextMenu.Group>
  ));
}

interface ActionMenuProps {
  readonly label: string;
  readonly groups: readonly (readonly string[])[];
  readonly children: ReactNode;
}

/** An area on which a right click lists what can be done there. */
export function ActionMenu({ label, groups, children }: ActionMenuProps) {
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger className="contents">{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className={MENU} aria-label={label}>
          <ActionItems groups={groups} />
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
