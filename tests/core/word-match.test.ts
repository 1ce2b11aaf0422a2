/** What is found under typed words; common practice, no source. */
import { foundUnder, matchOf } from "../../src/ui/word-match";

const things = [
  { title: "Duplicate the chosen nodes" },
  { title: "Plane", synonyms: ["sheet", "floor"], about: "A flat surface of squares." },
  { title: "Pack the chosen nodes into a capsule" },
  { title: "Noise", synonyms: ["hills", "seed noise"] },
];
const titles = (words: string) => foundUnder(words, things, (thing) => thing).map(({ title }) => title);

describe("what is found under words", () => {
  it("holds the words themselves, not their letters strewn over a line", () => {
    expect(titles("plane")).toEqual(["Plane"]);
    expect(titles("noise")).toEqual(["Noise"]);
    expect(titles("plnae")).toEqual([]);
  });

  it("holds all of them, in any order and case", () => {
    expect(titles("NODES chosen")).toEqual([
      "Duplicate the chosen nodes",
      "Pack the chosen nodes into a capsule",
    ]);
    expect(titles("plane noise")).toEqual([]);
    expect(titles("  ")).toEqual(things.map(({ title }) => title));
  });

  it("puts words that stand as they were typed first", () => {
    const links = [{ title: "Link b.shape to a.shape" }, { title: "Link a.shape to b.shape" }];
    const first = (words: string) => foundUnder(words, links, (link) => link)[0];
    expect(first("link a.shape to b.shape")).toBe(links[1]);
    expect(first("b.shape to a.shape")).toBe(links[0]);
  });

  it("ranks beginnings before middles, titles before synonyms, those before meanings", () => {
    const scores = [
      matchOf("pla", { title: "Plane" }),
      matchOf("lan", { title: "Plane" }),
      matchOf("she", { title: "Plane", synonyms: ["sheet"] }),
      matchOf("she", { title: "Plane", synonyms: ["floor", "Sheet"] }),
      matchOf("hee", { title: "Plane", synonyms: ["sheet"] }),
      matchOf("squ", { title: "Plane", about: "A flat surface of squares." }),
    ];
    expect(scores).toEqual([...scores].sort((a, b) => b - a));
    expect(new Set(scores).size).toBe(scores.length);
    expect(scores[5]).toBeGreaterThan(0);
  });
});
