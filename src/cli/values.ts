import { definitionOf } from "../core/capsules/definitions";
import { flatten } from "../core/capsules/flatten";
import { plainNumbers, type Value } from "../core/fields/expression";
import { writeCsv } from "../core/formats/write/csv";
import { mainDomain, valuesTable } from "../core/formats/write/values";
import type { Shape } from "../core/geometry/shape";
import { PieceError, WrongCall } from "./faults";
import type { Options } from "./options";
import { errorLines, openPiece, parseFrame } from "./piece";

/** Prints what a node gives: its elements, or its one value. */
export async function valuesCommand(file: string, options: Options): Promise<void> {
  const piece = await openPiece(file);
  const flat = flatten(piece.document);
  const nodes = [...piece.document.graph.nodes, ...flat.graph.nodes];
  const node = nodes.find((n) => n.id === options.node);
  if (!node) {
    const there = [...new Set(nodes.map((n) => n.id))].join(", ");
    throw new WrongCall(`There is no node "${options.node ?? ""}". There are: ${there}.`);
  }
  const definition = definitionOf(piece.document, node.type);
  const format = options.format ?? "csv";
  if (format !== "csv" && format !== "json") throw new WrongCall(`"${format}" is no format; csv or json.`);
  const ports = Object.keys(definition?.outputs ?? {});
  const port = options.port ?? ports[0];
  if (!ports.includes(port))
    throw new WrongCall(`"${node.id}" has no output "${port}". It has: ${ports.join(", ")}.`);
  const frame = parseFrame(options.frame, piece.document.settings.first);
  const { outputs, report } = piece.evaluate(frame, { target: node.id });
  if (!outputs) throw new PieceError(errorLines(report).join("\n"));
  const output = outputs[port];
  if (definition?.outputs[port].kind === "shape") {
    const table = output as Shape;
    console.log(
      format === "json"
        ? JSON.stringify(valuesTable(table, frame))
        : writeCsv(mainDomain(table).domain).trimEnd(),
    );
    return;
  }
  const values = plainNumbers(Array.isArray(output) ? (output as Value[]) : [output as Value]);
  if (!values)
    throw new PieceError(
      `"${node.id}.${port}" differs between elements; ask for the node that uses it instead.`,
    );
  console.log(
    format === "json"
      ? JSON.stringify({
          frame,
          domain: "plain",
          count: 1,
          columns: { [port]: [values.length === 1 ? values[0] : values] },
        })
      : `${port}\r\n${values.join(",")}`,
  );
}
