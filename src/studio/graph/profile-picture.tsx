import { useMemo } from "react";
import { bakeProfile, PROFILE_TABLE, type Profile } from "@/core/maths/profile";

/** Values shown: a profile may leave 0…1 by a quarter and is still seen. */
export const PROFILE_RANGE = { low: -0.25, high: 1.25 } as const;

const STEPS = 64;

/** A profile as the core bakes it, drawn in a box of 100 × 100. */
export function ProfilePicture({ profile, className }: { profile: Profile; className?: string }) {
  const path = useMemo(() => pathOf(profile), [profile]);
  return (
    <svg className={className} viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
      <path
        d={path}
        fill="none"
        stroke="var(--kind-number)"
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

function pathOf(profile: Profile): string {
  const table = bakeProfile(profile);
  return Array.from({ length: STEPS + 1 }, (_, i) => {
    const value = table[Math.round((i / STEPS) * (PROFILE_TABLE - 1))];
    return `${i === 0 ? "M" : "L"}${((i / STEPS) * 100).toFixed(2)} ${profileY(value).toFixed(2)}`;
  }).join("");
}

/** Height of a value in the picture, 0 at the top and 100 at the bottom. */
export const profileY = (value: number): number =>
  (100 * (PROFILE_RANGE.high - value)) / (PROFILE_RANGE.high - PROFILE_RANGE.low);
