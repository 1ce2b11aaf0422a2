import { useEffect, useState } from "react";
import type { Queries, QueryKind } from "@/engine/protocol";
import { useStudio, useStudioStore, useTime } from "./store";

/** Milliseconds of rest after a change before anything is worked out over many frames. */
const REST = 400;
/** How often it is asked again after it gave way to whatever else the engine was asked for. */
const TRIES = 5;

/**
 * What the engine says of many frames, asked anew when the question or the piece has changed and nothing plays; null until it has
 * answered, and where `ask` is null. Questions are told apart by their text.
 */
export function useAtRest<K extends QueryKind>(
  kind: K,
  ask: Queries[K]["ask"] | null,
): Queries[K]["answer"] | null {
  const store = useStudioStore();
  const document = useStudio((s) => s.document);
  const isPlaying = useTime((t) => t.playing);
  const question = ask && JSON.stringify(ask);
  const [answered, setAnswered] = useState<{
    readonly question: string;
    readonly answer: Queries[K]["answer"];
  } | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the answer hangs on the piece
  useEffect(() => {
    if (question === null || isPlaying) return;
    let isOver = false;
    const timer = setTimeout(async () => {
      for (let tries = 0; tries < TRIES && !isOver; tries++) {
        const answer = await store
          .getState()
          .query?.(kind, JSON.parse(question) as Queries[K]["ask"])
          .catch(() => null);
        if (!answer) continue;
        if (!isOver) setAnswered({ question, answer });
        return;
      }
    }, REST);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  }, [store, kind, question, document, isPlaying]);
  return answered && answered.question === question ? answered.answer : null;
}
