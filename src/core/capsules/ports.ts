/** Ports of a capsule: made from an input inside, changed, taken away with all that names them. */
import { type Edit, openCapsule } from "../document/edits";
import { joinAddress, parseAddress } from "../document/links";
import type { Capsule, CapsuleInput, Graph, Link, PieceDocument } from "../document/schema";
import type { AnyInput } from "../nodes/define";
import { portWords } from "../nodes/port-words";
import type { Setting } from "../nodes/ports";
import { capsuleType, definitionOf } from "./definitions";
import { instancesOf } from "./instances";
import { freshPort } from "./names";
import type { CapsuleRole } from "./roles";

/** An input of a capsule that stands for one inside, whatever its kind, with the value that it has there. */
export function capsuleInputFor(
  declared: AnyInput,
  name: string,
  label: string,
  set: Setting | undefined,
): CapsuleInput {
  const { kind, about, min, max, soft, unit, whole, choices, holds, implicit } = declared;
  return {
    name,
    label: label.slice(0, 60),
    kind,
    about: about.slice(0, 300),
    default: (set ?? declared.default) as Setting,
    ...defined({ min, max, whole, holds, implicit }),
    ...(unit ? { unit } : {}),
    ...(soft ? { soft: [soft[0], soft[1]] as [number, number] } : {}),
    ...(choices ? { choices: [...choices] } : {}),
    ...(declared.many ? { many: true } : {}),
  };
}

const defined = <T extends object>(values: T): { [K in keyof T]?: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined)) as never;

/** The border node of a capsule's graph; undefined when it was taken out. */
const borderNode = (graph: Graph, role: Exclude<CapsuleRole, "capsule">, name: string) =>
  graph.nodes.find(({ type }) => type === capsuleType(role, name));

/** Makes an input of a node inside one of the capsule, linked with it. Null when there is nothing to link it from. */
export function exposeEdit(document: PieceDocument, name: string, address: string): Edit | null {
  const capsule = document.capsules[name];
  const border = borderNode(capsule.graph, "inputs-of", name);
  const { node, port } = parseAddress(address);
  const inside = capsule.graph.nodes.find(({ id }) => id === node);
  const declared: AnyInput | undefined = inside && definitionOf(document, inside.type)?.inputs[port];
  if (!border || !inside || !declared || capsule.graph.links.some(({ to }) => to === address)) return null;
  const own = freshPort(capsule.inputs, port);
  const label = freshLabel(capsule.inputs, declared.label ?? portWords(port));
  const input = capsuleInputFor(declared, own, label, inside.set[port]);
  const grown = { ...capsule, inputs: [...capsule.inputs, input] };
  const exposed = portEdit(name, grown, { from: joinAddress(border.id, own), to: address });
  const track = inside.keys?.[port];
  if (!track) return exposed;
  // What changed over time inside does so at every instance.
  const given = instancesOf(document, name).map(({ within, node: { id } }): Edit => {
    const edit: Edit = { kind: "set-track", node: id, input: own, track };
    return within === null ? edit : { kind: "within", capsule: within, edit };
  });
  const freed: Edit = { kind: "within", capsule: name, edit: { kind: "set-track", node, input: port } };
  return { kind: "several", edits: [exposed, freed, ...given] };
}

/** Makes an output of a node inside one of the capsule. */
export function exposeOutputEdit(document: PieceDocument, name: string, address: string): Edit | null {
  const capsule = document.capsules[name];
  const border = borderNode(capsule.graph, "outputs-of", name);
  const { node, port } = parseAddress(address);
  const inside = capsule.graph.nodes.find(({ id }) => id === node);
  const declared = inside && definitionOf(document, inside.type)?.outputs[port];
  if (!border || !declared) return null;
  const own = freshPort(capsule.outputs, port);
  const label = freshLabel(capsule.outputs, declared.label ?? portWords(port));
  const output = { name: own, label, kind: declared.kind, about: declared.about };
  const grown = { ...capsule, outputs: [...capsule.outputs, output] };
  return portEdit(name, grown, { from: address, to: joinAddress(border.id, own) });
}

/** The capsule with one port more, and the link inside that the port is for. */
const portEdit = (name: string, capsule: Capsule, link: Link): Edit => ({
  kind: "several",
  edits: [
    { kind: "set-capsule", name, capsule },
    {
      kind: "within",
      capsule: name,
      edit: { kind: "add", links: [{ item: link, index: capsule.graph.links.length }] },
    },
  ],
});

function freshLabel(ports: readonly { readonly label: string }[], wanted: string): string {
  for (let i = 1; ; i++) {
    const label = i === 1 ? wanted : `${wanted} ${i}`;
    if (labelFault(ports, label) === null) return label;
  }
}

/** Why a port cannot be called so; null when it can. */
export function labelFault(ports: readonly { readonly label: string }[], label: string): string | null {
  const wanted = label.trim();
  if (wanted === "") return "A port needs a name.";
  if (wanted.length > 60) return "A name has 60 letters at most.";
  return ports.some((port) => port.label.toLowerCase() === wanted.toLowerCase())
    ? `There is already a port called "${wanted}". Choose another name.`
    : null;
}

/** Takes a port away, with the links inside and, on all instances, the links, values and dials that name it. */
export function removePortEdit(
  document: PieceDocument,
  name: string,
  side: "inputs" | "outputs",
  port: string,
): Edit {
  const capsule = document.capsules[name];
  const roles = side === "inputs" ? (["inputs-of"] as const) : (["outputs-of", "before-of"] as const);
  const inside = new Set(
    roles.flatMap((role) => {
      const border = borderNode(capsule.graph, role, name);
      return border ? [joinAddress(border.id, port)] : [];
    }),
  );
  const kept: Capsule = {
    ...capsule,
    inputs: side === "inputs" ? capsule.inputs.filter((p) => p.name !== port) : capsule.inputs,
    outputs: side === "outputs" ? capsule.outputs.filter((p) => p.name !== port) : capsule.outputs,
  };
  const within = capsule.graph.links.filter(({ from, to }) => inside.has(from) || inside.has(to));
  const graph = { ...capsule.graph, links: capsule.graph.links.filter((link) => !within.includes(link)) };
  const edits: Edit[] = [{ kind: "set-capsule", name, capsule: { ...kept, graph } }];
  const used = usesOf(document, name, side, port);
  if (used) edits.push(used);
  for (const other of Object.keys(document.capsules)) {
    const edit = other !== name && usesOf(openCapsule(document, other), name, side, port);
    if (edit) edits.push({ kind: "within", capsule: other, edit });
  }
  return { kind: "several", edits };
}

/** Takes away what names a port of a capsule's instances in one graph; null when nothing does. */
function usesOf(
  document: PieceDocument,
  name: string,
  side: "inputs" | "outputs",
  port: string,
): Edit | null {
  const instances = document.graph.nodes.filter(({ type }) => type === capsuleType("capsule", name));
  const addresses = new Set(instances.map(({ id }) => joinAddress(id, port)));
  const links = document.graph.links.filter(({ from, to }) => addresses.has(side === "inputs" ? to : from));
  const set =
    side === "inputs" ? instances.filter((node) => port in node.set || port in (node.keys ?? {})) : [];
  const dials = side === "inputs" ? document.dials.filter(({ input }) => addresses.has(input)) : [];
  if (links.length + set.length + dials.length === 0) return null;
  return {
    kind: "several",
    edits: [
      { kind: "remove", links, dials },
      ...set.flatMap(({ id }): Edit[] => [
        { kind: "set-input", node: id, input: port },
        { kind: "set-track", node: id, input: port },
      ]),
    ],
  };
}
