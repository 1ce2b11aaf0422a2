import { ClipboardPaste, Copy, Spline, Trash2 } from "lucide-react";
import { KEY_EASES } from "@/core/keys/ease";
import { IconButton } from "@/ui/button";
import { Select } from "@/ui/select";
import { copyKeys, easeKeysEdit, type TrackRow } from "./track-edits";
import type { useKeyGestures } from "./use-key-gestures";

const TOOL = "!h-5 !w-5 text-faint disabled:opacity-40";

interface KeyToolsProps {
  readonly rows: readonly TrackRow[];
  readonly keys: ReturnType<typeof useKeyGestures>;
  /** Values are shown as curves. */
  readonly curves: boolean;
  readonly onCurves: () => void;
}

/** What can be done with the keys that are chosen. */
export function KeyTools({
  rows,
  keys: { chosen, span, edit, remove, paste },
  curves,
  onCurves,
}: KeyToolsProps) {
  const eases = new Set(
    rows.flatMap(({ address, track }) =>
      track.keys.filter((k) => chosen.get(address)?.includes(k.frame)).map((k) => k.ease ?? "linear"),
    ),
  );
  const [ease] = eases;
  return (
    <div className="flex items-center justify-end gap-1">
      {span ? (
        <>
          <Select
            className="w-[112px]"
            label="How the chosen keys lead on"
            value={eases.size > 1 ? "differing" : typeof ease === "string" ? ease : "own curve"}
            choices={[
              ...KEY_EASES,
              ...(eases.size > 1 ? ["differing"] : typeof ease === "string" ? [] : ["own curve"]),
            ].map((name) => ({ value: name, label: name }))}
            onChange={(to) => {
              const name = KEY_EASES.find((one) => one === to);
              if (name) edit(easeKeysEdit(rows, chosen, name));
            }}
          />
          <IconButton
            label="Copy the chosen keys"
            className={TOOL}
            onClick={() => void navigator.clipboard.writeText(copyKeys(rows, chosen))}
          >
            <Copy size={12} />
          </IconButton>
        </>
      ) : (
        <span className="text-faint">{rows.length > 0 ? "Choose keys to ease or move them" : ""}</span>
      )}
      <IconButton
        label="Values as curves"
        className={`${TOOL} aria-pressed:text-accent`}
        aria-pressed={curves}
        disabled={rows.length === 0}
        onClick={onCurves}
      >
        <Spline size={12} />
      </IconButton>
      <IconButton label="Paste keys at this frame" className={TOOL} onClick={() => void paste()}>
        <ClipboardPaste size={12} />
      </IconButton>
      <IconButton
        label="Take the chosen keys away"
        className={TOOL}
        disabled={span === null}
        onClick={remove}
      >
        <Trash2 size={12} />
      </IconButton>
    </div>
  );
}
