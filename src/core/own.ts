/** What a record has under a name that somebody typed: objects know names such as "constructor" by themselves. */
export const own = <T>(record: Readonly<Record<string, T>> | undefined, name: string): T | undefined =>
  record !== undefined && Object.hasOwn(record, name) ? record[name] : undefined;
