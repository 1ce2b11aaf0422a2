/** The kernels' memory: handing out, giving back, the ceiling, and no leak over many evaluations. */
import fc from "fast-check";
import { IN_MEMORY } from "../../src/core/draw/draw-memory";
import { drawingOf } from "../../src/core/draw/drawing";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { Arena, addressOf, roomForFloats } from "../../src/core/kernels/arena";
import { engine, setEngine } from "../../src/core/kernels/kernels";
import { KernelMemory, OutOfMemory } from "../../src/core/kernels/memory";
import { resident } from "../../src/core/kernels/resident";
import { histogramOf, rangeOf } from "../../src/core/kernels/statistics";
import { Task } from "../../src/core/kernels/task";
import { graphOf } from "../run-node";

describe("kernel memory", () => {
  it("never hands out a byte twice, and ends as it began, whatever the order", () => {
    const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 40_000 }), fc.nat()), { maxLength: 80 });
    fc.assert(
      fc.property(steps, (list) => {
        const memory = KernelMemory.create(2 ** 24);
        const held: { address: number; bytes: number }[] = [];
        for (const [bytes, pick] of list) {
          if (pick % 3 === 0 && held.length > 0)
            memory.release(held.splice(pick % held.length, 1)[0].address);
          else {
            const address = memory.allocate(bytes);
            expect(address % 64).toBe(0);
            expect(address + bytes).toBeLessThanOrEqual(memory.size);
            for (const other of held)
              expect(address + bytes <= other.address || other.address + other.bytes <= address).toBe(true);
            held.push({ address, bytes });
          }
        }
        for (const { address } of held) memory.release(address);
        expect(memory.used).toBe(0);
        const size = memory.size;
        // All of it is one piece again: as much as there ever was fits without growing.
        memory.allocate(size - 2 ** 18 - 1024);
        expect(memory.size).toBe(size);
      }),
      { numRuns: 60 },
    );
  });

  it("says what is asked, what is used and what there is at its ceiling, and goes on", () => {
    const memory = KernelMemory.create(2 ** 20);
    const half = memory.allocate(400_000);
    expect(() => memory.allocate(600_000)).toThrow(OutOfMemory);
    expect(() => memory.allocate(600_000)).toThrow(/1 MB more beside 1 MB in use, of 1 MB/);
    memory.release(half);
    memory.release(half);
    expect(memory.allocate(600_000)).toBe(half);
  });

  it("grows under views that were made before", () => {
    const memory = KernelMemory.create(2 ** 26);
    const address = memory.allocate(16);
    const before = new Float32Array(memory.memory.buffer, address, 4).fill(7);
    memory.allocate(2 ** 24);
    expect([...before]).toEqual([7, 7, 7, 7]);
    expect([...new Float32Array(memory.memory.buffer, address, 4)]).toEqual([7, 7, 7, 7]);
  });
});

describe("arenas", () => {
  it("give back all but what is published, parts of lanes included", () => {
    const arena = new Arena();
    const used = engine().memory.used;
    const [a, b, c] = arena.within(() => [roomForFloats(100), roomForFloats(100), roomForFloats(100)]);
    a.fill(1);
    c.fill(3);
    arena.keepOnly([a, c.subarray(10, 20)]);
    expect([a[99], c[15]]).toEqual([1, 3]);
    // Overwritten by the tests' set-up, so that a use after this is seen.
    expect(b[0]).toBeNaN();
    arena.keepOnly([]);
    expect(engine().memory.used).toBe(used);
  });

  it("are only asked while an evaluation runs", () => {
    expect(addressOf(roomForFloats(100_000))).toBeNull();
  });
});

const animated = graphOf(
  {
    grid: { type: "grid-sites", set: { across: 10, deep: 10 } },
    ball: { type: "sphere" },
    hills: { type: "noise", set: { speed: 1 } },
    colors: { type: "gradient" },
    clones: { type: "clone-onto-sites" },
    rise: { type: "move" },
    paint: { type: "tint" },
    some: { type: "keep" },
    stage: { type: "stage" },
  },
  [
    "grid.sites>clones.sites",
    "ball.shape>clones.shapes",
    "clones.clones>rise.shape",
    "hills.vector>rise.by",
    "rise.shape>paint.shape",
    "hills.value>colors.value",
    "colors.color>paint.color",
    "paint.shape>some.shape",
    "hills.value>some.when",
    "some.shape>stage.shape",
  ],
);

