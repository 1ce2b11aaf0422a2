"use client";
import { useState } from "react";
import {
  EXPORT_GROUPS,
  type ExportGroup,
  type ExportId,
  exportFormat,
  formatsOf,
} from "@/core/formats/write/export-formats";
import type { EngineClient } from "@/engine/client";
import { Button } from "@/ui/button";
import { Dialog } from "@/ui/dialog";
import { Select } from "@/ui/select";
import type { StageView } from "../stage/stage-view";
import { useStudioStore } from "../state/store";
import { DeliveryList } from "./delivery-list";
import { type FilmKind, filmFrames } from "./film";
import { mostPixels, plainLook, sized } from "./frame-look";
import { type FrameRange, framesOf } from "./frame-range";
import { FramesChoice } from "./frames-choice";
import { LookChoice } from "./look-choice";
import { useTaking } from "./use-taking";

/** A single frame does not move. */
const shapesOf = (copies: "instanced" | "baked" | "moving") => (copies === "moving" ? "instanced" : copies);

interface TakeAwayProps {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly engine: () => EngineClient | null;
  readonly view: () => StageView | null;
}

/** Everything that can be taken out of the studio, for the present frame or for many. */
export function TakeAway({ open, onClose, engine, view }: TakeAwayProps) {
  const store = useStudioStore();
  const [group, setGroup] = useState<ExportGroup["id"]>("picture");
  const [copies, setCopies] = useState<"instanced" | "baked" | "moving">("instanced");
  const [triangles, setTriangles] = useState<ExportId>("obj");
  const [volume, setVolume] = useState<ExportId>("nrrd");
  const [picture, setPicture] = useState<ExportId>("png");
  const { document } = store.getState();
  const { frame } = store.time.getState();

  const whole = { first: document.settings.first, last: document.settings.last, step: 1 };
  const [range, setRange] = useState<FrameRange | null>(null);
  const [chosenLook, setLook] = useState(() => plainLook(document.settings.size));
  const [kind, setKind] = useState<FilmKind>("mp4");
  const id = {
    picture,
    film: kind,
    model: copies === "moving" ? "moving" : "glb",
    triangles,
    volume,
    values: "csv",
    piece: "piece",
  }[group] as ExportId;
  const format = exportFormat(id);
  const isClear = format.drawn === "clear";
  const most = mostPixels(id);
  // Other formats may hold less than the one for which a size was chosen.
  const isTooLarge = Math.max(chosenLook.width, chosenLook.height) > most;
  const look = isTooLarge ? sized(chosenLook, chosenLook.width, document.settings.size, most) : chosenLook;
  /** One file of many frames. */
  const isFilm = format.frames === "range";
  const chosen = range ?? whole;
  const [gifHas, gifKeeps] = [
    framesOf(chosen).length,
    filmFrames({ ...chosen, document, kind: "gif" }).length,
  ];
  const [inFolder, setInFolder] = useState(false);
  const { working, fault, take } = useTaking({
    id,
    copies: shapesOf(copies),
    look: { ...look, transparent: look.transparent && isClear },
    inFolder: inFolder && !isFilm,
    many: format.frames === "none" ? null : (range ?? (isFilm ? whole : null)),
    engine,
    view,
    onClose,
  });
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Take away"
      className="!w-[540px]"
      about={`${range || isFilm ? `Frames ${(range ?? whole).first} to ${(range ?? whole).last}` : `Frame ${frame}`} of “${document.name}”`}
    >
      <div role="radiogroup" aria-label="What to take away" className="grid grid-cols-2 gap-1.5">
        {EXPORT_GROUPS.map((option) => (
          <label
            key={option.id}
            className="flex cursor-pointer items-center gap-3 rounded-6 border border-rule px-3 py-2 has-[:checked]:border-accent has-[:checked]:bg-raised"
          >
            <input
              type="radio"
              name="format"
              className="accent-[var(--accent)]"
              checked={group === option.id}
              onChange={() => setGroup(option.id)}
            />
            <span>
              <span className="font-semibold">{option.title}</span>
              <span className="block text-12 text-faint">{option.about}</span>
            </span>
          </label>
        ))}
      </div>
      {group === "model" && (
        <div className="mt-3 flex items-center justify-between text-12">
          Copies
          <Select
            label="Copies"
            className="h-7 w-[240px] text-12"
            value={copies}
            choices={[
              { value: "instanced", label: "shared (EXT_mesh_gpu_instancing)" },
              { value: "baked", label: "baked to plain triangles" },
              { value: "moving", label: "moving, all frames in one file" },
            ]}
            onChange={(value) => setCopies(value as typeof copies)}
          />
        </div>
      )}
      {group === "triangles" && <FormatChoice group={group} value={triangles} onChange={setTriangles} />}
      {group === "volume" && <FormatChoice group={group} value={volume} onChange={setVolume} />}
      {group === "picture" && <FormatChoice group={group} value={picture} onChange={setPicture} />}
      {group === "film" && (
        <FormatChoice
          group={group}
          title="Kind"
          label="Kind of film"
          value={kind}
          onChange={(id) => setKind(id as FilmKind)}
        />
      )}
      {id === "gif" && gifKeeps < gifHas && (
        <p className="mt-1 text-11 text-faint">
          A GIF shows 50 frames a second at most: {gifKeeps} of {gifHas} frames are taken, so that it lasts as
          long as it should.
        </p>
      )}
      {format.drawn && (
        <LookChoice
          look={look}
          size={document.settings.size}
          most={most}
          mayBeClear={isClear}
          onChange={setLook}
        />
      )}
      {format.frames !== "none" && (
        <FramesChoice
          range={isFilm ? (range ?? whole) : range}
          always={isFilm}
          whole={whole}
          inFolder={inFolder}
          onChange={setRange}
          onFolder={setInFolder}
        />
      )}
      {fault && (
        <p role="alert" className="mt-3 rounded border-alert border-l-2 bg-raised px-3 py-2 text-12">
          {fault}
        </p>
      )}
      <DeliveryList />
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Close</Button>
        <Button look="accent" disabled={working} onClick={take}>
          {working ? "Writing …" : "Take away"}
        </Button>
      </div>
    </Dialog>
  );
}

interface FormatChoiceProps {
  readonly group: ExportGroup["id"];
  readonly title?: string;
  /** What it is told as, where the title alone says too little. */
  readonly label?: string;
  readonly value: ExportId;
  readonly onChange: (id: ExportId) => void;
}

/** One of the formats of a group. */
function FormatChoice({ group, title = "Format", label = title, value, onChange }: FormatChoiceProps) {
  return (
    <div className="mt-3 flex items-center justify-between text-12">
      {title}
      <Select
        label={label}
        className="h-7 w-[240px] text-12"
        value={value}
        choices={formatsOf(group).map((format) => ({ value: format.id, label: format.label }))}
        onChange={(id) => onChange(id as ExportId)}
      />
    </div>
  );
}
