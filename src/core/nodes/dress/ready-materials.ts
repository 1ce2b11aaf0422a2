/** Materials that one finds in the Seed Library: numbers of the metallic-roughness model, chosen by eye. */
import type { LookName } from "../../geometry/surface-look";

export interface ReadyMaterial {
  readonly color: string;
  readonly look: Partial<Readonly<Record<LookName, number>>>;
}

export const READY_MATERIALS = {
  "waxed paper": { color: "#e3d0ab", look: { roughness: 0.48, clearcoat: 0.35, sheen: 0.25 } },
  "seed husk": { color: "#8a5b2e", look: { roughness: 0.88, sheen: 0.5 } },
  "wet leaf": { color: "#2f6b34", look: { roughness: 0.42, clearcoat: 0.95 } },
  moss: { color: "#6b8a3e", look: { roughness: 1, sheen: 1 } },
  brass: { color: "#e2ac4d", look: { roughness: 0.26, metalness: 1 } },
  pewter: { color: "#aab3b4", look: { roughness: 0.42, metalness: 1 } },
  "glazed clay": { color: "#a23d25", look: { roughness: 0.5, clearcoat: 1 } },
  "beetle shell": {
    color: "#2f6f63",
    look: { roughness: 0.3, metalness: 0.75, clearcoat: 0.7, iridescence: 1 },
  },
  dew: { color: "#f2fbff", look: { roughness: 0.03, transmission: 1, clearcoat: 0.4 } },
  "frosted glass": { color: "#e2f1ea", look: { roughness: 0.55, transmission: 0.95 } },
  glow: { color: "#ffcf7a", look: { roughness: 1, emission: 1.6 } },
  "flat ink": { color: "#f3ead6", look: { roughness: 1, shading: 1 } },
} as const satisfies Record<string, ReadyMaterial>;

export type ReadyName = keyof typeof READY_MATERIALS;
export const READY_NAMES = Object.keys(READY_MATERIALS) as ReadyName[];
