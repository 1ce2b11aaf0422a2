/** Route handlers and storage, against a database of their own. */
import { createHash } from "node:crypto";
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { unzipSync, zipSync } from "fflate";

import { GET as getAsset } from "../../src/app/api/assets/[hash]/route";
import { POST as postAsset } from "../../src/app/api/assets/route";
import { POST as openBundle } from "../../src/app/api/bundles/route";
import { GET as getBundle } from "../../src/app/api/pieces/[id]/bundle/route";
import { POST as restore } from "../../src/app/api/pieces/[id]/restore/route";
import { DELETE, GET, PUT } from "../../src/app/api/pieces/[id]/route";
import { PUT as putTags } from "../../src/app/api/pieces/[id]/tags/route";
import { GET as getThumbnail, PUT as putThumbnail } from "../../src/app/api/pieces/[id]/thumbnail/route";
import {
  GET as getVersion,
  PUT as putVersion,
} from "../../src/app/api/pieces/[id]/versions/[revision]/route";
import { GET as getVersions } from "../../src/app/api/pieces/[id]/versions/route";
import { GET as list, POST } from "../../src/app/api/pieces/route";
import { readDocument, writeDocument } from "../../src/core/document/read";
import { blankDocument } from "../../src/core/document/schema";
import { refusalOf } from "../../src/server/caller";
import { database, openDatabase } from "../../src/server/database";
import { DatabaseFault } from "../../src/server/database-fault";
import { fillDemo } from "../../src/server/fill-demo";
import { LIMITS } from "../../src/server/http";
import { HttpFault } from "../../src/server/http-fault";
import { openBundle as readBundle } from "../../src/server/open-bundle";
import { createPiece, listPieces, readPiece } from "../../src/server/pieces";
import { recover } from "../../src/server/recover";
import { countRunning, forgetDeleted } from "../../src/server/thinning";
import { readFile } from "../../src/server/threads/read-file";

type Init = { method?: string; body?: BodyInit; headers?: Record<string, string>; query?: string };
const request = ({ query = "", headers, ...init }: Init = {}) =>
  new Request(`http://127.0.0.1:4310/api${query}`, {
    ...init,
    headers: { host: "127.0.0.1:4310", ...headers },
  });
const json = (method: string, body: unknown) => request({ method, body: JSON.stringify(body) });
const at = <P>(params: P) => ({ params: Promise.resolve(params) });
const nowhere = at({});
const read = async (response: Response) =>
  (await response.json()) as Record<string, never> & { faults: { where?: string; what: string }[] };

async function create(name = "A piece"): Promise<string> {
  const response = await POST(json("POST", { document: blankDocument(name) }), nowhere);
  expect(response.status).toBe(201);
  return (await read(response)).id;
}

describe("pieces", () => {
  it("are created, read, saved, listed and deleted", async () => {
    const id = await create();
    const saved = await PUT(json("PUT", { base: 1, document: blankDocument("Renamed") }), at({ id }));
    expect(await saved.json()).toEqual({ revision: 2 });
    expect(await (await GET(request(), at({ id }))).json()).toMatchObject({
      id,
      revision: 2,
      document: { name: "Renamed" },
    });
    const { pieces } = (await (await list(request(), nowhere)).json()) as {
      pieces: { id: string; name: string }[];
    };
    expect(pieces.find((p) => p.id === id)).toMatchObject({
      name: "Renamed",
      loop: true,
      first: 0,
      last: 199,
      thumbnailFrames: null,
    });
    expect((await DELETE(request(), at({ id }))).status).toBe(204);
    expect((await GET(request(), at({ id }))).status).toBe(404);
  });

  it("are not saved over a newer revision", async () => {
    const id = await create();
    await PUT(json("PUT", { base: 1, document: blankDocument("Mine") }), at({ id }));
    const late = await PUT(json("PUT", { base: 1, document: blankDocument("Theirs") }), at({ id }));
    expect(late.status).toBe(409);
    expect(await late.json()).toMatchObject({ revision: 2 });
    expect(await (await GET(request(), at({ id }))).json()).toMatchObject({ document: { name: "Mine" } });
  });

  it("refuse what does not validate, with where and what, and keep what was saved", async () => {
    const id = await create("Kept");
    const broken = { ...blankDocument("x"), settings: { ...blankDocument("x").settings, fps: 0 } };
    const response = await PUT(json("PUT", { base: 1, document: broken }), at({ id }));
    expect(response.status).toBe(400);
    expect((await read(response)).faults[0].where).toBe("settings.fps");
    expect(await (await GET(request(), at({ id }))).json()).toMatchObject({
      revision: 1,
      document: { name: "Kept" },
    });
  });

  it("answer 2,000 mutated bodies with a status and never a crash", async () => {
    const id = await create();
    const text = JSON.stringify({ base: 1, document: blankDocument("x") });
    await fc.assert(
      fc.asyncProperty(
        fc.nat(text.length),
        fc.nat(6),
        fc.string({ maxLength: 4 }),
        async (from, cut, put) => {
          const body = text.slice(0, from) + put + text.slice(from + cut);
          const { status } = await PUT(request({ method: "PUT", body }), at({ id }));
          expect([200, 400, 409]).toContain(status);
        },
      ),
      { numRuns: 2000 },
    );
  }, 60_000);
});

