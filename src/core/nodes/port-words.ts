/** Port names as words on screen: `fromLow` is "from low". */
export const portWords = (name: string): string => name.replace(/([a-z])([A-Z])/g, "$1 $2").toLowerCase();
