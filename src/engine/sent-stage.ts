/** What the Stage says beside the shape, as the page is told of it; large things of it cross once. */
import type { PieceDocument } from "../core/document/schema";
import { type TextureSheet, textureSheet } from "../core/draw/texture-sheet";
import type { Evaluation } from "../core/evaluate/evaluator";
import type { PictureAsset } from "../core/formats/read/asset";
import type { TextureSet } from "../core/geometry/textures";
import type { LookUp } from "../core/maths/look-up";
import type { Picture } from "../core/maths/picture";
import { cameraAt } from "../core/nodes/dress/camera";
import type { FinishSettings } from "../core/nodes/dress/finish";
import { lightsOf } from "../core/nodes/dress/light";
import type { Background, Floor, Setup } from "../core/nodes/route/stage";
import type { Parts } from "../core/values/parts";
import type { StageSettings } from "./protocol";
import { SentOnce } from "./sent-once";

export class SentStage {
  private readonly surroundings = new SentOnce<Picture>();
  private readonly lookUps = new SentOnce<LookUp>();
  private readonly sheets = new SentOnce<TextureSheet>();
  private sheet: { readonly of: string; readonly made: TextureSheet | null } = { of: "", made: null };

  /** Undefined where nothing reached the Stage. */
  settingsOf(
    { stage, textures }: Evaluation,
    { settings }: PieceDocument,
    frame: number,
  ): StageSettings | undefined {
    if (!stage) return undefined;
    const sight = cameraAt(stage.camera as readonly Parts[], frame);
    const finish = (stage.finish as readonly Parts[]).findLast(({ what }) => what === "finish") ?? null;
    const [width, height] = settings.size;
    const settingsOfFinish = finish?.settings as FinishSettings | undefined;
    return {
      background: stage.background as readonly number[],
      behind: stage.behind as Background,
      above: stage.above as readonly number[],
      ground: stage.ground as boolean,
      floor: stage.floor as Floor,
      facing: stage.facing as number,
      outline: stage.outline as number,
      ink: stage.ink as readonly number[],
      discs: stage.discs as number,
      setup: stage.setup as Setup,
      finish: settingsOfFinish
        ? { ...settingsOfFinish, lookUp: this.lookUps.send(settingsOfFinish.lookUp), frame }
        : null,
      lights: lightsOf(stage.lights as readonly Parts[]),
      camera: sight && { ...sight, picture: width / height },
      lightTurn: stage.lightTurn as number,
      lightPower: stage.lightPower as number,
      light: this.surroundings.send((stage.light as PictureAsset | null)?.picture ?? null),
      textures: this.sheets.send(this.sheetOf(textures)),
    };
  }

  /** Made anew only when there are others. */
  private sheetOf(sets: readonly TextureSet[]): TextureSheet | null {
    const of = sets.map(({ number }) => number).join(" ");
    if (of !== this.sheet.of) this.sheet = { of, made: textureSheet(sets) };
    return this.sheet.made;
  }
}
