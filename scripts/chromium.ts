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
