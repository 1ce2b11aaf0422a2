/** What fields ask a volume. */
import { levelName, USUAL_DENSITY, type Volume, VolumeReader } from "../geometry/volume";

export class VolumeQuestions {
  /** Functions cannot be sent: a field with this in it fails to cross to another thread at once. */
  readonly staysHere = (): true => true;
  private readonly reader: VolumeReader;
  private readonly level: VolumeReader;
  private readonly isDistance: boolean;
  /** Of the second and third number, where there are any. */
  private readonly others: readonly VolumeReader[];

  /** @param name of the column that is read; its distance or density when empty */
  constructor(
    private readonly volume: Volume,
    name: string,
  ) {
    this.reader = new VolumeReader(volume, name || levelName(volume));
    this.level = new VolumeReader(volume, levelName(volume));
    const kind = volume.voxels.columns[name]?.kind;
    this.others =
      kind === "vector" || kind === "color" ? [1, 2].map((l) => new VolumeReader(volume, name, l)) : [];
    this.isDistance = levelName(volume) === "distance";
  }

  value(x: number, y: number, z: number): number {
    return this.reader.at(x, y, z);
  }

  isInside(x: number, y: number, z: number): boolean {
    const value = this.level.at(x, y, z);
    return this.isDistance ? value < 0 : value > USUAL_DENSITY;
  }

  /** 0 where the column has one number. */
  vector(x: number, y: number, z: number, into: number[]): void {
    const isVector = this.others.length > 0;
    into[0] = isVector ? this.reader.at(x, y, z) : 0;
    into[1] = isVector ? this.others[0].at(x, y, z) : 0;
    into[2] = isVector ? this.others[1].at(x, y, z) : 0;
  }

  /** By central differences of half a voxel. */
  gradient(x: number, y: number, z: number, into: number[]): void {
    const { reader, volume } = this;
    const step = volume.voxel / 2;
    into[0] = (reader.at(x + step, y, z) - reader.at(x - step, y, z)) / volume.voxel;
    into[1] = (reader.at(x, y + step, z) - reader.at(x, y - step, z)) / volume.voxel;
    into[2] = (reader.at(x, y, z + step) - reader.at(x, y, z - step)) / volume.voxel;
  }
}
