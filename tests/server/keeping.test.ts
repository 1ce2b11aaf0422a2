/** What is kept: versions as time passes, copies of days, what can be read of damaged files; and how trouble is told apart. */
import { existsSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import Database from "better-sqlite3";

import { POST as recoverPiece } from "../../src/app/api/pieces/[id]/recover/route";
import { GET as readPieceRoute, PUT as savePieceRoute } from "../../src/app/api/pieces/[id]/route";
import { GET as textRoute } from "../../src/app/api/pieces/[id]/text/route";
import { GET as listRoute } from "../../src/app/api/pieces/route";
import { readDocument } from "../../src/core/document/read";
import { blankDocument } from "../../src/core/document/schema";
import { storeAsset } from "../../src/server/assets";
import { backUp, backupDays, restore } from "../../src/server/backups";
import { connect, type Db, database, openDatabase } from "../../src/server/database";
import { faultOf } from "../../src/server/database-fault";
import { DATABASE_FILE } from "../../src/server/files";
import { fillDemo } from "../../src/server/fill-demo";
import {
  createPiece,
  deletePiece,
  listPieces,
  readPiece,
  restorePiece,
  savePiece,
} from "../../src/server/pieces";
import { recover } from "../../src/server/recover";
import { countRunning, forgetDeleted, runningTime, thinVersions } from "../../src/server/thinning";
import { upkeep } from "../../src/server/upkeep";
import { listVersions, nameVersion, packVersions, readVersion } from "../../src/server/versions";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** Seconds. */
const DAY_OF_RUNNING = 86_400;
const folder = () => mkdtempSync(join(tmpdir(), "glemmo-kept-"));

/** A piece with a version every ten minutes for three days; revision 1 is the oldest. */
function crowded(now: number): { db: Db; id: string } {
  const db = openDatabase(":memory:");
  const { id } = createPiece(db, blankDocument("Old"));
  const insert = db.prepare(
    "INSERT INTO versions (piece, revision, document, saved_at, name) VALUES (?, ?, '{}', ?, ?)",
  );
  const count = 3 * 24 * 6;
  for (let r = 1; r <= count; r++)
    insert.run(id, r, new Date(now - (count - r) * 600_000).toISOString(), r === 5 ? "kept" : null);
  return { db, id };
}

describe("versions thin out", () => {
  const now = Date.parse("2026-11-23T12:00:00Z");

  it("to all of the last hour, one an hour of the last day, one a day before, a step for each day of running", () => {
    const { db, id } = crowded(now);
    const age = (savedAt: string) => (now - Date.parse(savedAt)) / HOUR;
    const left = (from: number, to: number) =>
      listVersions(db, id).filter((v) => v.name === null && age(v.savedAt) >= from && age(v.savedAt) < to)
        .length;
    expect(thinVersions(db, now)).toBe(0);
    countRunning(db, DAY_OF_RUNNING);
    expect(thinVersions(db, now)).toBeGreaterThan(0);
    // Calendar hours 11 back to 12; older ones are one an hour too, at first.
    expect([left(0, 1), left(1, 24), left(24, 99)]).toEqual([6, 24, 48]);
    expect(thinVersions(db, now)).toBe(0);
    countRunning(db, DAY_OF_RUNNING);
    thinVersions(db, now);
    expect([left(0, 1), left(1, 24)]).toEqual([6, 24]);
    expect(left(24, 99)).toBeLessThanOrEqual(3);
    expect(listVersions(db, id).some((v) => v.name === "kept")).toBe(true);
  });

  it("by no clock that jumps: a year ahead for a while removes nothing of today", () => {
    const { db, id } = crowded(now);
    countRunning(db, DAY_OF_RUNNING - 1);
    const before = listVersions(db, id).length;
    const { id: binned } = createPiece(db, blankDocument("In the bin"));
    deletePiece(db, binned);
    for (let start = 0; start < 5; start++) {
      expect(thinVersions(db, now + 365 * DAY)).toBe(0);
      expect(forgetDeleted(db, now + 365 * DAY)).toBe(0);
    }
    expect(listVersions(db, id)).toHaveLength(before);
    expect(restorePiece(db, binned)).toBe(true);
  });

  it("what is kept in the meantime has a day of running of its own", () => {
    const db = openDatabase(":memory:");
    const { id } = createPiece(db, blankDocument("New"));
    countRunning(db, 10 * DAY_OF_RUNNING);
    for (let r = 1; r < 20; r++) savePiece(db, id, blankDocument(`New ${r}`), r);
    expect(thinVersions(db, Date.now() + 40 * DAY)).toBe(0);
    expect(listVersions(db, id)).toHaveLength(19);
    countRunning(db, DAY_OF_RUNNING);
    expect(thinVersions(db, Date.now() + 40 * DAY)).toBeGreaterThan(0);
  });

  it("what was deleted goes after a month, when the server has been running for a day since", () => {
    const db = openDatabase(":memory:");
    const { id } = createPiece(db, blankDocument("Gone"));
    deletePiece(db, id);
    expect(forgetDeleted(db, Date.now() + 40 * DAY)).toBe(0);
    countRunning(db, DAY_OF_RUNNING);
    expect(forgetDeleted(db, Date.now() + 30 * DAY)).toBe(0);
    expect(forgetDeleted(db, Date.now() + 32 * DAY)).toBe(1);
  });
});

describe("versions are packed", () => {
  it("and read back the same, named ones too; the file gives its room back", async () => {
    const data = folder();
    const path = join(data, DATABASE_FILE);
    const db = openDatabase(path);
    fillDemo(db);
    db.pragma("wal_checkpoint(TRUNCATE)");
    const without = statSync(path).size;
    const piece = listPieces(db).find(({ name }) => name === "Petal clock") as { id: string };
    let { document, revision } = readPiece(db, piece.id) as NonNullable<ReturnType<typeof readPiece>>;
    for (let i = 0; i < 400; i++) {
      savePiece(db, piece.id, { ...document, about: `state ${i}` }, revision++);
      ({ document } = readPiece(db, piece.id) as NonNullable<ReturnType<typeof readPiece>>);
    }
    nameVersion(db, piece.id, 10, "ten");
    db.pragma("wal_checkpoint(TRUNCATE)");
    const before = statSync(path).size;
    const tenth = readVersion(db, piece.id, 10);
    await upkeep(db, data, 60);
    db.pragma("wal_checkpoint(TRUNCATE)");
    expect(db.prepare("SELECT count(*) FROM versions WHERE document IS NOT NULL").pluck().get()).toBe(0);
    expect(readVersion(db, piece.id, 10)).toEqual(tenth);
    expect(listVersions(db, piece.id).find((v) => v.revision === 10)?.name).toBe("ten");
    expect(statSync(path).size - without).toBeLessThan((before - without) / 2);
    expect(runningTime(db)).toBe(60);
    expect(packVersions(db, 10)).toBe(0);
    expect(backupDays(data)).toHaveLength(1);
    db.close();
  }, 60_000);
});

describe("copies of the database", () => {
  it("are one a day, seven of them, and one can be put back while what was there is kept", async () => {
    const data = folder();
    const path = join(data, DATABASE_FILE);
    const db = openDatabase(path);
    const { id } = createPiece(db, blankDocument("First"));
    for (let day = 1; day <= 9; day++) {
      expect(await backUp(db, data, new Date(`2026-11-0${day}T08:00:00Z`))).toBe(true);
      expect(await backUp(db, data, new Date(`2026-11-0${day}T20:00:00Z`))).toBe(false);
      savePiece(db, id, blankDocument(`Day ${day}`), day);
    }
    expect(backupDays(data)).toEqual([9, 8, 7, 6, 5, 4, 3].map((day) => `2026-11-0${day}`));
    // In use: a reader that is in the middle of something keeps it.
    db.exec("BEGIN IMMEDIATE");
    await expect(restore(data, "2026-11-05")).rejects.toThrow("Stop it first");
    db.exec("COMMIT");
    db.close();
    await expect(restore(data, "2026-10-01")).rejects.toThrow("no copy of 2026-10-01");
    const aside = (await restore(data, "2026-11-05")) as string;
    const back = openDatabase(path);
    expect(readPiece(back, id)?.document.name).toBe("Day 4");
    back.close();
    const kept = openDatabase(aside);
    expect(readPiece(kept, id)?.document.name).toBe("Day 9");
    kept.close();
  });
});

describe("recovering", () => {
  /** A database with a piece of three versions, a capsule and a file. */
  function filled(): { path: string; data: string } {
    const data = folder();
    const path = join(data, DATABASE_FILE);
    const db = openDatabase(path);
    fillDemo(db);
    const { id } = createPiece(db, blankDocument("Mine"));
    for (let r = 1; r <= 3; r++) savePiece(db, id, blankDocument(`Mine ${r}`), r);
    packVersions(db, 1);
    storeAsset(db, "../up.obj", new TextEncoder().encode("v 0 0 0"));
    db.pragma("wal_checkpoint(TRUNCATE)");
    db.close();
    return { path, data };
  }
  const filesIn = (path: string) => (existsSync(path) ? readdirSync(path) : []);

  it("writes pieces, versions of both kinds, capsules and files", () => {
    const { path, data } = filled();
    const out = join(data, "recovered");
    const found = recover(path, out);
    expect(found).toMatchObject({ versions: 3, lost: 0 });
    expect(found.pieces).toBeGreaterThan(15);
    expect(found.capsules).toBeGreaterThanOrEqual(10);
    expect(filesIn(join(out, "versions"))).toHaveLength(3);
    for (const part of ["versions", "capsules"])
      for (const file of filesIn(join(out, part)))
        expect(readDocument(readFileSync(join(out, part, file), "utf8")).ok).toBe(true);
    expect(filesIn(out).some((file) => file.endsWith("-up.obj"))).toBe(true);
  });

  it("goes through all pages when the first one is lost", () => {
    const { path, data } = filled();
    const bytes = readFileSync(path);
    bytes.fill(0x5a, 0, 4096);
    writeFileSync(path, bytes);
    expect(() => openDatabase(path)).toThrow("is damaged");
    const out = join(data, "recovered");
    const found = recover(path, out);
    expect(found.pieces).toBeGreaterThan(10);
    expect(found.files).toBeGreaterThan(0);
    const texts = filesIn(out)
      .filter((file) => file.endsWith(".glemmo.json"))
      .map((file) => readFileSync(join(out, file), "utf8"));
    expect(texts.every((text) => readDocument(text).ok)).toBe(true);
    expect(texts.some((text) => text.includes('"name": "Mine 3"'))).toBe(true);
  }, 60_000);
});

describe("one piece whose text is damaged", () => {
  const at = <P>(params: P) => ({ params: Promise.resolve(params) });
  const request = (init?: RequestInit) => new Request("http://127.0.0.1:4310/api", init);

  it.each([
    ["no JSON", "{ half of it", true],
    ["JSON of something else", '{"glemmo":1,"name":"x"}', true],
    ["a document with a fault inside", JSON.stringify({ ...blankDocument("x"), settings: 5 }), false],
  ])("(%s) hides no other, is told, and comes back from its versions", async (_what, text, isSeen) => {
    const db = database();
    const { id } = createPiece(db, blankDocument("Precious"));
    savePiece(db, id, blankDocument("Precious 2"), 1);
    savePiece(db, id, blankDocument("Precious 3"), 2);
    const other = createPiece(db, blankDocument("Sound"));
    db.prepare("UPDATE pieces SET document = ? WHERE id = ?").run(text, id);
    db.prepare("UPDATE versions SET document = 'also damaged' WHERE piece = ? AND revision = 2").run(id);
    const listed = await listRoute(request(), at({}));
    expect(listed.status).toBe(200);
    const { pieces } = (await listed.json()) as { pieces: { id: string; name: string; damaged: boolean }[] };
    expect(pieces.find((p) => p.id === id)).toMatchObject({ name: "Precious 3", damaged: isSeen });
    expect(pieces.find((p) => p.id === other.id)).toMatchObject({ name: "Sound", damaged: false });
    const read = await readPieceRoute(request(), at({ id }));
    expect(read.status).toBe(410);
    expect(JSON.stringify(await read.json())).toContain("“Precious 3” is damaged");
    expect(await (await textRoute(request(), at({ id }))).text()).toBe(text);
    const back = (await (await recoverPiece(request(), at({ id }))).json()) as { id: string };
    expect(readPiece(db, back.id)?.document.name).toBe("Precious (recovered)");
    // The damaged one is still there, to be looked at.
    expect(await (await textRoute(request(), at({ id }))).text()).toBe(text);
  });
});

describe("trouble with the database", () => {
  it("a full disk is a full disk, also over the wire, and what was stored is safe", async () => {
    const db = database();
    const { id } = createPiece(db, blankDocument("Before"));
    db.pragma(`max_page_count = ${db.pragma("page_count", { simple: true })}`);
    const blank = blankDocument("After");
    const node = { id: "a", type: "text", at: [0, 0], set: { text: "x".repeat(4_000_000) } };
    const many = { ...blank, graph: { nodes: [node], links: [] } };
    const response = await savePieceRoute(
      new Request("http://127.0.0.1:4310/", {
        method: "PUT",
        body: JSON.stringify({ base: 1, document: many }),
      }),
      { params: Promise.resolve({ id }) },
    );
    db.pragma("max_page_count = 1073741823");
    expect(response.status).toBe(507);
    expect(JSON.stringify(await response.json())).toMatch(/disk .* is full/);
    expect(readPiece(db, id)?.document.name).toBe("Before");
  });

  it("a sound file that cannot be written is not called damaged", () => {
    const path = join(folder(), "g.db");
    openDatabase(path).close();
    const db = new Database(path, { readonly: true });
    let fault: Error | null = null;
    try {
      db.exec("CREATE TABLE x (y)");
    } catch (error) {
      fault = faultOf(error, path);
    }
    db.close();
    expect(fault).toMatchObject({ trouble: "closed" });
    expect(fault?.message).toMatch(/read-only.*Nothing is wrong with what is in it/);
    for (const code of ["EACCES", "EROFS", "SQLITE_CANTOPEN", "SQLITE_READONLY_DIRECTORY"])
      expect(faultOf(Object.assign(new Error("x"), { code }), path)).toMatchObject({ trouble: "closed" });
    expect(faultOf(Object.assign(new Error("x"), { code: "ENOSPC" }), path)).toMatchObject({
      trouble: "full",
    });
    expect(faultOf(new Error("database disk image is malformed"), path)).toBeNull();
  });

  it("a file of something else is damaged, and one that is in use is busy", () => {
    const path = join(folder(), "g.db");
    writeFileSync(path, "hello ".repeat(2000));
    expect(() => openDatabase(path)).toThrow(expect.objectContaining({ trouble: "damaged" }));
    const used = join(folder(), "g.db");
    const holder = openDatabase(used);
    holder.exec("BEGIN EXCLUSIVE");
    const other = connect(used);
    other.pragma("busy_timeout = 10");
    let fault: Error | null = null;
    try {
      createPiece(other, blankDocument("x"));
    } catch (error) {
      fault = faultOf(error, used);
    }
    expect(fault).toMatchObject({ trouble: "busy" });
    holder.exec("COMMIT");
  });
});
