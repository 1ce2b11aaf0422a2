/** Our own pictures: one per family of nodes, one per kind of port. */
import type { Family } from "@/core/nodes/define";
import type { PortKind } from "@/core/nodes/ports";

/** Tint of each kind; the glyph says the same without colour. */
export const KIND_TINT: Readonly<Record<PortKind, string>> = {
  shape: "var(--accent)",
  number: "var(--kind-number)",
  vector: "var(--note)",
  rotation: "var(--alert)",
  color: "var(--kind-color)",
  toggle: "var(--good)",
  text: "var(--lilac)",
  choice: "var(--lilac)",
  gradient: "var(--kind-color)",
  profile: "var(--kind-number)",
  path: "var(--accent)",
  painted: "var(--kind-color)",
  asset: "var(--lilac)",
  births: "var(--good)",
  forces: "var(--note)",
  camera: "var(--lilac)",
  light: "var(--accent)",
  finish: "var(--lilac)",
};

const DARK = "var(--kind-glyph)";

/** Drawn in a box of 12 × 12. */
const KIND_PATHS: Readonly<Record<PortKind, React.ReactNode>> = {
  shape: <path d="M2 2h4v4H2zM6 6h4v4H6z" fill={DARK} />,
  number: <path d="M4.2 3.6 6.4 2.2V10M4.4 10h4" stroke={DARK} strokeWidth="1.5" fill="none" />,
  vector: <path d="M2.5 3.2h7M2.5 6h7M2.5 8.8h7" stroke={DARK} strokeWidth="1.4" />,
  rotation: (
    <path d="M2.4 8.6a4 4 0 1 1 7 .4M9.8 6.4 9.4 9.2 6.8 8.6" stroke={DARK} strokeWidth="1.3" fill="none" />
  ),
  color: <circle cx="6" cy="6" r="3" fill={DARK} />,
  toggle: <path d="M2.5 6.2 5 8.8l4.6-5.4" stroke={DARK} strokeWidth="1.6" fill="none" />,
  text: <path d="M3 3h6M6 3v7" stroke={DARK} strokeWidth="1.5" />,
  choice: (
    <path d="M2.5 3.4h1M5 3.4h4.5M2.5 6h1M5 6h4.5M2.5 8.6h1M5 8.6h4.5" stroke={DARK} strokeWidth="1.3" />
  ),
  gradient: <path d="M2 4h2.6v4H2zM4.9 4h2.2v4H4.9zM7.5 4h2.5v4H7.5z" fill={DARK} />,
  profile: <path d="M2 9.6C5.4 9.6 5 3 10 2.6" stroke={DARK} strokeWidth="1.5" fill="none" />,
  path: (
    <path
      d="M2 9.4C3 3 9 9 10 2.6M1.2 8.6h1.6v1.6H1.2zM9.2 1.8h1.6v1.6H9.2z"
      stroke={DARK}
      strokeWidth="1.2"
      fill="none"
    />
  ),
  painted: <path d="M2.2 10c2.4.2 3-.8 3.2-2.2L9.8 2.6 8.6 1.8 4 6.6C2.8 7 3 8.8 2.2 10z" fill={DARK} />,
  asset: <path d="M3 2h4l2 2v6H3z" fill={DARK} />,
  births: (
    <path
      d="M6 10V6.2M6 6.2C3.4 6.2 2.4 4.6 2.4 2.6 4.8 2.6 6 4 6 6.2zM6 6.2c0-2 1-3.4 3.6-3.4 0 2-1.2 3.4-3.6 3.4z"
      stroke={DARK}
      strokeWidth="1.2"
      fill="none"
    />
  ),
  finish: (
    <path
      d="M1.800 3h8.400v6H1.800zM3.400 7.400l2-2.400 1.400 1.600.8-1 1.400 1.800"
      stroke={DARK}
      strokeWidth="1.1"
      fill="none"
    />
  ),
  light: (
    <path
      d="M6 1.4v1.4M2.6 2.8l1 1M9.4 2.8l-1 1M4 8.2a2.6 2.6 0 1 1 4 0v1.4H4z"
      stroke={DARK}
      strokeWidth="1.1"
      fill="none"
    />
  ),
  camera: (
    <path d="M1.6 3.6h6v5h-6zM7.6 5.4l2.8-1.6v4.6L7.6 6.800" stroke={DARK} strokeWidth="1.2" fill="none" />
  ),
  forces: <path d="M1.8 8.8c3 0 3-5 8-5M7.4 1.8l2.6 2-2.4 2.2" stroke={DARK} strokeWidth="1.4" fill="none" />,
};

