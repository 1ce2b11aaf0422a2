/** The order in which Jest runs tests: a long one that began last would run alone at the end. */
import Sequencer from "@jest/test-sequencer";
import { SLOW_TESTS } from "./slow-tests.mjs";

export default class SlowFirst extends Sequencer {
  sort(tests) {
    const place = ({ path }) => {
      const at = SLOW_TESTS.findIndex((name) => path.endsWith(name));
      return at < 0 ? SLOW_TESTS.length : at;
    };
    return super.sort(tests).sort((a, b) => place(a) - place(b));
  }
}
