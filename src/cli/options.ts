/** The options of all commands. */
export const OPTIONS = {
  json: { type: "boolean" },
  markdown: { type: "boolean" },
  node: { type: "string" },
  port: { type: "string" },
  frame: { type: "string" },
  frames: { type: "string" },
  part: { type: "string" },
  format: { type: "string" },
  copies: { type: "string" },
  out: { type: "string" },
  help: { type: "boolean" },
} as const;

export type Options = {
  [K in keyof typeof OPTIONS]?: (typeof OPTIONS)[K]["type"] extends "boolean" ? boolean : string;
};
