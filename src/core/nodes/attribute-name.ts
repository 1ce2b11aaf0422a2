/** What an attribute may be called. */
export const isAttributeName = (name: string): boolean => /^[A-Za-z_][A-Za-z0-9_]{0,63}$/.test(name);
