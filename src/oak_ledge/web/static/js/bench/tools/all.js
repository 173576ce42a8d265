// What the next drag on the whole photo can do. A tool is {grab(bench, event), draw(bench),
// cancel(bench), keys(bench, event)}; it may leave out what it has no use for. A new one is a file of
// its own and a line here.

import { cut, from, outline, paint, texture } from "./brush.js";
import { draw } from "./draw.js";
import { head } from "./head.js";
import { level } from "./level.js";
import { pick } from "./pick.js";
import { square } from "./square.js";
import { mark, zone } from "./zone.js";

export const tools = { cut, draw, from, head, level, mark, outline, paint, pick, square, texture, zone };
