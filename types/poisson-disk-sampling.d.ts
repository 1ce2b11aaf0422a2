/** The part of poisson-disk-sampling that the bench uses; the package ships no types. */
declare module "poisson-disk-sampling" {
  export default class PoissonDiskSampling {
    constructor(options: { shape: readonly number[]; minDistance: number; tries?: number });
    fill(): number[][];
  }
}
