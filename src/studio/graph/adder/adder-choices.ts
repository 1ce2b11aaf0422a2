/** What the adder offers: nodes, capsules of the piece and of the library, recipes; by need, or by what usually comes next. */
import { capsuleType, definitionOf } from "@/core/capsules/definitions";
import { type Address, parseAddress } from "@/core/document/links";
import type { PieceDocument } from "@/core/document/schema";
import { catalogue } from "@/core/nodes/catalogue";
import type { AnyNode } from "@/core/nodes/define";
import { own } from "@/core/own";
import type { CapsuleSummary } from "@/server/capsules";
import type { AdderRequest } from "../../state/view-state";
import { converting, fittingPort, typeOf } from "../graph-edits";
import type { Followers } from "./followers";
import COUNTED from "./followers.json";
import type { Wanted } from "./needs";
import type { Recipe } from "./recipe-edits";

/** As scripts/make-followers.ts writes them. */
const FOLLOWERS: Followers = COUNTED;

export type Choice = Wanted &
  (
    | { readonly kind: "node"; readonly node: AnyNode }
    | { readonly kind: "recipe"; readonly recipe: Recipe }
    | { readonly kind: "library"; readonly library: string }
  );

/** A capsule of the piece comes before one of the library that is called the same. */
const BEHIND_OWN = 0.8;

/** All that fits; what has ports only when it is here is not offered for an open link. */
export function choicesFor(
  document: PieceDocument,
  library: readonly CapsuleSummary[],
  recipes: readonly Recipe[],
  { link, into }: Pick<AdderRequest, "link" | "into">,
): readonly Choice[] {
  const capsules = Object.keys(document.capsules).flatMap(
    (name) => definitionOf(document, capsuleType("capsule", name)) ?? [],
  );
  const nodes = [...catalogue.values(), ...capsules]
    .filter(
      (node) =>
        !link ||
        (into
          ? converting(document, node, { from: link.address, to: into }) !== null
          : fittingPort(document, node, link) !== undefined),
    )
    .map((node): Choice => {
      const { type, title, synonyms, about, family } = node;
      return { kind: "node", id: type, title, needs: synonyms, about, family, node };
    });
  // What is dropped at an input asks for one thing; what leaves an output can go on into a whole recipe.
  const wholes = link && (link.end === "to" || into) ? [] : recipes.map(asChoice);
  if (link) return [...nodes, ...wholes];
  const here = new Set(Object.values(document.capsules).map((capsule) => capsule.library?.id));
  return [
    ...nodes,
    ...wholes,
    ...library
      .filter(({ id }) => !here.has(id))
      .map(
        ({ id, title, about }): Choice => ({
          kind: "library",
          id: `library ${id}`,
          title,
          needs: ["capsule", "library"],
          about,
          family: "capsule",
          weight: BEHIND_OWN,
          library: id,
        }),
      ),
  ];
}

function asChoice(recipe: Recipe): Choice {
  const { name, about, recipe: { needs = [] } = {} } = recipe.document;
  return { kind: "recipe", id: `recipe ${recipe.id}`, title: name, needs, about, family: "recipe", recipe };
}

const MOST_NEXT = 5;

/** What is most often linked with the open link's port, or with what leaves the node that is chosen. */
export function nextOf(
  document: PieceDocument,
  choices: readonly Choice[],
  { link, chosen }: { readonly link?: AdderRequest["link"]; readonly chosen: string | null },
): readonly Choice[] {
  const side = link?.end === "to" ? FOLLOWERS.before : FOLLOWERS.after;
  const ports = link ? [parseAddress(link.address)] : chosen ? outputsOf(document, chosen) : [];
  const types = ports.flatMap(
    ({ node, port }) => own(own(side, typeOf(document, node)?.type ?? ""), port) ?? [],
  );
  return [...new Set(types)]
    .flatMap((type) => choices.find(({ id }) => id === type) ?? [])
    .slice(0, MOST_NEXT);
}

const outputsOf = (document: PieceDocument, node: string): Address[] =>
  Object.keys(typeOf(document, node)?.outputs ?? {}).map((port) => ({ node, port }));
