import type { ReactNode } from "react";

/** A page that says what keeps it from being shown, and what can be done. */
export function TroublePage({
  title,
  what,
  children,
}: {
  title: string;
  what: string;
  children?: ReactNode;
}) {
  return (
    <main className="mx-auto grid min-h-dvh max-w-[560px] content-center gap-3 px-8">
      <h1 className="font-display text-22">{title}</h1>
      <p
        role="alert"
        className="rounded border-alert border-l-2 bg-raised px-3 py-2 text-13 [overflow-wrap:anywhere]"
      >
        {what}
      </p>
      {children}
    </main>
  );
}
