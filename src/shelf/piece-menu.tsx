"use client";
import { MoreHorizontal } from "lucide-react";
import { DropdownMenu } from "radix-ui";

interface PieceMenuProps {
  readonly name: string;
  /** Only what does not read it is offered. */
  readonly damaged: boolean;
  readonly onDuplicate: () => void;
  readonly onTags: () => void;
  readonly onExport: () => void;
  /** Address of the piece with its files. */
  readonly bundle: string;
  readonly onDelete: () => void;
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
}

const ITEM =
  "flex h-7 cursor-default items-center rounded px-2.5 text-13 outline-none data-[highlighted]:bg-rule";

export function PieceMenu({
  name,
  damaged,
  onDuplicate,
  onTags,
  onExport,
  bundle,
  onDelete,
  open,
  onOpen,
}: PieceMenuProps) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpen}>
      <DropdownMenu.Trigger
        aria-label={`More for ${name}`}
        className="absolute right-2 bottom-2 grid size-6 place-content-center rounded text-card-faint hover:bg-black/10"
      >
        <MoreHorizontal size={15} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-50 min-w-36 rounded-6 border border-rule bg-raised p-1 shadow-xl"
        >
          {!damaged && (
            <>
              <DropdownMenu.Item className={ITEM} onSelect={onDuplicate}>
                Duplicate
              </DropdownMenu.Item>
              <DropdownMenu.Item className={ITEM} onSelect={onTags}>
                Tags
              </DropdownMenu.Item>
              <DropdownMenu.Item className={ITEM} onSelect={onExport}>
                Save as a file
              </DropdownMenu.Item>
              <DropdownMenu.Item className={ITEM} asChild>
                <a href={bundle} download>
                  Save with its files (.zip)
                </a>
              </DropdownMenu.Item>
            </>
          )}
          <DropdownMenu.Item className={`${ITEM} text-alert`} onSelect={onDelete}>
            Delete
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
