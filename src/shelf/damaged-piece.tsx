"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { Button } from "@/ui/button";
import { requestJson } from "@/ui/request";
import { TroublePage } from "@/ui/trouble-page";

interface DamagedPieceProps {
  readonly id: string;
  readonly what: string;
  /** When the newest earlier version that can still be read was saved; null when none can. */
  readonly readable: string | null;
}

/** What can be done about a piece whose stored text is no document any more. */
export function DamagedPiece({ id, what, readable }: DamagedPieceProps) {
  const router = useRouter();
  const [fault, setFault] = useState<string | null>(null);
  const recover = async () => {
    const piece = await requestJson<{ id: string }>(`/api/pieces/${id}/recover`, { method: "POST" });
    router.push(`/piece/${piece.id}`);
  };
  return (
    <TroublePage title="This piece is damaged" what={what}>
      <p className="text-13 text-faint">
        {readable
          ? `Its version of ${readable.slice(0, 10)} ${readable.slice(11, 16)} can still be read, and is brought back as a piece of its own. The damaged one stays as it is.`
          : "No earlier version of it can be read. Its text can be taken away as it is stored; it may be mended by hand."}
      </p>
      <p className="flex flex-wrap items-center gap-2">
        {readable && (
          <Button
            look="accent"
            onClick={() => void recover().catch((error: Error) => setFault(error.message))}
          >
            Bring that version back
          </Button>
        )}
        <a
          className="rounded-6 border border-rule bg-raised px-3 py-1.5 text-13"
          href={`/api/pieces/${id}/text`}
          download
        >
          Take its text away
        </a>
        <Link className="ml-auto text-13 text-accent underline underline-offset-4" href="/">
          Back to the shelf
        </Link>
      </p>
      {fault && (
        <p role="alert" className="text-13 text-alert">
          {fault}
        </p>
      )}
    </TroublePage>
  );
}
