/**
 * Prepared structures have no key but themselves: every one gets a new one, which no other thread gives either, as fields are made
 * by several.
 */
const thread = Math.random().toString(36).slice(2);
let made = 0;
export const freshKey = (): string => `${thread}.${made++}`;