describe("deleting", () => {
  it("can be undone, keeps the piece off the shelf meanwhile, and is final after a month", async () => {
    const id = await create("Gone");
    const listed = async () =>
      ((await (await list(request(), nowhere)).json()) as { pieces: { id: string }[] }).pieces.some(
        (p) => p.id === id,
      );
    expect((await DELETE(request(), at({ id }))).status).toBe(204);
    expect(await listed()).toBe(false);
    expect((await PUT(json("PUT", { base: 1, document: blankDocument("x") }), at({ id }))).status).toBe(404);
    expect((await restore(request({ method: "POST" }), at({ id }))).status).toBe(204);
    expect(await listed()).toBe(true);
    expect((await restore(request({ method: "POST" }), at({ id }))).status).toBe(404);
    await DELETE(request(), at({ id }));
    countRunning(database(), 86_400);
    expect(forgetDeleted(database(), Date.now() + 30 * 24 * 3_600_000)).toBe(0);
    expect(forgetDeleted(database(), Date.now() + 32 * 24 * 3_600_000)).toBeGreaterThan(0);
    expect((await restore(request({ method: "POST" }), at({ id }))).status).toBe(404);
  });
});

describe("versions", () => {
  it("keep every save, can be named and read back", async () => {
    const id = await create("First");
    await PUT(json("PUT", { base: 1, document: blankDocument("Second") }), at({ id }));
    await PUT(json("PUT", { base: 2, document: blankDocument("Third") }), at({ id }));
    const versions = async () =>
      (
        (await (await getVersions(request(), at({ id }))).json()) as {
          versions: { revision: number; name: string | null }[];
        }
      ).versions;
    expect((await versions()).map((v) => v.revision)).toEqual([2, 1]);
    expect(
      (await putVersion(json("PUT", { name: "  the good one " }), at({ id, revision: "1" }))).status,
    ).toBe(204);
    expect((await versions())[1]).toMatchObject({ name: "the good one" });
    expect(await (await getVersion(request(), at({ id, revision: "1" }))).json()).toMatchObject({
      document: { name: "First" },
    });
    // The present state can be named too.
    expect((await putVersion(json("PUT", { name: "now" }), at({ id, revision: "3" }))).status).toBe(204);
    expect((await versions())[0]).toMatchObject({ revision: 3, name: "now" });
    expect((await putVersion(json("PUT", { name: "x" }), at({ id, revision: "99" }))).status).toBe(404);
    expect((await putVersion(json("PUT", { name: "" }), at({ id, revision: "1" }))).status).toBe(400);
  });
});

