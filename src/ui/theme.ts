/** Night or day, remembered in the browser. */

const KEY = "glemmo-theme";

/** Runs before the first paint, so that the page does not flash. */
export const THEME_SCRIPT = `try{document.documentElement.dataset.theme=localStorage.getItem("${KEY}")==="day"?"day":"night"}catch{}`;

export const currentTheme = (): "night" | "day" =>
  document.documentElement.dataset.theme === "day" ? "day" : "night";

export function switchTheme(): void {
  const theme = currentTheme() === "day" ? "night" : "day";
  document.documentElement.dataset.theme = theme;
  try {
    localStorage.setItem(KEY, theme);
  } catch {
    // Without storage the choice lasts as long as the page.
  }
}