export const KindGlyph = ({ kind }: { kind: PortKind }) => (
  <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true">
    {KIND_PATHS[kind]}
  </svg>
);

/** Seeds and plants stand for what a family does; drawn in 16 × 16 in the current colour. */
const FAMILY_PATHS: Readonly<Record<Family, React.ReactNode>> = {
  make: (
    <path
      d="M8 1.5c3.6 2.4 4.6 8.6 0 13-4.6-4.4-3.6-10.6 0-13zM8 5v7"
      stroke="currentColor"
      fill="none"
      strokeWidth="1.4"
    />
  ),
  layout: (
    <g fill="currentColor">
      <circle cx="8" cy="2.6" r="1.5" />
      <circle cx="12.9" cy="6.2" r="1.5" />
      <circle cx="11" cy="12" r="1.5" />
      <circle cx="5" cy="12" r="1.5" />
      <circle cx="3.1" cy="6.2" r="1.5" />
    </g>
  ),
  clone: (
    <g stroke="currentColor" fill="none" strokeWidth="1.3">
      <ellipse cx="5" cy="10" rx="2.4" ry="3.8" />
      <ellipse cx="11" cy="10" rx="2.4" ry="3.8" />
      <ellipse cx="8" cy="5" rx="2.2" ry="3.4" fill="currentColor" />
    </g>
  ),
  drive: (
    <path d="M1.5 9c2-6 4-6 6.5-1s4.500 5 6.500-1" stroke="currentColor" fill="none" strokeWidth="1.6" />
  ),
  adjust: (
    <path
      d="M3 13V7M3 4V3M8 13v-2M8 8V3M13 13V8M13 5V3M1.500 5.500h3M6.500 9.500h3M11.500 6.500h3"
      stroke="currentColor"
      strokeWidth="1.4"
    />
  ),
  simulate: (
    <path
      d="M8 14.5V6M8 6c0-2.600-2-4-4.500-4 0 2.600 2 4 4.500 4zM8 9c0-2.300 1.800-3.600 4-3.600C12 7.700 10.200 9 8 9zM4 14.500h8"
      stroke="currentColor"
      fill="none"
      strokeWidth="1.4"
    />
  ),
  form: <path d="M2 12 8 2l6 10zM5 7h6" stroke="currentColor" fill="none" strokeWidth="1.4" />,
  dress: (
    <g stroke="currentColor" fill="none" strokeWidth="1.3">
      <path d="M8 2c3.400 3.800 4.600 6 4.600 8.200a4.600 4.600 0 0 1-9.200 0C3.400 8 4.600 5.800 8 2z" />
      <path d="M6 10.600c.2 1.300 1 2.100 2.200 2.300" />
    </g>
  ),
  route: <path d="M2 5h12v8H2zM5 2.500h6" stroke="currentColor" fill="none" strokeWidth="1.4" />,
  capsule: (
    <g stroke="currentColor" fill="none" strokeWidth="1.4">
      <path d="M8 1.500c4 3 5 7 0 10.500-5-3.500-4-7.500 0-10.500zM8 12v3" />
      <circle cx="8" cy="6" r="1.200" fill="currentColor" />
      <circle cx="8" cy="9" r="0.900" fill="currentColor" />
    </g>
  ),
};

export const FAMILY_TINT: Readonly<Record<Family, string>> = {
  make: "var(--accent)",
  layout: "var(--accent)",
  clone: "var(--accent)",
  drive: "var(--good)",
  adjust: "var(--alert)",
  simulate: "var(--accent)",
  form: "var(--note)",
  dress: "var(--note)",
  route: "var(--ink)",
  capsule: "var(--lilac)",
};

export const FamilyGlyph = ({ family, size = 15 }: { family: Family; size?: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="0 0 16 16"
    style={{ color: FAMILY_TINT[family] }}
    aria-hidden="true"
  >
    {FAMILY_PATHS[family]}
  </svg>
);
