"use client";
import clsx from "clsx";
import { X } from "lucide-react";
import { Dialog as Parts } from "radix-ui";
import type { ReactNode } from "react";
import { IconButton } from "./button";

interface DialogProps {
  readonly open: boolean;
  readonly title: string;
  /** One line under the title. */
  readonly about?: string;
  readonly className?: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

export function Dialog({ open, title, about, className, onClose, children }: DialogProps) {
  return (
    <Parts.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Parts.Portal>
        <Parts.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Parts.Content
          aria-describedby={undefined}
          className={clsx(
            "fixed top-1/2 left-1/2 z-50 max-h-[86dvh] w-[440px] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-6 border border-rule bg-panel p-4 shadow-2xl",
            className,
          )}
        >
          <div className="mb-3 flex items-start justify-between gap-4">
            <div>
              <Parts.Title className="font-display text-16 font-semibold">{title}</Parts.Title>
              {about && <p className="text-12 text-faint">{about}</p>}
            </div>
            <Parts.Close asChild>
              <IconButton label="Close">
                <X size={15} />
              </IconButton>
            </Parts.Close>
          </div>
          {children}
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}
