/** What a file brought in may be called: a plain name on every system, never a way to somewhere else. */

/** Letters at most. */
const LONGEST = 255;

/** Names that stand for devices on some systems, with any ending. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i;

/** The name with what is not allowed replaced; the same text when nothing was. */
export function cleanFileName(name: string): string {
  const last = name.split(/[/\\]/).pop() ?? "";
  const plain = last
    // biome-ignore lint/suspicious/noControlCharactersInRegex: those are what has to go
    .replace(/[\u0000-\u001f\u007f<>:"|?*]/g, "_")
    .replace(/^\.+/, "")
    .replace(/[. ]+$/, "");
  const safe = DEVICES.test(plain) ? `_${plain}` : plain;
  const ending = /\.[^.]{1,10}$/.exec(safe)?.[0] ?? "";
  return (safe.length > LONGEST ? safe.slice(0, LONGEST - ending.length) + ending : safe) || "file";
}
