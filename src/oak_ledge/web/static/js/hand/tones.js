// The tones of the wall, on every page that has one.

export const TONES = ["light", "mid", "dark"];
