/** How Debian's Chromium is started for tests and pictures: quietly, with software rendering. */

export const CHROMIUM = process.env.CHROMIUM ?? "/usr/bin/chromium";

export const CHROMIUM_ARGS = [
  "--no-sandbox",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--use-angle=swiftshader",
  "--enable-unsafe-swiftshader",
];

/** The page itself is painted by the browser's own software; an emulated card paints it in twice the time. */
export const PAINTED_BY_SOFTWARE = "--disable-gpu-rasterization";

/** The page's layers are laid together by the browser's own software too, as it does where there is no card at all. */
export const COMPOSED_BY_SOFTWARE = "--disable-gpu-compositing";
