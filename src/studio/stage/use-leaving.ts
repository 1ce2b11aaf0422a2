import { useEffect } from "react";

/** Escape and Enter end what goes on. */
export function useLeaving(active: boolean, leave: () => void): void {
  useEffect(() => {
    if (!active) return;
    const onKey = (event: globalThis.KeyboardEvent) => {
      if (event.key !== "Escape" && event.key !== "Enter") return;
      event.stopPropagation();
      leave();
    };
    window.addEventListener("keydown", onKey, { capture: true });
    return () => window.removeEventListener("keydown", onKey, { capture: true });
  }, [active, leave]);
}
