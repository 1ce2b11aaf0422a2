import { FolderOpen, Footprints, Moon, Search as SearchIcon } from "lucide-react";
import { useRef } from "react";
import { Button, IconButton } from "@/ui/button";
import { switchTheme } from "@/ui/theme";
import type { Pieces } from "./use-pieces";

interface ShelfHeaderProps {
  readonly shelf: Pieces;
  readonly wanted: string;
  readonly onWanted: (words: string) => void;
}

/** Where pieces are found, opened and begun. */
export function ShelfHeader({ shelf, wanted, onWanted }: ShelfHeaderProps) {
  const { attempt } = shelf;
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <header className="flex items-center gap-3">
      <h1 className="font-display text-[27px] font-bold leading-none tracking-tight">glemmo</h1>
      <p className="mt-1 text-13 text-faint">Quillmoss Seed Library · Open Day</p>
      <label className="ml-auto flex h-8 w-60 items-center gap-2 rounded-6 border border-rule bg-raised px-2.5 text-faint">
        <SearchIcon size={13} />
        <input
          aria-label="Find a piece"
          placeholder="Find a piece"
          className="w-full bg-transparent text-13 text-ink outline-none placeholder:text-faint"
          value={wanted}
          onChange={(event) => onWanted(event.target.value)}
        />
      </label>
      <IconButton label="Night or day" className="!h-8 !w-8" onClick={switchTheme}>
        <Moon size={15} />
      </IconButton>
      <Button className="!h-8" onClick={() => void attempt(shelf.tour)}>
        <Footprints size={14} /> Tour
      </Button>
      <Button className="!h-8" onClick={() => chooser.current?.click()}>
        <FolderOpen size={14} /> Open a file
      </Button>
      <Button look="accent" className="!h-8" onClick={() => void attempt(shelf.blank)}>
        Blank piece
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        accept=".zip,.json,application/zip,application/json"
        aria-label="Piece file"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void attempt(() => shelf.openFile(file));
          event.target.value = "";
        }}
      />
    </header>
  );
}