describe("callers", () => {
  const asked = (headers: Record<string, string>, method = "GET", address = "/") =>
    refusalOf({ method, address, header: (name) => ({ host: "127.0.0.1:4310", ...headers })[name] });

  it.each([
    [{ origin: "http://elsewhere.example" }],
    [{ host: "elsewhere.example" }],
    [{ host: "127.0.0.1.elsewhere.example" }],
    [{ host: "" }],
    [{ "sec-fetch-site": "cross-site" }],
    [{ origin: "http://127.0.0.1:9999" }],
    [{ origin: "null" }],
  ])("with %j are refused, whatever they ask for", (headers) => {
    for (const address of ["/", "/piece/x", "/api/pieces", "/_next/static/x.js"])
      expect(asked(headers, "GET", address)?.status).toBe(403);
  });

  it("on this machine are answered, also those that follow a link", () => {
    expect(
      asked({ host: "localhost:4310", origin: "http://localhost:4310", "sec-fetch-site": "same-origin" }),
    ).toBeNull();
    expect(asked({ "sec-fetch-site": "cross-site", "sec-fetch-mode": "navigate" })).toBeNull();
    expect(asked({ host: "[::1]:4310" })).toBeNull();
  });

  it("ask for sound addresses, by methods that are answered", () => {
    expect(asked({}, "GET", "/piece/%E0%A4%A")).toMatchObject({
      status: 400,
      what: expect.stringContaining("%"),
    });
    expect(asked({}, "GET", "/%")?.status).toBe(400);
    expect(asked({}, "GET", "/piece/a%20b?file=%")).toBeNull();
    expect(asked({}, "TRACE")?.status).toBe(405);
  });
});

describe("assets", () => {
  const obj = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";

  it("are stored once by their content and given back byte for byte", async () => {
    const send = (file: string) =>
      postAsset(request({ method: "POST", body: obj, query: `/assets?file=${file}` }), nowhere);
    const first = (await (await send("a.obj")).json()) as { hash: string };
    // SHA-256 as FIPS 180-4 has it, by Node's own implementation.
    expect(first).toEqual({
      hash: expect.stringMatching(/^[0-9a-f]{64}$/),
      file: "a.obj",
      bytes: obj.length,
    });
    expect(((await (await send("b.obj")).json()) as { hash: string }).hash).toBe(first.hash);
    expect(await (await getAsset(request(), at({ hash: first.hash }))).text()).toBe(obj);
    expect((await getAsset(request(), at({ hash: "0".repeat(64) }))).status).toBe(404);
  });

  it("are refused when they cannot be read, with the file and the line", async () => {
    const response = await postAsset(
      request({ method: "POST", body: "v 0 0 0\nf 1 2 3\n", query: "/assets?file=bad.obj" }),
      nowhere,
    );
    expect(response.status).toBe(422);
    expect((await read(response)).faults[0].what).toMatch(/"bad.obj": line 2/);
  });

  it("are refused over the limit before they are read", async () => {
    const response = await postAsset(
      request({
        method: "POST",
        body: "x",
        query: "/assets?file=a.obj",
        headers: { "content-length": String(LIMITS.asset + 1) },
      }),
      nowhere,
    );
    expect(response.status).toBe(413);
    expect((await read(response)).faults[0].what).toBe("That is over the limit of 256 MB.");
  });

  it("are refused over the limit while they arrive, when no length was told", async () => {
    const id = await create();
    const endless = new ReadableStream({ pull: (c) => c.enqueue(new Uint8Array(1024 * 1024)) });
    const big = new Request(`http://127.0.0.1:4310/?revision=1&frames=1`, {
      method: "PUT",
      body: endless,
      headers: { host: "127.0.0.1:4310", "content-type": "image/webp" },
      duplex: "half",
    } as RequestInit);
    expect((await putThumbnail(big, at({ id }))).status).toBe(413);
  });

  it("need a plain file name", async () => {
    for (const file of ["", "../x.obj", "a/b.obj"]) {
      const response = await postAsset(
        request({ method: "POST", body: obj, query: `/assets?file=${encodeURIComponent(file)}` }),
        nowhere,
      );
      expect(response.status).toBe(400);
    }
  });
});

