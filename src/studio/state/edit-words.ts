/** What an edit does, in a few words for the list of what can be undone. */
import type { Edit } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import { portWords } from "@/core/nodes/port-words";

const list = (names: readonly string[]): string =>
  names.length > 3 ? `${names.slice(0, 2).join(", ")} and ${names.length - 2} more` : names.join(", ");

const nodeOf = (address: string): string => parseAddress(address).node;

export function editWords(edit: Edit): string {
  switch (edit.kind) {
    case "set-input":
      return edit.value === undefined
        ? `Brought ${portWords(edit.input)} of ${edit.node} back`
        : `Set ${portWords(edit.input)} of ${edit.node}${valueWords(edit.value)}`;
    case "set-track":
      return edit.track
        ? `Keys of ${portWords(edit.input)} of ${edit.node}`
        : `Took the keys of ${portWords(edit.input)} of ${edit.node} away`;
    case "set-bypass":
      return `${edit.bypass ? "Passed" : "No longer passed"} ${edit.node} by`;
    case "set-type":
      return `Made ${edit.node} its own`;
    case "set-limits":
      return `Limits of ${portWords(edit.input)} of ${edit.node}`;
    case "set-fit":
      return edit.fit ? `Keeps ${edit.node} fitted` : `No longer keeps ${edit.node} fitted`;
    case "set-via":
      return `Led a link to ${nodeOf(edit.link.to)}`;
    case "move-nodes":
      return `Moved ${list(Object.keys(edit.to))}`;
    case "add":
      return added(edit);
    case "remove":
      return removed(edit);
    case "set-note":
      return "Changed a note area";
    case "set-dials":
      return "Arranged the dials";
    case "set-snapshots":
      return "Changed the snapshots";
    case "set-capsule":
      return edit.capsule ? `Changed the capsule ${edit.capsule.title}` : `Removed the capsule ${edit.name}`;
    case "within":
      return `In ${edit.capsule}: ${editWords(edit.edit)}`;
    case "set-settings":
      return `Set ${list(Object.keys(edit.settings))} of the piece`;
    case "set-name":
      return `Named the piece ${edit.name}`;
    case "set-view":
      return "Moved the camera";
    case "set-asset":
      return edit.asset ? `Brought in ${edit.asset.file}` : `Removed the file ${edit.name}`;
    case "replace":
      return "Opened another version";
    case "several":
      return several(edit.edits);
  }
}

function valueWords(value: unknown): string {
  const text = typeof value === "object" ? "" : String(value);
  return text !== "" && text.length < 24 ? ` to ${text}` : "";
}

function added({ nodes = [], links = [], dials = [], notes = [] }: Extract<Edit, { kind: "add" }>): string {
  if (nodes.length > 0) return `Added ${list(nodes.map(({ item }) => item.id))}`;
  if (links.length > 0) return `Linked ${list(links.map(({ item }) => nodeOf(item.to)))}`;
  if (dials.length > 0) return `Made a dial of ${dials[0].item.label}`;
  return notes.length > 0 ? "Added a note area" : "Added nothing";
}

function removed({
  nodes = [],
  links = [],
  dials = [],
  notes = [],
}: Extract<Edit, { kind: "remove" }>): string {
  if (nodes.length > 0) return `Removed ${list(nodes)}`;
  if (links.length > 0) return `Unlinked ${list(links.map(({ to }) => nodeOf(to)))}`;
  if (dials.length > 0) return `Took ${dials[0].label} off the dials`;
  return notes.length > 0 ? "Removed a note area" : "Removed nothing";
}

/** Of several edits, the one that says most: what comes and goes before what is set. */
function several(edits: readonly Edit[]): string {
  const capsule = edits.find((edit) => edit.kind === "set-capsule");
  const adds = edits.filter((edit) => edit.kind === "add");
  if (capsule?.kind === "set-capsule" && capsule.capsule && edits.some(({ kind }) => kind === "remove"))
    return `Packed ${capsule.capsule.title}`;
  const telling =
    adds.find(({ nodes = [] }) => nodes.length > 0) ??
    edits.find(({ kind }) => kind === "remove") ??
    adds[0] ??
    edits[0];
  return telling ? editWords(telling) : "Changed nothing";
}
