import clsx from "clsx";

interface ProgressBarProps {
  readonly value: number;
  readonly max?: number;
  readonly label: string;
  readonly className?: string;
}

/** How far something is, in the colours of the rest. */
export const ProgressBar = ({ value, max = 1, label, className }: ProgressBarProps) => (
  <progress
    value={value}
    max={max}
    aria-label={label}
    className={clsx(
      "h-1.5 appearance-none overflow-hidden rounded border-0 bg-rule [&::-moz-progress-bar]:bg-accent [&::-webkit-progress-bar]:bg-rule [&::-webkit-progress-value]:bg-accent",
      className,
    )}
  />
);
