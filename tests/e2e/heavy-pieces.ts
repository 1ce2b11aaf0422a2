/** Demo pieces of many clones, whose pictures software rendering would draw for minutes. */
export const HEAVY = [
  ...["Seed head, breathing", "Dew sheet", "Gourd scan revealed"],
  ...["Herb plots", "Seed beds rising", "Seed globe"],
];
