import type { AnyInput, AnyNode, AnyOutput } from "@/core/nodes/define";
import type { PortKind } from "@/core/nodes/ports";
import { FAMILY_TINT, FamilyGlyph, KIND_TINT } from "./glyphs";
import PICTURES from "./node-pictures.json";

/** By type, as scripts/make-node-pictures.ts writes them: how it is drawn, its path in 56 × 50, its own colour. */
const pictures: Readonly<Record<string, readonly (readonly string[])[]>> = PICTURES;

/** What a node does on a small example; what has no picture is a packet in little. */
export function NodePicture({ node }: { node: AnyNode }) {
  const marks = pictures[node.type] ?? [];
  if (marks.length === 0) return <LittlePacket node={node} />;
  return (
    <svg
      viewBox="0 0 56 50"
      aria-hidden="true"
      className="h-[50px] w-[56px] shrink-0 bg-raised"
      style={{ color: FAMILY_TINT[node.family] }}
    >
      {marks.map(([kind, d, color = "currentColor"]) =>
        kind === "fill" ? (
          <path key={d} d={d} fill={color} />
        ) : (
          <path
            key={d}
            d={d}
            fill="none"
            stroke={kind === "faint" ? "var(--faint)" : color}
            strokeWidth={0.8}
            strokeLinejoin="round"
          />
        ),
      )}
    </svg>
  );
}

/** What comes in at the left, what goes out at the right. */
function LittlePacket({ node }: { node: AnyNode }) {
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
      // biome-ignore lint/suspicious/noArrayIndexKey: a port has no other identity than its place
      <span key={i} className="h-1 w-2" style={{ background: KIND_TINT[kind] }} />
    ))}
  </span>
);
