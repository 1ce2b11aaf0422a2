/** What was added last in this browser, the latest first. */
const KEY = "glemmo-used-last";
const MOST = 4;

export function usedLast(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(kept) ? kept.filter((id) => typeof id === "string") : [];
  } catch {
    // What another version wrote, or a browser that keeps nothing: only a convenience is lost.
    return [];
  }
}

export function noteUsed(id: string): void {
  const next = [id, ...usedLast().filter((other) => other !== id)].slice(0, MOST);
  try {
    localStorage.setItem(KEY, JSON.stringify(next));
  } catch {
    // Likewise.
  }
}
