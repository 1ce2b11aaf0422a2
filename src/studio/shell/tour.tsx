"use client";
import { Check, X } from "lucide-react";
import { useEffect, useState } from "react";
import { Button, IconButton } from "@/ui/button";
import { keptTour } from "../state/kept-tour";
import { type StudioState, useStudio, useStudioStore } from "../state/store";
import type { Time } from "../state/time";

interface Step {
  readonly title: string;
  readonly what: string;
  /** Whether it was done, given how things were when the step began. */
  readonly done: (now: StudioState & Pick<Time, "playing">, then: StudioState) => boolean;
}

const nodesOf = ({ document }: StudioState): number => document.graph.nodes.length;

/** Each is done, not read. */
const STEPS: readonly Step[] = [
  {
    title: "Turn a dial",
    what: "At the upper right are the dials of this piece. Drag one, or drag on its name, and watch the stage.",
    done: (now, then) => now.document.graph !== then.document.graph,
  },
  {
    title: "Play it",
    what: "Press Space, or the triangle at the lower left. Space again stops it.",
    done: (now) => now.playing,
  },
  {
    title: "Choose a card",
    what: "Every card of the graph does one thing. Click one: all that can be set on it is then at the right.",
    done: (now, then) => now.selected.size > 0 && now.selected !== then.selected,
  },
  {
    title: "Add what you need",
    what: "Press / and type what should happen, in your own words: “random sizes”. Enter puts the best behind the chosen card.",
    done: (now, then) => nodesOf(now) > nodesOf(then),
  },
  {
    title: "Take it back",
    what: "Ctrl Z undoes, step by step; Ctrl Shift Z brings it again. H lists all steps in words.",
    done: (now, then) => now.history.past.length < then.history.past.length,
  },
  {
    title: "See the graph as you like it",
    what: "Press D: the graph goes under the stage, then over it as a sheet, then beside it again. G shows all of it.",
    done: (now, then) => now.arrangement !== then.arrangement,
  },
];

/** Six steps on a real piece; it can be left, and taken up where it was. */
export function Tour() {
  const store = useStudioStore();
  const piece = useStudio((s) => s.pieceId);
  const shown = useStudio((s) => s.touring);
  const [step, setStep] = useState(0);
  useEffect(() => {
    const before = keptTour.get(piece);
    if (before?.shown) store.getState().set({ touring: true });
    setStep(Math.min(before?.step ?? 0, STEPS.length));
  }, [piece, store]);
  useEffect(() => {
    if (!shown) return;
    keptTour.keep(piece, { step, shown: true });
    const then = store.getState();
    const look = () => {
      const { playing } = store.time.getState();
      if (STEPS[step]?.done({ ...store.getState(), playing }, then)) setStep(step + 1);
    };
    const ends = [store.subscribe(look), store.time.subscribe(look)];
    return () => {
      for (const end of ends) end();
    };
  }, [shown, step, piece, store]);
  if (!shown) return null;
  const leave = () => {
    keptTour.keep(piece, { step, shown: false });
    store.getState().set({ touring: false });
  };
  const now = STEPS[step];
  return (
    <aside
      aria-label="Tour"
      className="fixed bottom-24 left-4 z-40 w-[320px] rounded-6 border border-accent bg-panel p-3 shadow-2xl"
    >
      <div className="flex items-start justify-between gap-2">
        <p className="text-11 text-faint" role="status">
          {now ? `Step ${step + 1} of ${STEPS.length}` : "All six steps are done"}
        </p>
        <IconButton label="Leave the tour" className="!h-5 !w-5" onClick={leave}>
          <X size={12} />
        </IconButton>
      </div>
      <h2 className="font-display text-16 font-semibold">{now?.title ?? "That is the whole of it"}</h2>
      <p className="mt-1 text-12 leading-[17px]">
        {now?.what ??
          "Everything else works the same way: find it with Ctrl K, right-click on whatever you wonder about, and take back what you do not like."}
      </p>
      <ol className="mt-2 flex items-center gap-1.5" aria-label="Steps of the tour">
        {STEPS.map(({ title }, i) => (
          <li
            key={title}
            title={title}
            aria-current={i === step ? "step" : undefined}
            className={`grid h-4 flex-1 place-content-center rounded-sm border ${i < step ? "border-good text-good" : i === step ? "border-accent" : "border-rule"}`}
          >
            {i < step && <Check size={10} aria-label="done" />}
          </li>
        ))}
      </ol>
      <div className="mt-2 flex justify-between text-12">
        <Button className="!h-6 text-12" disabled={step === 0} onClick={() => setStep(step - 1)}>
          Back
        </Button>
        {now ? (
          <Button className="!h-6 text-12" onClick={() => setStep(step + 1)}>
            Pass over it
          </Button>
        ) : (
          <Button className="!h-6 text-12" onClick={leave}>
            Close
          </Button>
        )}
      </div>
    </aside>
  );
}
