/** The headless command as a user calls it. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { picturesText } from "../../scripts/make-node-pictures";
import { piecesPage } from "../../scripts/make-pieces-page";
import { partOf } from "../../src/cli/piece";
import { writeDocument } from "../../src/core/document/read";
import { catalogue } from "../../src/core/nodes/catalogue";
import { referencePage } from "../../src/core/nodes/reference";
import { demoNames, readDemo } from "../../src/server/demo";
import { programFile } from "../../src/server/files";
import { graphOf } from "../run-node";

const folder = mkdtempSync(join(tmpdir(), "glemmo-cli-"));
const glemmo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("node", [programFile("glemmo"), ...args], {
    encoding: "utf8",
  });
  return { status, stdout, stderr };
};

describe("glemmo", () => {
  it("prints the nodes as JSON with their ports", () => {
    const nodes = JSON.parse(glemmo("nodes", "--json").stdout) as {
      type: string;
      inputs: object[];
      outputs: object[];
    }[];
    const ring = nodes.find((n) => n.type === "ring-sites");
    expect(ring).toMatchObject({
      family: "layout",
      title: "Ring sites",
      outputs: [{ name: "sites", kind: "shape" }],
    });
    expect(ring?.inputs[0]).toEqual({
      name: "count",
      kind: "number",
      field: false,
      default: 12,
      min: 0,
      about: "How many; in the innermost ring, when there are several.",
    });
  });

  it("prints values as JSON, as promised: 12 jars, or 13", () => {
    const table = JSON.parse(
      glemmo("values", "demo:16-jar-ring", "--node", "ring", "--format", "json").stdout,
    ) as { count: number; domain: string; columns: { position: number[][] } };
    expect([table.count, table.domain, table.columns.position.length]).toEqual([12, "sites", 12]);
    expect(Math.hypot(...table.columns.position[7])).toBeCloseTo(2.6, 5);
  });

  it("prints a plain value at a frame", () => {
    expect(
      glemmo("values", "demo:16-jar-ring", "--node", "turn", "--frame", "25").stdout.trim().split(/\r?\n/),
    ).toEqual(["value", "90"]);
  });

  it("checks demo pieces without a warning", () => {
    // Some of them: all are worked out without a problem elsewhere (pieces.test.ts).
    for (const name of demoNames().filter((_, i) => i % 4 === 0)) {
      const { status, stdout } = glemmo("check", `demo:${name}`);
      expect([status, stdout.trim().split("\n").length]).toEqual([0, 1]);
    }
  }, 60_000);

  it("writes frames", () => {
    const { status, stdout } = glemmo(
      "export",
      "demo:02-petri-rings",
      "--format",
      "csv",
      "--frames",
      "3..4",
      "--out",
      join(folder, "f-####.csv"),
    );
    expect([status, stdout.trim().split("\n").length]).toEqual([0, 2]);
    expect(readFileSync(join(folder, "f-0004.csv"), "utf8").split("\r\n")).toHaveLength(123);
    expect(
      glemmo("export", "demo:16-jar-ring", "--format", "glb", "--out", join(folder, "j.glb")).status,
    ).toBe(0);
    expect(readFileSync(join(folder, "j.glb")).subarray(0, 4).toString()).toBe("glTF");
  }, 30_000);

  it("ends with 1 and a line per error when the piece is wrong", () => {
    const file = join(folder, "bad.glemmo.json");
    writeFileSync(
      file,
      writeDocument(
        graphOf({ ring: { type: "ring-sites", set: { count: 1e9 } }, stage: { type: "stage" } }, [
          "ring.sites>stage.shape",
        ]),
      ),
    );
    const { status, stderr } = glemmo("check", file);
    expect(status).toBe(1);
    expect(stderr).toMatch(/^ring: count: "count" asks for 1 000 million sites.*Set "count" to 4 million$/m);
  });

  it.each([
    [["dance"], /no command "dance"/],
    [["check"], /Which FILE/],
    [["check", "demo:nothing"], /There are: 00-seed-head/],
    [["values", "demo:16-jar-ring", "--node", "ghost"], /There are: ring/],
    [
      ["export", "demo:16-jar-ring", "--format", "fbx", "--out", "x"],
      /one of glb, obj, ply, stl, nrrd, slices, slices-exr, csv/,
    ],
    [["time", "demo:16-jar-ring", "--frames", "9..2"], /backwards/],
    [["check", "x", "--nonsense"], /nonsense/],
  ])("ends with 2 when called wrongly: %j", (args, what) => {
    const { status, stderr } = glemmo(...args);
    expect(status).toBe(2);
    expect(stderr).toMatch(what);
  });

  it("works out one of several parts of a range, which together are the whole, each frame once", () => {
    const ranges = [1, 2, 3].map((i) => partOf([0, 9], `${i}/3`));
    expect(ranges).toEqual([
      [0, 2],
      [3, 5],
      [6, 9],
    ]);
    // More parts than frames leave some empty.
    const [first, last] = partOf([5, 6], "2/4");
    expect(last - first + 1 + (partOf([5, 6], "1/4")[1] - partOf([5, 6], "1/4")[0] + 1)).toBe(1);
    for (const wrong of ["0/3", "4/3", "1", "a/b"])
      expect(() => partOf([0, 9], wrong)).toThrow(/--part is i\/n/);
    const out = join(folder, "part-##.csv");
    const { status, stdout } = glemmo(
      "export",
      "demo:16-jar-ring",
      "--format",
      "csv",
      "--frames",
      "0..5",
      "--part",
      "2/3",
      "--out",
      out,
    );
    expect([
      status,
      stdout
        .trim()
        .split("\n")
        .map((line) => line.slice(-6)),
    ]).toEqual([0, ["02.csv", "03.csv"]]);
  });

  it("has a reference page that is up to date", () => {
    expect(readFileSync("docs/NODES.md", "utf8").trim()).toBe(referencePage().trim());
  });

  it("has a page about how pieces are made that is up to date, and names every node of theirs", () => {
    const page = readFileSync("docs/PIECES.md", "utf8");
    expect(page).toBe(piecesPage());
    for (const name of demoNames()) {
      const { made, graph } = readDemo(name);
      if (made) for (const { id } of graph.nodes) expect(page).toContain(`_${id}_`);
    }
  });

  it("has a picture of every node that shows something, made from the nodes as they are", async () => {
    const written = JSON.parse(readFileSync("src/studio/graph/cards/node-pictures.json", "utf8")) as object;
    expect(written).toEqual(JSON.parse(await picturesText()));
    for (const [type, marks] of Object.entries(written)) {
      expect(catalogue.has(type)).toBe(true);
      for (const [, path] of marks as string[][]) expect(path).not.toMatch(/NaN|Infinity/);
    }
    expect(Object.values(written).filter((marks) => marks.length > 0).length).toBeGreaterThan(
      catalogue.size * 0.8,
    );
  });
});
