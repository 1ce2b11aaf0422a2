import { Dialog } from "@/ui/dialog";
import { type Action, keyText } from "../state/action";

/** All actions that have keys. */
export function Shortcuts({
  actions,
  onClose,
}: {
  readonly actions: readonly Action[];
  readonly onClose: () => void;
}) {
  return (
    <Dialog open title="Shortcuts" onClose={onClose}>
      <dl className="grid grid-cols-[1fr_auto] gap-y-1.5 text-13">
        {actions
          .filter((action) => action.keys)
          .map((action) => (
            <div key={action.id} className="contents">
              <dt>{action.title}</dt>
              <dd className="tabular text-12 text-faint">{keyText(action.keys ?? "")}</dd>
            </div>
          ))}
      </dl>
    </Dialog>
  );
}
