/** Writes what is taken away: one file now, or many frames lined up for later. */
import { useEffect, useRef, useState } from "react";
import { writeDocument } from "@/core/document/read";
import { type ExportId, exportFormat } from "@/core/formats/write/export-formats";
import type { FrameFormat } from "@/core/formats/write/write-frame";
import type { EngineClient } from "@/engine/client";
import { download, fileStem } from "@/ui/download";
import type { StageView } from "../stage/stage-view";
import { useStudioStore } from "../state/store";
import { isPicture } from "./deep-pictures";
import { addDelivery } from "./delivery-queue";
import type { FrameLook } from "./frame-look";
import { FramePainter } from "./frame-painter";
import type { FrameRange } from "./frame-range";

interface Taking {
  readonly id: ExportId;
  readonly copies: "instanced" | "baked";
  readonly look: FrameLook;
  /** Pictures go into a folder that is asked for. */
  readonly inFolder: boolean;
  /** The frames of what is of many; null for the present one. */
  readonly many: FrameRange | null;
  readonly engine: () => EngineClient | null;
  readonly view: () => StageView | null;
  readonly onClose: () => void;
}

export function useTaking({ id, copies, look, inFolder, many, engine, view, onClose }: Taking) {
  const store = useStudioStore();
  const { document } = store.getState();
  const { frame } = store.time.getState();
  const format = exportFormat(id);
  const [working, setWorking] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const isShown = useRef(true);
  useEffect(() => {
    isShown.current = true;
    return () => {
      isShown.current = false;
    };
  }, []);

  /** Lines it up; the dialog may be closed meanwhile. */
  const makeMany = async (frames: FrameRange): Promise<void> => {
    const stage = view();
    if (!stage || id === "piece") throw new Error("There is no stage to take pictures of.");
    const folder = inFolder ? await window.showDirectoryPicker?.({ mode: "readwrite" }) : undefined;
    const isDone = await addDelivery({
      ...frames,
      id: crypto.randomUUID(),
      document,
      kind: id,
      copies,
      view: stage.view(),
      look,
      ...(folder ? { folder } : {}),
    });
    // It may have been closed by hand meanwhile, and something else opened.
    if (isDone && isShown.current) onClose();
  };
  const make = async (): Promise<{ blob: Blob; ending: string }> => {
    const { ending, mediaType: type } = format;
    if (id === "piece") return { blob: new Blob([writeDocument(document)], { type }), ending };
    if (isPicture(id)) {
      const stage = view();
      if (!stage) throw new Error("There is no stage to take a picture of.");
      const painter = new FramePainter(document, stage.view(), look, id);
      try {
        return { blob: await painter.file(frame), ending };
      } finally {
        painter.dispose();
      }
    }
    const client = engine();
    if (!client) throw new Error("The engine is not running.");
    if (format.frames === "range") throw new Error(`${format.title} is made of many frames.`);
    // What is neither drawn nor of a range is written by the engine.
    const bytes = await client.export(document, frame, {
      format: id as FrameFormat,
      copies,
    });
    return { blob: new Blob([bytes], { type }), ending };
  };
  const takeOne = async () => {
    setWorking(true);
    try {
      const { blob, ending } = await make();
      download(blob, `${fileStem(document.name)}${format.frames === "none" ? "" : `-${frame}`}.${ending}`);
      onClose();
    } finally {
      setWorking(false);
    }
  };
  const take = () => {
    setFault(null);
    (many ? makeMany(many) : takeOne()).catch((error: Error) => {
      // No folder was chosen: nothing was asked for.
      if (error.name !== "AbortError") setFault(error.message);
    });
  };
  return { working, fault, take };
}
