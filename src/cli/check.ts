import { checkDocument } from "../core/evaluate/check-document";
import { PieceError } from "./faults";
import { errorLines, openPiece } from "./piece";

/** Checks a piece without and with working out its first frame; warnings are printed, errors end with status 1. */
export async function checkCommand(file: string): Promise<void> {
  const piece = await openPiece(file);
  const findings = checkDocument(piece.document);
  const line = (f: (typeof findings)[number]) =>
    [f.node, f.port, f.what, f.repair].filter(Boolean).join(": ");
  const errors = findings.filter((f) => f.level === "error").map(line);
  if (errors.length > 0) throw new PieceError(errors.join("\n"));
  for (const finding of findings) console.log(`warning: ${line(finding)}`);
  const { report } = piece.evaluate(piece.document.settings.first);
  for (const [node, { problems }] of Object.entries(report.nodes)) {
    for (const p of problems)
      if (p.level === "warning")
        console.log(`warning: ${[node, p.input, p.what].filter(Boolean).join(": ")}`);
  }
  const found = errorLines(report);
  if (found.length > 0) throw new PieceError(found.join("\n"));
  console.log(
    `"${piece.document.name}" is sound: ${piece.document.graph.nodes.length} nodes, ${report.tally.sites} sites.`,
  );
}
