// The stations of the line. Each is a part of the bench: what its drawer shows and does. A new one is a
// file of its own, a template of its name, and a line here.

import { cropping } from "./crop.js";
import { filing } from "./file.js";
import { grounding } from "./ground.js";
import { levelling } from "./level.js";
import { keeping } from "./photo.js";
import { measuring } from "./pixels.js";

export const stations = {
  Photo: keeping, Level: levelling, Crop: cropping, Ground: grounding, Pixels: measuring, File: filing,
};
