import { useEffect, useRef, useState } from "react";
import { Interrupted } from "@/engine/client";
import type { Queries, QueryKind } from "@/engine/protocol";
import { useStudio } from "../state/store";

export interface Asked<T> {
  readonly answer: T | null;
  readonly fault: string | null;
}

const NOTHING = { answer: null, fault: null } as const;

/**
 * Asks the engine whenever the question, the piece or the frame changes, one question at a time: while it answers, the latest
 * one waits, so that what plays is followed as fast as the engine can. The last answer stays until the next one comes. `ask`
 * null asks nothing. Questions are told apart by their text.
 */
export function useQuery<K extends QueryKind>(
  kind: K,
  ask: Queries[K]["ask"] | null,
): Asked<Queries[K]["answer"]> {
  const query = useStudio((s) => s.query);
  const report = useStudio((s) => s.report);
  const [answered, setAnswered] = useState<Asked<Queries[K]["answer"]>>(NOTHING);
  const question = ask && JSON.stringify(ask);
  const latest = useRef(question);
  latest.current = question;
  const asking = useRef(false);
  const again = useRef(false);
  const mounted = useRef(true);
  useEffect(() => {
    mounted.current = true;
    return () => {
      mounted.current = false;
    };
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new report means that what was answered may have changed
  useEffect(() => {
    const next = async () => {
      if (asking.current) {
        again.current = true;
        return;
      }
      const asked = latest.current;
      if (!query || asked === null) {
        // Nothing is asked with most reports: nothing is drawn again for it.
        setAnswered((before) => (before.answer === null && before.fault === null ? before : NOTHING));
        return;
      }
      asking.current = true;
      const found = await query(kind, JSON.parse(asked) as Queries[K]["ask"]).then(
        (answer) => ({ answer, fault: null }),
        // The change that it gave way to brings a report, and with it the next question.
        (error: Error) => (error instanceof Interrupted ? null : { answer: null, fault: error.message }),
      );
      asking.current = false;
      if (!mounted.current) return;
      if (found && asked === latest.current) setAnswered(found);
      if (again.current) {
        again.current = false;
        void next();
      }
    };
    void next();
  }, [query, kind, question, report]);
  return answered;
}
