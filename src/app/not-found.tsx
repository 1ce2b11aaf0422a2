import Link from "next/link";

export default function NotFound() {
  return (
    <main className="grid h-dvh place-content-center gap-3 text-center">
      <h1 className="font-display text-22">There is nothing here</h1>
      <p className="text-faint">The piece may have been deleted.</p>
      <Link className="text-accent underline underline-offset-4" href="/">
        Back to the shelf
      </Link>
    </main>
  );
}
