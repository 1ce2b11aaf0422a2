import { useMemo } from "react";
import { type Profile, profileAt } from "@/core/maths/profile";

/** Values shown: a profile may leave 0…1 by a quarter and is still seen. */
export const PROFILE_RANGE = { low: -0.25, high: 1.25 } as const;

const STEPS = 64;

/** A profile as the core reads it, drawn in a box of 100 × 100. */
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
  // Points besides the even steps, so that corners and jumps are seen: just before each, and from it on.
  const places = [
    ...Array.from({ length: STEPS + 1 }, (_, i) => i / STEPS),
    ...profile.points.flatMap(({ at }) => [at - 1e-9, at]),
  ].sort((a, b) => a - b);
  return places
    .map((at, i) => {
      const x = (Math.max(0, at) * 100).toFixed(2);
      return `${i === 0 ? "M" : "L"}${x} ${profileY(profileAt(profile, at)).toFixed(2)}`;
    })
    .join("");
}

/** Height of a value in the picture, 0 at the top and 100 at the bottom. */
export const profileY = (value: number): number =>
  (100 * (PROFILE_RANGE.high - value)) / (PROFILE_RANGE.high - PROFILE_RANGE.low);
