import { X } from "lucide-react";
import { Button, IconButton } from "@/ui/button";
import { ProgressBar } from "@/ui/progress-bar";
import { useStudio, useStudioStore } from "../state/store";

/** Messages that belong to no node: a file that was refused, an engine that was started again, a ring of links. */
export function Notices({ onResume }: { onResume: () => void }) {
  const store = useStudioStore();
  const notice = useStudio((s) => s.notice);
  const offer = useStudio((s) => s.offer);
  const problems = useStudio((s) => s.report?.problems);
  const refused = useStudio(({ save }) =>
    (save.kind === "refused" || save.kind === "waiting") && save.what ? `Not saved: ${save.what}` : null,
  );
  const lines = [notice, refused, ...(problems?.map((p) => p.what) ?? [])].filter((line) => line !== null);
  const paused = useStudio((s) => s.paused);
  const sending = useStudio((s) => s.sending);
  if (lines.length === 0 && !paused && !sending) return null;
  return (
    <div role="alert" className="flex items-start gap-3 border-b border-rule bg-raised px-3 py-1.5 text-12">
      <ul className="flex-1">
        {lines.map((line) => (
          <li key={line}>
            {line}
            {offer?.notice === line && (
              <Button className="ml-2 !h-5 text-12" onClick={offer.run}>
                {offer.label}
              </Button>
            )}
          </li>
        ))}
        {paused && (
          <li>
            The piece is heavy and is paused, so that you can change it first.{" "}
            <Button className="!h-5 text-12" onClick={onResume}>
              Work it out
            </Button>
          </li>
        )}
        {sending && (
          <li className="flex items-center gap-2">
            Sending {sending.file}
            <ProgressBar className="w-40" value={sending.part} label="Sent" />
            <span className="tabular w-9 text-faint">{Math.round(sending.part * 100)} %</span>
            <Button className="!h-5 text-12" onClick={sending.stop}>
              Stop
            </Button>
          </li>
        )}
      </ul>
      {notice && (
        <IconButton
          label="Dismiss"
          className="!h-5 !w-5"
          onClick={() => store.getState().set({ notice: null })}
        >
          <X size={12} />
        </IconButton>
      )}
    </div>
  );
}
