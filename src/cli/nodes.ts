import { describeNodes } from "../core/nodes/describe";
import { referencePage } from "../core/nodes/reference";
import type { Options } from "./options";

export function nodesCommand(options: Options): void {
  if (options.json) console.log(JSON.stringify(describeNodes(), null, 2));
  else if (options.markdown) console.log(referencePage());
  else
    for (const node of describeNodes())
      console.log(`${node.type.padEnd(20)} ${node.title.padEnd(20)} ${node.about}`);
}
