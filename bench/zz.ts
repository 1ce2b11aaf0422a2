import { COMPOSED_BY_SOFTWARE } from "../scripts/chromium";
import { finishedFrames } from "./finished";
import { graphPan } from "./graph-pan";
const b = await graphPan(300, COMPOSED_BY_SOFTWARE); console.log("software", b, b.ours / b.other);
const f = await finishedFrames(); console.log("finish", f, f.ours / f.other);
