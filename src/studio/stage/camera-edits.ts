/** Edits of the piece's camera from where the designer looks. */
import { type Edit, freshId } from "@/core/document/edits";
import { parseAddress } from "@/core/document/links";
import type { GraphNode, PieceDocument, View } from "@/core/document/schema";
import { FULL_FRAME, focalOf } from "@/core/maths/lens";
import { stageOf } from "../graph/graph-edits";
import { DEFAULT_ANGLE } from "./default-view";

/** The camera that is linked to the Stage: the chosen one of several, else the first. */
export function cameraOf(
  document: PieceDocument,
  selected: ReadonlySet<string> = new Set(),
): GraphNode | undefined {
  const stage = stageOf(document);
  const linked = document.graph.links
    .filter(({ to }) => to === `${stage?.id}.camera`)
    .map(({ from }) => parseAddress(from).node);
  const cameras = document.graph.nodes.filter(({ id, type }) => type === "camera" && linked.includes(id));
  return cameras.find(({ id }) => selected.has(id)) ?? cameras[0];
}

/** Units that keys are not worth: what a view is rounded to. */
const FINE = 1000;
const rounded = (place: readonly number[]) => place.map((v) => Math.round(v * FINE) / FINE);

/** The lens that sees so many degrees from the lower edge of a picture to the upper one. */
const lensOf = (angle: number, picture: number): number =>
  focalOf((angle * Math.PI) / 180, FULL_FRAME / picture);

/** Room between the Stage and a camera that is made. */
const BESIDE = [-280, 160] as const;

/** Puts the piece's camera where one looks, and makes one where there is none; null without a Stage. */
export function cameraHere(document: PieceDocument, view: View, selected: ReadonlySet<string>): Edit | null {
  const stage = stageOf(document);
  if (!stage) return null;
  const { angle = DEFAULT_ANGLE } = view;
  const [place, target] = [rounded(view.position), rounded(view.target)];
  const known = cameraOf(document, selected);
  if (known)
    return {
      kind: "several",
      edits: [
        { kind: "set-input", node: known.id, input: "place", value: place },
        { kind: "set-input", node: known.id, input: "target", value: target },
      ],
    };
  const id = freshId(document, "camera");
  const at: [number, number] = [stage.at[0] + BESIDE[0], stage.at[1] + BESIDE[1]];
  const { nodes, links } = document.graph;
  const [width, height] = document.settings.size;
  const lens = Math.round(lensOf(angle, width / height) * 10) / 10;
  return {
    kind: "add",
    nodes: [{ item: { id, type: "camera", at, set: { place, target, lens } }, index: nodes.length }],
    links: [{ item: { from: `${id}.camera`, to: `${stage.id}.camera` }, index: links.length }],
  };
}
