/** Made when it is first asked for. */
export function lazily<T>(make: () => T): { get(): T; readonly known: T | null } {
  let known: T | null = null;
  return {
    get() {
      known ??= make();
      return known;
    },
    get known() {
      return known;
    },
  };
}
