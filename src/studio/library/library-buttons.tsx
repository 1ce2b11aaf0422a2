"use client";
import { Button } from "@/ui/button";
import { useStudio, useStudioStore } from "../state/store";
import { saveToLibrary, updateFromLibrary } from "./library-client";

/** A capsule and the library: save it there, or take up a newer version. */
export function LibraryButtons({ name }: { name: string }) {
  const store = useStudioStore();
  const library = useStudio((s) => s.document.capsules[name]?.library);
  const known = useStudio((s) => s.library.find(({ id }) => id === library?.id));
  const run = (work: Promise<void>, done: string) =>
    work.then(
      () => store.getState().set({ notice: done }),
      (error: Error) => store.getState().set({ notice: error.message }),
    );
  const newer = known && library && known.version > library.version;
  return (
    <>
      <Button
        className="!h-6 px-2 text-12"
        onClick={() => void run(saveToLibrary(store, name), "It is in the library now.")}
      >
        {known ? "Save as a new version" : "Save to the library"}
      </Button>
      {newer && (
        <Button
          look="accent"
          className="!h-6 px-2 text-12"
          title={`Version ${known.version} is there; this is ${library.version}.`}
          onClick={() => void run(updateFromLibrary(store, name), `Version ${known.version} is taken up.`)}
        >
          Update available
        </Button>
      )}
    </>
  );
}
