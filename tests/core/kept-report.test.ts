/** A report that says the same is the same object, so that no card is drawn again while nothing changes. */

import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { EvaluationReport } from "../../src/core/evaluate/report";
import { readDemo } from "../../src/server/demo";
import { keptReport } from "../../src/studio/state/kept-report";

/** As it comes from the worker: no object is the one before. */
const sent = (report: EvaluationReport): EvaluationReport => structuredClone(report);

it("nodes that were not worked out anew keep their report while a piece plays; those that were get a new one", () => {
  const piece = readDemo("16-jar-ring");
  const evaluator = new Evaluator();
  let report: EvaluationReport | null = null;
  const play = (frame: number): EvaluationReport =>
    (report = keptReport(sent(evaluator.evaluate(piece, frame).report), report));
  play(0);
  play(1);
  const second = play(2);
  const third = play(3);
  // The clock moves what is turned; the jar itself rests.
  expect(third.nodes.jar).toBe(second.nodes.jar);
  expect(third.nodes.ring).toBe(second.nodes.ring);
  expect(third.nodes.turned.state).toBe("ran");
  const again = play(3);
  const rest = play(3);
  expect(rest).toBe(again);
});

it("what was looked at stays until it is looked at again, and the tally while a result fails", () => {
  const piece = readDemo("05-dew-sheet");
  const looked = new Evaluator().evaluate(piece, 0, { inspect: true }).report;
  const plain = sent(new Evaluator().evaluate(piece, 0).report);
  const kept = keptReport(plain, looked);
  expect(kept.nodes.near.values).toEqual(looked.nodes.near.values);
  const failed = keptReport({ ...plain, complete: false, tally: { ...plain.tally, sites: 0 } }, looked);
  expect(failed.tally).toBe(looked.tally);
});
