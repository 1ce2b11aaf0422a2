/** The headless command: `glemmo nodes|check|values|export|time`. Exit 0 done, 1 the piece has errors, 2 wrong call. */
import { parseArgs } from "node:util";
import { FormatError } from "../core/formats/format-error";
import { PieceError, WrongCall } from "./faults";
import { OPTIONS, type Options } from "./options";

const USAGE = `glemmo nodes [--json | --markdown]
glemmo check FILE
glemmo values FILE --node ID [--port NAME] [--frame N] [--format csv|json]
glemmo export FILE --format glb|obj|ply|stl|nrrd|slices|slices-exr|csv|animation [--frames A..B] [--part i/n] [--copies instanced|baked] --out PATH
glemmo time FILE [--frames A..B]
FILE is a .glemmo.json file, or demo:NAME. With several frames, PATH holds #### for the frame number.`;

type Command = (file: string, options: Options) => Promise<void> | void;

/** Each is loaded when it is called: to say how it is called takes none of them. */
const COMMANDS: Readonly<Record<string, () => Promise<Command>>> = {
  nodes: async () => {
    const { nodesCommand } = await import("./nodes");
    return (_file, options) => nodesCommand(options);
  },
  check: async () => (await import("./check")).checkCommand,
  values: async () => (await import("./values")).valuesCommand,
  export: async () => (await import("./export")).exportCommand,
  time: async () => (await import("./time")).timeCommand,
};

async function main(): Promise<number> {
  try {
    const { values: options, positionals } = readArguments();
    const load = Object.hasOwn(COMMANDS, positionals[0] ?? "") ? COMMANDS[positionals[0]] : undefined;
    if (options.help || positionals.length === 0) {
      console.log(USAGE);
      return options.help ? 0 : 2;
    }
    if (!load) throw new WrongCall(`There is no command "${positionals[0]}".`);
    if (positionals[0] !== "nodes" && !positionals[1]) throw new WrongCall("Which FILE?");
    const command = await load();
    await command(positionals[1], options);
    return 0;
  } catch (error) {
    if (error instanceof WrongCall) {
      console.error(`${error.message}\n\n${USAGE}`);
      return 2;
    }
    if (error instanceof PieceError || error instanceof FormatError) {
      console.error(error.message);
      return 1;
    }
    throw error;
  }
}

function readArguments() {
  try {
    return parseArgs({ options: OPTIONS, allowPositionals: true });
  } catch (error) {
    throw new WrongCall((error as Error).message);
  }
}

main().then((code) => {
  process.exitCode = code;
});
