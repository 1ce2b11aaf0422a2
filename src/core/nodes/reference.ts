/** The node reference as Markdown, made from the declarations. */
import { catalogue } from "./catalogue";
import { type AnyInput, type AnyNode, type AnyOutput, FAMILIES, FAMILY_TITLES } from "./define";

export function referencePage(): string {
  const lines = [
    "# Nodes",
    "",
    "Made from the declarations by `./run glemmo nodes --markdown`; do not edit.",
    "",
  ];
  for (const family of FAMILIES) {
    const nodes = [...catalogue.values()].filter((node) => node.family === family);
    if (nodes.length > 0) lines.push(`## ${FAMILY_TITLES[family]}`, "", ...nodes.flatMap(nodeLines));
  }
  return lines.join("\n").trimEnd();
}

function nodeLines(node: AnyNode): string[] {
  const inputs = Object.entries(node.inputs as Record<string, AnyInput>);
  const lines = [`### ${node.title}`, "", node.about, ""];
  if (inputs.length > 0) {
    lines.push("| input | kind | default | meaning |", "|---|---|---|---|");
    for (const [name, input] of inputs) {
      const kind = `${input.kind}${input.perElement ? ", per element" : ""}${input.many ? ", several" : ""}${input.unit ? ` (${input.unit})` : ""}`;
      const choices = input.choices ? ` One of: ${input.choices.join(", ")}.` : "";
      lines.push(`| ${name} | ${kind} | ${defaultText(input)} | ${input.about}${choices} |`);
    }
    lines.push("");
  }
  lines.push("| output | kind | meaning |", "|---|---|---|");
  for (const [name, output] of Object.entries(node.outputs as Record<string, AnyOutput>)) {
    lines.push(`| ${name} | ${output.kind} | ${output.about} |`);
  }
  lines.push("");
  return lines;
}

function defaultText(input: AnyInput): string {
  if (input.implicit) return input.implicit;
  if (input.default === null) return "";
  if (
    input.kind === "gradient" ||
    input.kind === "profile" ||
    input.kind === "path" ||
    input.kind === "painted"
  )
    return `a ${input.kind}`;
  return Array.isArray(input.default) ? input.default.join(", ") : String(input.default);
}
