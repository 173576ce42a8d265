// The stations of the line. Each is a part of the bench: what its drawer shows and does. A new one is a
// file of its own, a template of its name, and a line here.

import { crop } from "./crop.js";
import { file } from "./file.js";
import { ground } from "./ground.js";
import { head } from "./head.js";
import { level } from "./level.js";
import { photo } from "./photo.js";
import { pixels } from "./pixels.js";

export const stations = { photo, head, level, crop, ground, pixels, file };
