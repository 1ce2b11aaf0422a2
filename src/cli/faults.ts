/** How a command ends when it cannot do what was asked. */

/** The command was called wrongly: exit status 2. */
export class WrongCall extends Error {}

/** The piece has errors, one a line: exit status 1. */
export class PieceError extends Error {}
