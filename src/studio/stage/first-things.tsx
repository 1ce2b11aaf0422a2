"use client";
import { FolderOpen, LayoutGrid, Plus } from "lucide-react";
import { type ReactNode, useRef } from "react";
import { knownEndings } from "@/core/formats/read/read-asset";
import { useStudio, useStudioStore } from "../state/store";

interface FirstThingsProps {
  readonly onFiles: (files: readonly File[]) => void;
}

/** On a stage that shows nothing because nothing was made yet: the three things that one can do first. */
export function FirstThings({ onFiles }: FirstThingsProps) {
  const store = useStudioStore();
  const chooser = useRef<HTMLInputElement>(null);
  const bare = useStudio((s) => s.document.graph.nodes.every(({ type }) => type === "stage"));
  if (!bare) return null;
  return (
    <div className="pointer-events-none absolute inset-x-0 bottom-14 flex flex-wrap justify-center gap-2 px-3">
      <Thing
        icon={<Plus size={15} />}
        title="Say what should happen"
        keys="/"
        about="“copies on a grid”, “a ring of boxes”"
        onClick={() => store.getState().graphView?.add()}
      />
      <Thing
        icon={<LayoutGrid size={15} />}
        title="Begin with a ready graph"
        about="rings, grids, waves, moss, paths …"
        onClick={() => store.getState().graphView?.add("copies")}
      />
      <Thing
        icon={<FolderOpen size={15} />}
        title="Bring in a file"
        about="mesh, points, picture, or drop it here"
        onClick={() => chooser.current?.click()}
      />
      <input
        ref={chooser}
        type="file"
        hidden
        multiple
        accept={knownEndings().join(",")}
        aria-label="Files to bring in"
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </div>
  );
}

interface ThingProps {
  readonly icon: ReactNode;
  readonly title: string;
  readonly about: string;
  readonly keys?: string;
  readonly onClick: () => void;
}

const Thing = ({ icon, title, about, keys, onClick }: ThingProps) => (
  <button
    type="button"
    className="pointer-events-auto w-[158px] rounded-6 border border-rule bg-panel/90 px-3 py-2 text-left hover:border-accent"
    onClick={onClick}
  >
    <span className="flex items-center gap-1.5 font-display text-13 font-semibold">
      {icon} {title}
      {keys && <kbd className="tabular ml-auto text-11 text-faint">{keys}</kbd>}
    </span>
    <span className="mt-0.5 block text-11 text-faint leading-[14px]">{about}</span>
  </button>
);
