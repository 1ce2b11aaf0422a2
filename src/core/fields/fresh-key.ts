/** Prepared structures have no key but themselves: every one gets a new one. */
let made = 0;
export const freshKey = (): string => String(made++);
