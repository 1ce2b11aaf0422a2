/** The page's side of the engine, against a worker that answers when told to. */
import { blankDocument } from "../../src/core/document/schema";
import type { EvaluationReport } from "../../src/core/evaluate/report";
import type { FromEngine, ToEngine } from "../../src/engine/protocol";

class FakeWorker {
  static all: FakeWorker[] = [];
  readonly sent: ToEngine[] = [];
  terminated = false;
  onmessage: ((event: { data: FromEngine }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  constructor() {
    FakeWorker.all.push(this);
  }
  postMessage(message: ToEngine) {
    this.sent.push(message);
  }
  terminate() {
    this.terminated = true;
  }
  answer(message: FromEngine) {
    this.onmessage?.({ data: message });
  }
  evaluations() {
    return this.sent.filter((m) => m.type === "evaluate");
  }
  get cancelled(): number {
    const setup = this.sent[0];
    return setup.type === "setup" && setup.cancel ? new Int32Array(setup.cancel)[0] : 0;
  }
}

Object.assign(globalThis, { Worker: FakeWorker, crossOriginIsolated: true });
// The client names its worker by import.meta.url, which only exists in modules.
jest.mock("../../src/engine/worker-url", () => ({ startWorker: () => new FakeWorker() }));

import { EngineClient, Interrupted } from "../../src/engine/client";

const report = (frame: number): EvaluationReport => ({
  frame,
  ms: 1,
  nodes: {},
  problems: [],
  tally: { sites: 0, points: 0, faces: 0 },
  complete: true,
  bytes: 0,
});
const document = blankDocument("x");

function start() {
  const seen: string[] = [];
  const client = new EngineClient({
    evaluated: (m) => seen.push(`frame ${m.report.frame}`),
    failed: (what) => seen.push(what),
    busy: (busy) => seen.push(busy ? "busy" : "idle"),
  });
  return { client, seen, worker: () => FakeWorker.all[FakeWorker.all.length - 1] };
}
const ask = (client: EngineClient, frame: number) => client.evaluate({ document, frame, inspect: false });

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

describe("the engine client", () => {
  it("keeps one evaluation running and one waiting: the latest wins", () => {
    const { client, seen, worker } = start();
    for (const frame of [1, 2, 3, 4]) ask(client, frame);
    expect(
      worker()
        .evaluations()
        .map((m) => m.frame),
    ).toEqual([1]);
    worker().answer({ type: "evaluated", id: worker().evaluations()[0].id, report: report(1) });
    expect(
      worker()
        .evaluations()
        .map((m) => m.frame),
    ).toEqual([1, 4]);
    worker().answer({ type: "evaluated", id: worker().evaluations()[1].id, report: report(4) });
    expect(seen).toEqual(["busy", "busy", "frame 1", "idle", "frame 4"]);
  });

  it("lets a short evaluation finish, and interrupts a long one when something newer waits", () => {
    const { client, worker } = start();
    ask(client, 1);
    const { id } = worker().evaluations()[0];
    jest.advanceTimersByTime(1000);
    expect(worker().cancelled).toBe(0);
    ask(client, 2);
    jest.advanceTimersByTime(1);
    expect(worker().cancelled).toBeGreaterThan(id);
    worker().answer({ type: "cancelled", id });
    // The newer request is not cancelled by the mark that stopped the older one.
    expect(worker().evaluations()[1].id).toBeGreaterThanOrEqual(worker().cancelled);
  });

  it("brings questions their answers, and tells those that gave way to a newer change", async () => {
    const { client, worker } = start();
    const asked = [0, 1].map((copy) => client.query(document, 3, "pick", [{ geometry: 1, copy }]));
    const queries = worker().sent.filter((m) => m.type === "query");
    expect(queries.map(({ frame, query }) => [frame, query])).toEqual([
      [3, { kind: "pick", ask: [{ geometry: 1, copy: 0 }] }],
      [3, { kind: "pick", ask: [{ geometry: 1, copy: 1 }] }],
    ]);
    worker().answer({ type: "cancelled", id: queries[1].id });
    worker().answer({ type: "answered", id: queries[0].id, answer: 7 });
    expect(await asked[0]).toBe(7);
    await expect(asked[1]).rejects.toThrow(Interrupted);
  });

  it("stops at once when asked to", () => {
    const { client, seen, worker } = start();
    ask(client, 1);
    ask(client, 2);
    client.stop();
    expect(worker().cancelled).toBeGreaterThan(worker().evaluations()[0].id);
    worker().answer({ type: "cancelled", id: worker().evaluations()[0].id });
    expect(worker().evaluations()).toHaveLength(1);
    expect(seen[seen.length - 1]).toBe("idle");
  });

  it("replaces a worker that does not stop when asked to, and not one that does", () => {
    const { client, seen, worker } = start();
    ask(client, 1);
    const stubborn = worker();
    client.stop();
    jest.advanceTimersByTime(2999);
    expect(stubborn.terminated).toBe(false);
    jest.advanceTimersByTime(1);
    expect(stubborn.terminated).toBe(true);
    expect(seen[seen.length - 1]).toContain("it did not stop when asked to");
    ask(client, 2);
    const willing = worker();
    expect(willing).not.toBe(stubborn);
    client.stop();
    willing.answer({ type: "cancelled", id: willing.evaluations()[0].id });
    jest.advanceTimersByTime(10_000);
    expect(willing.terminated).toBe(false);
  });

  it("ignores answers to questions it no longer asks", () => {
    const { client, seen, worker } = start();
    ask(client, 1);
    worker().answer({ type: "evaluated", id: 9999, report: report(7) });
    expect(seen).toEqual(["busy"]);
  });

  it("starts a new worker when one dies, says so, and goes on with what was waiting", async () => {
    const { client, seen, worker } = start();
    ask(client, 1);
    ask(client, 2);
    const exported = client.export(document, 1, { format: "glb", copies: "baked" });
    const dead = worker();
    dead.onerror?.({ message: "out of memory" });
    expect(dead.terminated).toBe(true);
    expect(worker()).not.toBe(dead);
    expect(
      worker()
        .evaluations()
        .map((m) => m.frame),
    ).toEqual([2]);
    expect(seen.some((line) => line.includes("out of memory") && line.includes("The piece is intact"))).toBe(
      true,
    );
    await expect(exported).rejects.toThrow("started again");
  });

  it("gives exports their own answers", async () => {
    const { client, worker } = start();
    const good = client.export(document, 1, { format: "csv", copies: "baked" });
    const bad = client.export(document, 1, { format: "glb", copies: "baked" });
    const [first, second] = worker().sent.filter((m) => m.type === "export");
    worker().answer({ type: "failed", id: second.id, what: "There are no faces to write." });
    worker().answer({ type: "exported", id: first.id, bytes: Uint8Array.of(1, 2) });
    await expect(good).resolves.toEqual(Uint8Array.of(1, 2));
    await expect(bad).rejects.toThrow("no faces");
  });
});
