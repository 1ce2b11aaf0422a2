import { THUMBNAIL_FRAMES } from "@/studio/stage/thumbnail";
import { MOVING, movingPicture } from "@/ui/moving-picture";

export interface Starter {
  readonly id: string;
  readonly name: string;
  readonly about: string;
}

interface StartersProps {
  readonly starters: readonly Starter[];
  readonly onBegin: (id: string) => void;
}

/** Small pieces to begin from. */
export function Starters({ starters, onBegin }: StartersProps) {
  return (
    <section aria-label="Starters" className="mt-4 grid grid-cols-8 gap-3 border-b border-rule pb-4">
      {starters.map(({ id, name, about }) => (
        <button
          key={id}
          type="button"
          title={about}
          className="group flex flex-col overflow-hidden rounded-6 border border-rule text-left hover:border-accent"
          onClick={() => onBegin(id)}
        >
          <span
            className={`block h-[86px] w-full ${MOVING}`}
            style={movingPicture(`/api/starters/${id}/picture`, THUMBNAIL_FRAMES)}
          />
          <span className="block px-2 pt-1.5 font-display text-13 leading-4 font-semibold">{name}</span>
          <span className="line-clamp-2 block px-2 pb-1.5 text-11 text-faint leading-[14px]">{about}</span>
        </button>
      ))}
    </section>
  );
}
