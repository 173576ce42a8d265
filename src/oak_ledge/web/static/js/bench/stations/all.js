// The stations of the line. Each is a part of the bench: what its drawer shows and does. A new one is a
// file of its own, a template of its name, and a line here.

import { grounding } from "./ground.js";
import { levelling } from "./level.js";
import { measuring } from "./pixels.js";
import { keeping } from "./photo.js";

export const stations = { Photo: keeping, Level: levelling, Ground: grounding, Pixels: measuring };