describe("files that take long or much", () => {
  // Reading it takes seconds; no fault is in it.
  const long = new TextEncoder().encode(`x,y,z\n${"1,2,3\n".repeat(1_500_000)}`);

  it("hold up nobody: a piece is saved while one is being read", async () => {
    const id = await create("Meanwhile");
    let isRead = false;
    const reading = postAsset(
      request({ method: "POST", body: long, query: "/assets?file=long.csv" }),
      nowhere,
    ).then((response) => {
      isRead = true;
      return response.status;
    });
    // The body has been taken in, and the thread works.
    await new Promise((done) => setTimeout(done, 300));
    const saved = await PUT(json("PUT", { base: 1, document: blankDocument("Saved") }), at({ id }));
    expect(saved.status).toBe(200);
    expect(isRead).toBe(false);
    expect(await reading).toBe(201);
  }, 60_000);

  it("are given up in words when they take too long or too much, and when nobody waits any more", async () => {
    const question = { kind: "asset", file: "long.csv", bytes: long } as const;
    const limits = { milliseconds: 60_000, heap: 512, memory: 2048 };
    await expect(readFile(question, undefined, { ...limits, milliseconds: 250 })).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining("seconds to read"),
    });
    await expect(readFile(question, undefined, { ...limits, heap: 16 })).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining("more memory"),
    });
    await expect(readFile(question, undefined, { ...limits, memory: 40 })).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining("more memory"),
    });
    await expect(readFile(question, AbortSignal.timeout(200), limits)).rejects.toMatchObject({ status: 499 });
    // And the next one is read.
    const small = new TextEncoder().encode("x,y,z\n1,2,3\n");
    await expect(readFile({ kind: "asset", file: "a.csv", bytes: small })).resolves.toMatchObject({
      ok: true,
    });
  }, 60_000);
});

describe("thumbnails", () => {
  it("belong to a revision: a newer one asks for a new picture", async () => {
    const id = await create();
    const put = await putThumbnail(
      request({
        method: "PUT",
        body: "picture",
        headers: { "content-type": "image/webp" },
        query: "/t?revision=1&frames=12",
      }),
      at({ id }),
    );
    expect(put.status).toBe(204);
    expect(await (await getThumbnail(request(), at({ id }))).text()).toBe("picture");
    const framesOf = async () =>
      (
        (await (await list(request(), nowhere)).json()) as {
          pieces: { id: string; thumbnailFrames: number }[];
        }
      ).pieces.find((p) => p.id === id)?.thumbnailFrames;
    expect(await framesOf()).toBe(12);
    await PUT(json("PUT", { base: 1, document: blankDocument("moved on") }), at({ id }));
    expect(await framesOf()).toBeNull();
  });
});

describe("the database", () => {
  it("is filled with the demo pieces once", () => {
    const db = openDatabase(":memory:");
    const added = fillDemo(db);
    expect(added).toBeGreaterThanOrEqual(3);
    expect(fillDemo(db)).toBe(0);
    expect(listPieces(db)).toHaveLength(added);
    expect(listPieces(db)[0].name).toBe("Seed head, breathing");
  });

  it("opens again with what was saved, in WAL mode, without a backup when nothing migrates", () => {
    const folder = mkdtempSync(join(tmpdir(), "glemmo-db-"));
    const path = join(folder, "g.db");
    const db = openDatabase(path);
    expect(db.pragma("journal_mode", { simple: true })).toBe("wal");
    fillDemo(db);
    db.close();
    const again = openDatabase(path);
    expect(listPieces(again).length).toBeGreaterThanOrEqual(3);
    again.close();
    expect(readdirSync(folder).filter((f) => f.includes("before"))).toEqual([]);
  });

  it("is copied before it is migrated, and keeps its pieces", () => {
    const folder = mkdtempSync(join(tmpdir(), "glemmo-db-"));
    const path = join(folder, "g.db");
    const old = openDatabase(path);
    const { id } = createPiece(old, blankDocument("From before"));
    // As version 1 left it, with documents from before there were capsules.
    old.exec(`DROP TABLE versions; DROP TABLE capsule_versions; DROP TABLE capsules;
      ALTER TABLE pieces DROP COLUMN deleted_at; ALTER TABLE pieces DROP COLUMN deleted_ran; DROP TABLE upkeep; PRAGMA user_version = 1;
      UPDATE pieces SET document = json_remove(document, '$.capsules');`);
    old.close();
    const migrated = openDatabase(path);
    expect(listPieces(migrated).map((p) => p.name)).toEqual(["From before"]);
    expect(readPiece(migrated, id)?.document.capsules).toEqual({});
    expect(migrated.pragma("user_version", { simple: true })).toBeGreaterThan(1);
    migrated.close();
    const copies = readdirSync(folder).filter((f) => f.includes("before"));
    expect(copies).toEqual(["g.db.before-2"]);
    expect(readFileSync(join(folder, copies[0])).subarray(0, 15).toString()).toBe("SQLite format 3");
  });

  it("refuses a file that is no database, and leaves it as it is", () => {
    const path = join(mkdtempSync(join(tmpdir(), "glemmo-db-")), "g.db");
    writeFileSync(path, writeDocument(blankDocument("not a database")).repeat(20));
    const before = readFileSync(path);
    expect(() => openDatabase(path)).toThrow(DatabaseFault);
    expect(() => openDatabase(path)).toThrow(/is damaged.*run recover/);
    expect(readFileSync(path).equals(before)).toBe(true);
  });

  it("tells when a page of it is damaged, and writes what can still be read", () => {
    const folder = mkdtempSync(join(tmpdir(), "glemmo-db-"));
    const path = join(folder, "glemmo.db");
    const db = openDatabase(path);
    fillDemo(db);
    for (let i = 0; i < 40; i++) createPiece(db, blankDocument(`Piece ${i} ${"x".repeat(90)}`));
    db.pragma("wal_checkpoint(TRUNCATE)");
    db.close();
    const bytes = readFileSync(path);
    // A page in the middle is overwritten, as by a failing disk.
    bytes.fill(0x5a, Math.floor(bytes.length / 8192) * 4096, Math.floor(bytes.length / 8192) * 4096 + 4096);
    writeFileSync(path, bytes);
    expect(() => openDatabase(path)).toThrow(DatabaseFault);
    const found = recover(path, join(folder, "recovered"));
    expect(found.pieces).toBeGreaterThan(30);
    const files = readdirSync(join(folder, "recovered")).filter((f) => f.endsWith(".glemmo.json"));
    expect(files).toHaveLength(found.pieces);
    expect(readDocument(readFileSync(join(folder, "recovered", files[0]), "utf8")).ok).toBe(true);
  });
});

