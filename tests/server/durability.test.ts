/** A stream of saves is cut by kill -9, again and again: no acknowledged save is lost, and the database is sound. */
import { spawn } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { blankDocument } from "../../src/core/document/schema";
import { openDatabase } from "../../src/server/database";
import { createPiece, readPiece } from "../../src/server/pieces";

/** Saves for ever, printing each revision only after it was saved. */
const WRITER = `
import { openDatabase } from ${JSON.stringify(join(process.cwd(), "src/server/database.ts"))};
import { readPiece, savePiece } from ${JSON.stringify(join(process.cwd(), "src/server/pieces.ts"))};
const [path, id] = process.argv.slice(2);
const db = openDatabase(path);
let { revision, document } = readPiece(db, id);
for (;;) {
  const saved = savePiece(db, id, { ...document, name: "save " + (revision + 1) }, revision);
  if (!saved.ok) throw new Error("refused");
  revision = saved.revision;
  process.stdout.write(revision + "\\n");
}
`;

/** Runs the writer until it has acknowledged `saves`, then kills it; the last revision it acknowledged. */
function writeAndKill(script: string, path: string, id: string, saves: number): Promise<number> {
  return new Promise((done, fail) => {
    const writer = spawn("node", ["--import", "tsx", script, path, id], {
      stdio: ["ignore", "pipe", "inherit"],
    });
    let text = "";
    writer.stdout.on("data", (chunk: Buffer) => {
      text += chunk.toString();
      if (text.split("\n").length > saves) writer.kill("SIGKILL");
    });
    writer.on("close", () => {
      const lines = text.split("\n").slice(0, -1);
      if (lines.length === 0) fail(new Error("The writer acknowledged nothing."));
      else done(Number(lines[lines.length - 1]));
    });
  });
}

it("keeps every acknowledged save through five kills", async () => {
  const folder = mkdtempSync(join(tmpdir(), "glemmo-kill-"));
  const path = join(folder, "g.db");
  const script = join(folder, "writer.mts");
  writeFileSync(script, WRITER);
  const db = openDatabase(path);
  const { id } = createPiece(db, blankDocument("start"));
  db.close();
  for (let round = 0; round < 5; round++) {
    const acknowledged = await writeAndKill(script, path, id, 3 + round * 7);
    const again = openDatabase(path);
    const piece = readPiece(again, id);
    expect(piece?.revision).toBeGreaterThanOrEqual(acknowledged);
    expect(piece?.document.name).toBe(`save ${piece?.revision}`);
    expect(again.pragma("integrity_check", { simple: true })).toBe("ok");
    again.close();
  }
}, 60_000);
