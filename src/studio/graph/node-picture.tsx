import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import type { PortKind } from "@/core/nodes/ports";
import { FamilyGlyph, KIND_TINT } from "./glyphs";

/** A node as a packet in little: what comes in at the left, what goes out at the right. */
export function NodePicture({ node }: { node: AnyNode }) {
  const inputs = Object.values<AnyInput>(node.inputs).slice(0, 6);
  const outputs = Object.values<AnyOutput>(node.outputs).slice(0, 6);
  return (
    <span
      aria-hidden="true"
      className="relative grid h-[50px] w-[56px] shrink-0 place-content-center bg-raised"
      style={{ clipPath: "polygon(10px 0, 100% 0, 100% 100%, 0 100%, 0 10px)" }}
    >
      <FamilyGlyph family={node.family} size={24} />
      <Tabs kinds={inputs.map(({ kind }) => kind)} side="left-0" />
      <Tabs kinds={outputs.map(({ kind }) => kind)} side="right-0" />
    </span>
  );
}

const Tabs = ({ kinds, side }: { kinds: readonly PortKind[]; side: string }) => (
  <span className={`absolute ${side} top-3 bottom-1 flex flex-col gap-0.5`}>
    {kinds.map((kind, i) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: a tab has no other identity than its place
      <span key={i} className="h-1 w-2" style={{ background: KIND_TINT[kind] }} />
    ))}
  </span>
);