describe("bundles and tags", () => {
  const CUBE = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
  const bytesOf = (text: string) => new TextEncoder().encode(text);

  /** A piece with one file, packed. */
  async function pack(): Promise<{ id: string; bytes: Uint8Array }> {
    const stored = await postAsset(
      request({ method: "POST", query: "/assets?file=leaf.obj", body: CUBE }),
      nowhere,
    );
    const asset = (await stored.json()) as { hash: string; file: string; bytes: number };
    const document = { ...blankDocument("With a file"), assets: { leaf: asset } };
    const made = await POST(json("POST", { document }), nowhere);
    const { id } = await read(made);
    const response = await getBundle(request(), at({ id }));
    expect(response.headers.get("content-disposition")).toContain('filename="with-a-file.zip"');
    return { id, bytes: new Uint8Array(await response.arrayBuffer()) };
  }
  const open = (file: string, bytes: Uint8Array) =>
    openBundle(
      request({
        method: "POST",
        query: `/bundles?file=${encodeURIComponent(file)}`,
        body: new Uint8Array(bytes),
      }),
      nowhere,
    );

  it("packs a piece with its files as a plain zip and opens it again", async () => {
    const { id, bytes } = await pack();
    // APPNOTE 6.3.3, 4.3.7: local file header signature.
    expect([...bytes.subarray(0, 4)]).toEqual([0x50, 0x4b, 3, 4]);
    const entries = unzipSync(bytes);
    expect(Object.keys(entries).sort()).toEqual(["assets/leaf.obj", "piece.glemmo.json"]);
    expect(new TextDecoder().decode(entries["assets/leaf.obj"])).toBe(CUBE);
    database().prepare("DELETE FROM assets").run();
    const opened = await open("with-a-file.zip", bytes);
    expect(opened.status).toBe(201);
    const again = await read(opened);
    expect(again.id).not.toBe(id);
    const { document } = (await (await GET(request(), at({ id: again.id as string }))).json()) as {
      document: { assets: { leaf: { hash: string } } };
    };
    expect((await getAsset(request(), at({ hash: document.assets.leaf.hash }))).status).toBe(200);
  });

  it("says which file is missing, and stores nothing then", async () => {
    const { bytes } = await pack();
    database().prepare("DELETE FROM assets").run();
    const count = listPieces(database()).length;
    const alone = unzipSync(bytes)["piece.glemmo.json"];
    const refused = await open("x.glemmo.json", alone);
    expect(refused.status).toBe(422);
    expect((await read(refused)).faults[0].what).toContain('"leaf.obj"');
    // A file of the same name with other bytes is not the file.
    const other = zipSync({ "piece.glemmo.json": alone, "assets/leaf.obj": bytesOf("v 0 0 0") });
    expect((await open("x.zip", other)).status).toBe(422);
    expect(listPieces(database())).toHaveLength(count);
  });

  it.each([
    ["x.zip", bytesOf("PK nonsense"), "not a readable .zip"],
    ["x.zip", zipSync({ "readme.txt": bytesOf("hello") }), "holds no piece.glemmo.json"],
    ["x.glemmo.json", bytesOf("{"), "not JSON"],
    ["x.glemmo.json", bytesOf('{"glemmo":1}'), "name"],
    ["x.exe", bytesOf("MZ"), "cannot be opened"],
  ])("refuses %s in words", async (file, bytes, what) => {
    const response = await open(file, bytes);
    expect(response.status).toBe(422);
    expect(JSON.stringify((await read(response)).faults)).toContain(what);
  });

  it("takes 1,000 mutated zips for a piece or says what is wrong", async () => {
    const { bytes } = await pack();
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.nat(255), (place, byte) => {
        const mutated = bytes.slice();
        mutated[place] = byte;
        try {
          expect(readBundle("x.zip", mutated).document.name).toBeTruthy();
        } catch (error) {
          expect(error).toBeInstanceOf(HttpFault);
          expect((error as HttpFault).message).not.toMatch(/undefined|is not a function|Cannot read/);
        }
      }),
      { numRuns: 1000 },
    );
  });

  it("does not unpack what no piece would be", async () => {
    const bomb = zipSync({
      "piece.glemmo.json": bytesOf("{}"),
      "assets/a.obj": new Uint8Array(90 * 2 ** 20),
    });
    expect(bomb.length).toBeLessThan(2 ** 20);
    const refused = await open("bomb.zip", bomb);
    expect(refused.status).toBe(413);
    expect((await read(refused)).faults[0].what).toContain("would unpack to more than");
  }, 60_000);

  it("cleans names of files on the way in and out", async () => {
    const document = {
      ...blankDocument("Names"),
      assets: Object.fromEntries(
        ["../../etc/leaf.obj", "C:\\temp\\leaf.obj", "le\u0000af.obj", "con.obj", "..", "leaf.obj"].map(
          (file, i) => [
            `a${i}`,
            { hash: createHash("sha256").update(`v ${i} 0 0`).digest("hex"), file, bytes: 7 },
          ],
        ),
      ),
    };
    const zip = zipSync({
      "piece.glemmo.json": bytesOf(JSON.stringify(document)),
      ...Object.fromEntries(
        Object.keys(document.assets).map((_, i) => [`assets/x${i}`, bytesOf(`v ${i} 0 0`)]),
      ),
    });
    const opened = await read(await open("names.zip", zip));
    const again = (await (await GET(request(), at({ id: opened.id as string }))).json()) as {
      document: { assets: Record<string, { file: string }> };
    };
    const clean = ["leaf.obj", "leaf.obj", "le_af.obj", "_con.obj", "file", "leaf.obj"];
    expect(Object.values(again.document.assets).map(({ file }) => file)).toEqual(clean);
    const packed = await getBundle(request(), at({ id: opened.id as string }));
    for (const name of Object.keys(unzipSync(new Uint8Array(await packed.arrayBuffer()))))
      expect(name).toMatch(
        /^(piece\.glemmo\.json|assets\/([0-9a-f]{8}-)?(leaf|le_af|_con)\.obj|assets\/file)$/,
      );
  });

  it("sets tags as a save of its own and lists them", async () => {
    const id = await create("Tagged");
    const response = await putTags(json("PUT", { tags: ["wall", "wall", " loop "] }), at({ id }));
    expect(await response.json()).toEqual({ revision: 2, tags: ["wall", "loop"] });
    expect(listPieces(database()).find((p) => p.id === id)?.tags).toEqual(["wall", "loop"]);
    expect((await putTags(json("PUT", { tags: ["x".repeat(41)] }), at({ id }))).status).toBe(400);
  });
});
