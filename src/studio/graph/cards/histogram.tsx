/** Thin bars of counts; decoration beside numbers that say the same. */
export function Histogram({ bins, className }: { bins: readonly number[]; className?: string }) {
  const most = Math.max(1, ...bins);
  return (
    <svg
      className={className}
      viewBox={`0 0 ${bins.length} 10`}
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {bins.map((count, i) => {
        const height = (count / most) * 10;
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a bar has no other identity than its place
            key={i}
            x={i + 0.08}
            y={10 - height}
            width={0.84}
            height={height}
            fill="var(--faint)"
            opacity={0.55}
          />
        );
      })}
    </svg>
  );
}
