/** One thing wrong in a document: where (a path such as `graph.nodes[3].at`) and what. */
export interface DocumentFault {
  readonly where: string;
  readonly what: string;
}
