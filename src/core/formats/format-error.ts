/** A file that cannot be read or written: what is wrong and where, in words for the designer. */
export class FormatError extends Error {}
