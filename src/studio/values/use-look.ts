import { useEffect, useState } from "react";
import type { LookKind, Looks } from "@/engine/protocol";
import { useStudio } from "../state/store";

/** Milliseconds of quiet before the engine is asked. */
const QUIET = 60;

export interface Looked<T> {
  readonly answer: T | null;
  readonly fault: string | null;
}

/**
 * Asks the engine whenever the question, the piece or the frame changes; the last answer stays until the next one comes.
 * `ask` null asks nothing. Questions are told apart by their text.
 */
export function useLook<K extends LookKind>(
  kind: K,
  ask: Looks[K]["ask"] | null,
): Looked<Looks[K]["answer"]> {
  const look = useStudio((s) => s.look);
  const report = useStudio((s) => s.report);
  const [looked, setLooked] = useState<Looked<Looks[K]["answer"]>>({ answer: null, fault: null });
  const question = ask && JSON.stringify(ask);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new report means that what was answered may have changed
  useEffect(() => {
    if (!look || question === null) {
      setLooked({ answer: null, fault: null });
      return;
    }
    let wanted = true;
    const timer = setTimeout(() => {
      look(kind, JSON.parse(question) as Looks[K]["ask"]).then(
        (answer) => wanted && setLooked({ answer, fault: null }),
        (error: Error) => wanted && setLooked({ answer: null, fault: error.message }),
      );
    }, QUIET);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [look, kind, question, report]);
  return looked;
}
