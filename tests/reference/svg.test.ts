/** Drawings read as outlines, against the SVG specification's own examples and figures derived from it. */
import fc from "fast-check";
import type { AssetLookup } from "../../src/core/evaluate/options";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { readSvg } from "../../src/core/formats/read/svg";
import { type Curves, curveLengths } from "../../src/core/geometry/curves";
import { meshArea } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import { evaluate, graphOf } from "../run-node";
import { signedArea } from "../shoelace";

const read = (body: string, attributes = 'viewBox="0 0 400 400"') =>
  readSvg(new TextEncoder().encode(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`));
const curvesOf = (body: string, attributes?: string): Curves => {
  const { shape } = read(body, attributes);
  expect(validateShape(shape)).toEqual([]);
  return shape.curves as Curves;
};
/** In units of the drawing, y down, as it has them. */
const places = ({ points }: Curves, size = 400): number[][] => {
  const [x, y] = points.columns.position.lanes;
  return Array.from({ length: points.count }, (_, i) => [x[i] * 100 + size / 2, size / 2 - y[i] * 100]);
};
const lengths = (curves: Curves): number[] => [...curveLengths(curves)].map((length) => length * 100);

describe("paths", () => {
  it.each([
    [
      "the smooth cubic of § 8.3.6 [CUR-05]",
      "M100,200 C100,100 250,100 250,200 S400,300 400,200",
      475.747298896,
      0.6,
    ],
    ["the arc of § 8.3.8 [CUR-14]", "M150,200 a150,150 0 1,0 150,-150", 706.8583471, 0.6],
    ["a turned arc [CUR-15], a hundred times as large", "M0,0 A200,100 30 0 1 200,100", 227.3019434, 0.3],
    [
      "an arc whose radii are too small [CUR-17], scaled to a half circle",
      "M0,0 A1,1 0 0 1 10,0",
      5 * Math.PI,
      0.02,
    ],
    ["the parabola [CUR-04]", "M0,0 Q50,0 100,100", 147.894285754, 0.3],
    ["the same by a shorthand", "m0,0 q25,0 50,25 t50,75", 147.894285754, 0.3],
    [
      "lines of every kind",
      "M10 10h30v40H10V20l5-5-5 0z",
      30 + 40 + 30 + 30 + Math.hypot(5, 5) + 5 + 5,
      1e-3,
    ],
  ])("%s", (_name, d, length, within) => {
    expect(Math.abs(lengths(curvesOf(`<path d="${d}"/>`))[0] - length)).toBeLessThan(within);
  });

  it("are apart where there is a jump, closed where they say so, and go on after it from where they began", () => {
    const curves = curvesOf('<path d="M0 0 10 0 10 10z l5 5 M50 50 60 60"/>');
    expect([...curves.curves.columns.closed.lanes[0]]).toEqual([1, 0, 0]);
    expect(
      places(curves)
        .slice(3, 5)
        .map((p) => p.map(Math.round)),
    ).toEqual([
      [0, 0],
      [5, 5],
    ]);
  });

  it("are drawn up to a fault in them", () => {
    expect(curvesOf('<path d="M0 0 L10 10 L20 nonsense"/>').points.count).toBe(2);
    expect(() => read('<path d="nonsense"/>')).toThrow(/no outlines/);
  });
});

describe("shapes", () => {
  it.each([
    ['<rect x="10" y="20" width="30" height="40"/>', 140],
    ['<rect x="10" y="20" width="100" height="100" rx="20"/>', 4 * 60 + 2 * Math.PI * 20],
    ['<circle cx="100" cy="100" r="50"/>', 2 * Math.PI * 50],
    // The perimeter by complete elliptic integrals [CUR-01]: a = 2, b = 1, fifty times as large.
    ['<ellipse cx="100" cy="100" rx="100" ry="50"/>', 9.68844822055 * 50],
    ['<line x1="0" y1="0" x2="30" y2="40"/>', 50],
    ['<polyline points="0,0 30,0 30,40"/>', 70],
    ['<polygon points="0,0 30,0 30,40"/>', 120],
  ])("%s", (body, perimeter) => {
    expect(lengths(curvesOf(body))[0]).toBeCloseTo(perimeter, 0);
  });

  it("of no size are left out", () => {
    expect(() => read('<circle r="0"/><rect width="10" height="0"/><polyline points="1 1"/>')).toThrow(
      /no outlines/,
    );
  });
});

describe("drawings", () => {
  it("have transforms within transforms, as the specification composes them", () => {
    const curves = curvesOf(
      '<g transform="translate(50,90)"><g transform="rotate(-45)"><g transform="translate(130,160)"><line x2="10" y2="0"/></g></g></g>',
    );
    // The matrix of SVG 1.1 § 7.6: translate(50,90), rotate(−45), translate(130,160) = [.707 −.707 .707 .707 255.06 111.21].
    const [[x, y], [x2, y2]] = places(curves);
    expect([x, y]).toEqual([expect.closeTo(255.06, 1), expect.closeTo(111.21, 1)]);
    expect([x2 - x, y2 - y]).toEqual([expect.closeTo(7.071, 2), expect.closeTo(-7.071, 2)]);
  });

  it("have colours by style sheets, the more exact rule first, and of gradients the mean of their stops (CSS 2.1 § 6.4)", () => {
    const colorOf = (body: string) => curvesOf(body).points.columns.color.lanes.map((lane) => lane[0]);
    const sheet =
      "<style>/* leaves */ path{fill:#f00} .leaf, .bud {fill:#0f0} #one{fill:#00f} g > path {fill:#fff}</style>";
    expect(colorOf(`${sheet}<path d="M0 0L9 0L9 9"/>`)).toEqual([1, 0, 0, 1]);
    expect(colorOf(`${sheet}<path class="old leaf" d="M0 0L9 0L9 9"/>`)).toEqual([0, 1, 0, 1]);
    expect(colorOf(`${sheet}<path class="leaf" id="one" d="M0 0L9 0L9 9"/>`)).toEqual([0, 0, 1, 1]);
    expect(colorOf(`${sheet}<path class="leaf" style="fill:#f00" d="M0 0L9 0L9 9"/>`)).toEqual([1, 0, 0, 1]);
    const gradient =
      '<linearGradient id="g"><stop stop-color="#f00"/><stop style="stop-color:#00f;stop-opacity:0.5"/></linearGradient>';
    expect(
      colorOf(
        `<defs>${gradient}<radialGradient id="h" href="#g"/></defs><path fill="url(#h)" d="M0 0L9 0L9 9"/>`,
      ),
    ).toEqual([0.5, 0, 0.5, 0.75]);
  });

  it("turn holes round where every other layer is filled, so that winding tells them (SVG 1.1 § 11.3)", () => {
    const square = (size: number, at: number) => `M${at} ${at}h${size}v${size}h${-size}z`;
    const nested = square(60, 0) + square(40, 10) + square(20, 20);
    const signs = (rule: string) => {
      const curves = curvesOf(`<path fill-rule="${rule}" d="${nested}"/>`);
      const all = places(curves);
      return Array.from({ length: 3 }, (_, k) =>
        Math.sign(signedArea(all.slice(curves.curveStarts[k], curves.curveStarts[k + 1]).flat())),
      );
    };
    expect(signs("evenodd")).toEqual([-1, 1, -1].map((sign) => sign * signs("evenodd")[0] * -1));
    expect(new Set(signs("nonzero")).size).toBe(1);
  });

  it("use what is defined once, at several places, and not forever", () => {
    const curves = curvesOf(
      '<defs><rect id="tile" width="10" height="10"/></defs><use href="#tile" x="5"/><use href="#tile" x="25" y="7"/>',
    );
    expect(curves.curves.count).toBe(2);
    expect(places(curves)[4]).toEqual([expect.closeTo(25, 3), expect.closeTo(7, 3)]);
    expect(() => read('<g id="a"><use href="#a"/></g>')).toThrow(/too often/);
  });

  it("have their middle in the middle and y up, by their view box or their size", () => {
    const [a] = [curvesOf('<rect width="100" height="50"/>', 'width="100" height="50"')];
    const [x, y] = a.points.columns.position.lanes;
    expect([Math.min(...x), Math.max(...x), Math.min(...y), Math.max(...y)]).toEqual(
      [-0.5, 0.5, -0.25, 0.25].map((v) => expect.closeTo(v, 5)),
    );
    const inches = curvesOf('<line x2="1in" y2="0"/>', 'width="2in" height="2in"');
    expect(lengths(inches)[0]).toBeCloseTo(96, 3);
  });

  it("have colours by attribute, style and what is around, linear, their alpha by all opacities", () => {
    const colorOf = (body: string) => curvesOf(body).points.columns.color.lanes.map((lane) => lane[0]);
    const line = (attributes: string) => `<path d="M0 0L9 0L9 9" ${attributes}/>`;
    expect(colorOf(line('fill="#ff0000"'))).toEqual([1, 0, 0, 1]);
    expect(colorOf(line('style="fill:rgb(0,255,0);stroke:none"'))).toEqual([0, 1, 0, 1]);
    expect(colorOf(line('fill="none" stroke="#00f"'))).toEqual([0, 0, 1, 1]);
    expect(colorOf(`<g fill="lime" opacity=".5">${line('opacity="0.5"')}</g>`)).toEqual([0, 1, 0, 0.25]);
    expect(colorOf(line(""))).toEqual([0, 0, 0, 1]);
    // 50 % of sRGB is 0.2140 of the light (IEC 61966-2-1).
    expect(colorOf(line('fill="#808080"'))[0]).toBeCloseTo(0.2158605, 5);
  });

  it("keep layers as parts, by their names, and holes as holes", () => {
    const asset = read(
      '<g id="leaf"><path d="M0 0H100V100H0Z M25 25V75H75V25Z"/></g><g draw:label="seed" xmlns:draw="x"><circle r="5"/></g>',
    );
    expect(asset.parts.map(({ name }) => name)).toEqual(["leaf", "seed"]);
    const assets: AssetLookup = () => ({
      ok: true,
      content: asset.parts[0].shape && { ...asset, shape: asset.parts[0].shape },
      version: "1",
    });
    const document = graphOf(
      { file: { type: "import", set: { file: "own" } }, node: { type: "fill-outline" } },
      ["file.shape>node.shape"],
    );
    const { outputs = {} } = evaluate(document, 0, { target: "node", assets });
    expect(meshArea((outputs.shape as Shape).mesh as Mesh)).toBeCloseTo(1 - 0.25, 5);
  });

  it("name what is not read, run no script and fetch nothing", async () => {
    const asset = read(
      '<script>throw 1</script><image href="https://example.org/a.png"/><text>word</text><use href="other.svg#a"/><use href="#none"/><path d="M0 0L9 9"/>',
    );
    expect(asset.notes).toEqual([
      "Not read in the drawing: image, links to other files, script, text, “#none”, which is not in it. Turn it into paths to bring it in.",
    ]);
    const bomb =
      '<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>';
    await expect(readAsset("logo.svg", new TextEncoder().encode(bomb))).rejects.toThrow(/entities/);
    await expect(readAsset("logo.svg", new TextEncoder().encode("<html></html>"))).rejects.toThrow(/no SVG/);
  });

  it("that are damaged are refused in words or read as far as they go", () => {
    const whole = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 99 99"><g transform="rotate(20)"><path style="fill:#123456" d="M1 2C3 4 5 6 7 8A9 9 1 0 1 2 3Z"/><use href="#x"/><rect id="x" width="9" height="9" rx="2"/></g></svg>`;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(whole.length), fc.string({ maxLength: 3 })), { minLength: 1, maxLength: 5 }),
        fc.option(fc.nat(whole.length)),
        (changes, end) => {
          let text = whole.slice(0, end ?? undefined);
          for (const [at, by] of changes) text = text.slice(0, at) + by + text.slice(at + by.length);
          try {
            expect(validateShape(readSvg(new TextEncoder().encode(text)).shape)).toEqual([]);
          } catch (error) {
            expect((error as Error).message).toMatch(/drawing/);
          }
        },
      ),
      { numRuns: 150 },
    );
  });
});
