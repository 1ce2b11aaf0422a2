"use client";
import { Download, Trash2, Upload } from "lucide-react";
import { useEffect, useRef } from "react";
import { writeDocument } from "@/core/document/read";
import { Button, IconButton } from "@/ui/button";
import { Dialog } from "@/ui/dialog";
import { download } from "@/ui/download";
import { pasteText } from "../graph/use-clipboard";
import { useStudio, useStudioStore } from "../state/store";
import { fetchCapsule, insertFromLibrary, loadLibrary } from "./library-client";

interface LibraryProps {
  /** Where what is put in goes. */
  readonly place: () => readonly [number, number];
  readonly onClose: () => void;
}

/** All capsules of the library: put one into what is open, take one away as a file, bring one in. */
export function Library({ place, onClose }: LibraryProps) {
  const store = useStudioStore();
  const capsules = useStudio((s) => s.library);
  const chooser = useRef<HTMLInputElement>(null);
  useEffect(() => void loadLibrary(store), [store]);
  const say = (what: string) => store.getState().set({ notice: what });
  const takeAway = async (id: string, title: string) => {
    try {
      const text = writeDocument(await fetchCapsule(id));
      download(new Blob([text], { type: "application/json" }), `${title}.glemmo.json`);
    } catch (error) {
      say((error as Error).message);
    }
  };
  const remove = async (id: string, title: string) => {
    try {
      await fetch(`/api/capsules/${id}`, { method: "DELETE" });
      say(`“${title}” is out of the library. Pieces that use it keep their own.`);
      await loadLibrary(store);
    } catch (error) {
      say((error as Error).message);
    }
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title="Library of capsules"
      about="What is put into a piece is its own copy; newer versions are offered there."
      className="w-[560px]"
    >
      {capsules.length === 0 && <p className="text-12 text-faint">There is none yet.</p>}
      <ul className="max-h-[400px] overflow-auto">
        {capsules.map(({ id, title, about, version }) => (
          <li key={id} className="flex items-center gap-2 border-b border-dashed py-1.5 text-12">
            <div className="min-w-0 flex-1">
              <p className="font-semibold">
                {title} <span className="tabular font-normal text-11 text-faint">version {version}</span>
              </p>
              <p className="text-11 text-faint">{about}</p>
            </div>
            <Button
              className="!h-6 px-2 text-12"
              aria-label={`Put ${title} into the graph`}
              onClick={() => {
                onClose();
                void insertFromLibrary(store, id, place(), store.getState().graphView?.boxes() ?? new Map());
              }}
            >
              Put in
            </Button>
            <IconButton label={`Take ${title} away as a file`} onClick={() => void takeAway(id, title)}>
              <Download size={13} />
            </IconButton>
            <IconButton label={`Take ${title} out of the library`} onClick={() => void remove(id, title)}>
              <Trash2 size={13} />
            </IconButton>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex justify-end">
        <Button onClick={() => chooser.current?.click()}>
          <Upload size={13} /> Bring in a capsule
        </Button>
        <input
          ref={chooser}
          type="file"
          hidden
          accept=".json"
          aria-label="File of a capsule"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = "";
            if (!file) return;
            onClose();
            void file.text().then((text) => pasteText(store, text, place()));
          }}
        />
      </div>
    </Dialog>
  );
}
