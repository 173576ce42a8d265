// A stop's ways out: its one step, one of several, or making the piece all the same on a person's word.

import { ask } from "./ask.js";

export function takeWay({ placement_id, code, step }, { allow, way = null }) {
  const body = { code, step, way, allow: allow === "yes" };
  return ask(`/api/placements/${placement_id}/fix`, { method: "POST", body });
}
