import clsx from "clsx";
import type { ComponentProps } from "react";

type Look = "plain" | "raised" | "accent" | "bare";

const LOOKS: Readonly<Record<Look, string>> = {
  plain: "border border-rule hover:border-faint",
  raised: "border border-rule bg-raised hover:border-faint",
  accent: "bg-accent font-semibold text-ground hover:brightness-110",
  bare: "hover:bg-raised",
};

type ButtonProps = ComponentProps<"button"> & { look?: Look; square?: boolean };

export function Button({ look = "raised", square = false, className, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex h-7 shrink-0 items-center justify-center gap-1.5 whitespace-nowrap rounded-6 text-13",
        square ? "w-7" : "px-2.5",
        "disabled:cursor-not-allowed disabled:opacity-40",
        LOOKS[look],
        className,
      )}
      {...rest}
    />
  );
}

/** A square button that holds only a picture; `label` is its name for everyone. */
export function IconButton({ label, ...rest }: ButtonProps & { label: string }) {
  return <Button look="bare" square aria-label={label} title={label} {...rest} />;
}