describe("many evaluations", () => {
  it("end 10,000 frames with the memory of 100", () => {
    const evaluator = new Evaluator();
    const { memory } = engine();
    const run = (from: number, until: number) => {
      for (let frame = from; frame < until; frame++) {
        const { shape } = evaluator.evaluate(animated, frame % 200, { inspect: frame % 50 === 0 });
        if (!shape) throw new Error("It failed.");
        for (const { matrices, colors } of drawingOf(shape, IN_MEMORY).batches) {
          IN_MEMORY.give(matrices);
          IN_MEMORY.give(colors);
        }
      }
      return { used: memory.used, size: memory.size, lanes: evaluator.arena.bytes };
    };
    // The same frame of the loop at both ends, so that as many clones are kept.
    const early = run(0, 101);
    const late = run(101, 10_101);
    expect(late.lanes).toBe(early.lanes);
    expect(late.used).toBe(early.used);
    expect(late.size).toBe(early.size);
  }, 120_000);

  it("leave nothing behind when one is cut short", () => {
    const evaluator = new Evaluator();
    evaluator.evaluate(animated, 0);
    const { bytes } = evaluator.arena;
    let asked = 0;
    const checkCancelled = () => {
      if (asked++ === 4) throw new Error("enough");
    };
    expect(() => evaluator.evaluate(animated, 1, { checkCancelled })).toThrow("enough");
    evaluator.evaluate(animated, 0);
    expect(evaluator.arena.bytes).toBe(bytes);
  });

  it("tell the node that memory ran out, and work again with less", () => {
    const evaluator = new Evaluator();
    const { memory } = engine();
    const allocate = memory.allocate.bind(memory);
    const scarce = jest.spyOn(memory, "allocate").mockImplementation((bytes) => {
      if (bytes > 10_000) throw new OutOfMemory(bytes, memory.used, 2 ** 20);
      return allocate(bytes);
    });
    const large = graphOf(
      { grid: { type: "grid-sites", set: { across: 100, deep: 100 } }, stage: { type: "stage" } },
      ["grid.sites>stage.shape"],
    );
    const { report, shape } = evaluator.evaluate(large, 0);
    scarce.mockRestore();
    expect(shape).toBeUndefined();
    expect(report.nodes.grid.problems[0].what).toContain("not enough memory");
    expect(evaluator.evaluate(large, 0).shape?.sites?.count).toBe(10_000);
  });
});

it("a task gives back an address beyond 2 GB as it is", () => {
  const task = new Task();
  task.perform(() => 2 ** 31 + 64);
  expect(task.result).toBe(2 ** 31 + 64);
});

describe("statistics of lanes", () => {
  it("are those of a plain loop, whatever is not finite", () => {
    const lane = fc.array(fc.float({ noDefaultInfinity: false }), { maxLength: 3000 });
    fc.assert(
      fc.property(lane, (values) => {
        const numbers = Float32Array.from(values);
        const finite = [...numbers].filter(Number.isFinite);
        const range = rangeOf(numbers);
        if (finite.length === 0) {
          expect(range).toBeNull();
          return;
        }
        // −0 and 0 are equally far.
        expect((range?.min as number) + 0).toBe(Math.min(...finite) + 0);
        expect((range?.max as number) + 0).toBe(Math.max(...finite) + 0);
        const bins = histogramOf(numbers, -2, 2, 8);
        const expected = new Array<number>(8).fill(0);
        for (const v of finite)
          expected[Math.max(0, Math.min(7, Math.trunc(Math.fround(Math.fround(v + 2) * 2))))]++;
        expect(bins).toEqual(expected);
      }),
      { numRuns: 200 },
    );
  });
});

describe("resident tables", () => {
  it("are copied once, whole", () => {
    const table = Uint16Array.from({ length: 5000 }, (_, i) => i * 13);
    const address = resident(table);
    expect(resident(table)).toBe(address);
    expect([...new Uint16Array(engine().memory.memory.buffer, address, 5000)]).toEqual([...table]);
  });

  it("are in every memory that they are asked for in", () => {
    const own = engine();
    const table = Float32Array.from({ length: 5000 }, (_, i) => i);
    const first = resident(table);
    const region = own.memory.allocate(100_000);
    const within = KernelMemory.within(own.memory.memory, region, 100_000);
    setEngine({ kernels: own.kernels, memory: within });
    const second = resident(table);
    expect(second >= region && second + 20_000 <= region + 100_000).toBe(true);
    expect(() => within.allocate(90_000)).toThrow(OutOfMemory);
    setEngine(own);
    expect(resident(table)).toBe(first);
    // Of the stretch, what is kept goes on by itself.
    own.memory.keepParts(region, [{ address: second, bytes: within.sizeOf(second) }]);
    expect(new Float32Array(own.memory.memory.buffer, second, 5000)[4999]).toBe(4999);
    own.memory.release(second);
  });
});
