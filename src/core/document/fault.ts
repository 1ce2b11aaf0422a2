/** One thing wrong in a document: where (a path such as `graph.nodes[3].at`) and what. */
export interface DocumentFault {
  readonly where: string;
  readonly what: string;
}

/** Where and what, one after the other; what concerns the whole has no place. */
export const faultsText = (faults: readonly { readonly where?: string; readonly what: string }[]): string =>
  faults.map(({ where, what }) => (where ? `${where}: ${what}` : what)).join(" ");
