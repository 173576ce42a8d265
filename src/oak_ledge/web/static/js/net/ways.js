// A stop's ways out: its one step, or making the piece all the same on a person's word.

import { ask } from "./ask.js";

export function takeWay({ placement_id, code, step }, allow) {
  return ask(`/api/placements/${placement_id}/fix`, { method: "POST", body: { code, allow, step } });
}
