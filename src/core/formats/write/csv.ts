/** Elements as comma-separated values (RFC 4180): a header line, CRLF, `position.x` style column names. */
import type { Domain } from "../../geometry/column";

const LANE_NAMES: Readonly<Record<number, readonly string[]>> = {
  1: [""],
  2: [".u", ".v"],
  3: [".x", ".y", ".z"],
  4: [".x", ".y", ".z", ".w"],
};
const COLOR_NAMES = [".r", ".g", ".b", ".a"];

/** Nine significant digits restore every float32 (IEEE 754-2019 §5.12.2); trailing zeros are left out. */
export const numberText = (value: number): string => String(Number(value.toPrecision(9)));

export function writeCsv(domain: Domain): string {
  const lanes: { name: string; lane: ArrayLike<number> }[] = [];
  for (const [name, column] of Object.entries(domain.columns).sort(([a], [b]) => (a < b ? -1 : 1))) {
    const names = column.kind === "color" ? COLOR_NAMES : LANE_NAMES[column.lanes.length];
    column.lanes.forEach((lane, l) => {
      lanes.push({ name: quoted(name + names[l]), lane });
    });
  }
  const lines = [lanes.map((l) => l.name).join(",")];
  for (let i = 0; i < domain.count; i++) lines.push(lanes.map((l) => numberText(l.lane[i])).join(","));
  return `${lines.join("\r\n")}\r\n`;
}

/** Fields with a comma, quote or line break are quoted, quotes doubled. */
const quoted = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);
