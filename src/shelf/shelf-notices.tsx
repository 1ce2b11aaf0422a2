import { Button } from "@/ui/button";
import { ProgressBar } from "@/ui/progress-bar";
import type { Pieces } from "./use-pieces";

/** What is going on at the foot of the shelf: a file on its way, a piece that can be brought back. */
export function ShelfNotices({
  shelf: { sending, deleted, attempt, bringBack },
}: {
  readonly shelf: Pieces;
}) {
  return (
    <>
      {sending && (
        <div
          role="status"
          className="fixed bottom-5 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded-6 border border-rule bg-raised py-2 pr-2 pl-4 text-13 shadow-2xl"
        >
          Opening {sending.file}
          <ProgressBar className="w-40" value={sending.part} label="Sent" />
          <Button onClick={sending.stop}>Stop</Button>
        </div>
      )}
      {deleted && (
        <div
          role="status"
          className="fixed bottom-5 left-1/2 flex -translate-x-1/2 items-center gap-3 rounded-6 border border-rule bg-raised py-2 pr-2 pl-4 shadow-2xl"
        >
          “{deleted.name}” is deleted.
          <Button look="accent" onClick={() => void attempt(() => bringBack(deleted))}>
            Bring it back
          </Button>
        </div>
      )}
    </>
  );
}
