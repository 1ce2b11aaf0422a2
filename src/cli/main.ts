/** The headless command: `glemmo nodes|check|values|export|time`. Exit 0 done, 1 the piece has errors, 2 wrong call. */
import { parseArgs } from "node:util";
import { FormatError } from "../core/formats/format-error";
import { checkCommand } from "./check";
import { exportCommand } from "./export";
import { nodesCommand } from "./nodes";
import { OPTIONS, type Options } from "./options";
import { PieceError, WrongCall } from "./piece";
import { timeCommand } from "./time";
import { valuesCommand } from "./values";

const USAGE = `glemmo nodes [--json | --markdown]
glemmo check FILE
glemmo values FILE --node ID [--port NAME] [--frame N] [--format csv|json]
glemmo export FILE --format glb|obj|ply|stl|csv|animation [--frames A..B] [--part i/n] [--copies instanced|baked] --out PATH
glemmo time FILE [--frames A..B]
FILE is a .glemmo.json file, or demo:NAME. With several frames, PATH holds #### for the frame number.`;

const COMMANDS: Readonly<Record<string, (file: string, options: Options) => Promise<void> | void>> = {
  nodes: (_file, options) => nodesCommand(options),
  check: checkCommand,
  values: valuesCommand,
  export: exportCommand,
  time: timeCommand,
};

async function main(): Promise<number> {
  try {
    const { values: options, positionals } = readArguments();
    const command = COMMANDS[positionals[0]];
    if (options.help || positionals.length === 0) {
      console.log(USAGE);
      return options.help ? 0 : 2;
    }
    if (!command) throw new WrongCall(`There is no command "${positionals[0]}".`);
    if (positionals[0] !== "nodes" && !positionals[1]) throw new WrongCall("Which FILE?");
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
