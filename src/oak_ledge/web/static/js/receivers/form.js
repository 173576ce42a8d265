// A receiver as it is edited: fields to JSON and back; the server reads it back as a sentence.

const listed = (text) => {
  const parts = text.split(/[,;]/).map((part) => part.trim());
  return parts.some(Boolean) ? parts.filter(Boolean) : null;
};
const whole = (text) => (String(text ?? "").trim() ? Number(text) : null);
const ends = (low, high) => (low === null && high === null ? null : [low, high]);

export const EMPTY = {
  name: "",
  sizes: "",
  pixels: "",
  least: "",
  most: "",
  low: "",
  high: "",
  formats: [],
  profiles: "",
  at_most: "",
  most_files: "",
  plain: false,
  bleed: "",
  kind: "folder",
  path: "",
  url: "",
  user: "",
  secret: "",
  host_key: "",
  speed: "",
  authority: "",
};

export function formOf({ name, takes, way }) {
  const [least, most] = takes.long_edge ?? ["", ""];
  const [low, high] = takes.ppi ?? ["", ""];
  return {
    name,
    sizes: (takes.sizes ?? []).join(", "),
    pixels: (takes.pixels ?? []).map((edges) => edges.join("x")).join(", "),
    least: least ?? "",
    most: most ?? "",
    low,
    high,
    formats: [...(takes.formats ?? [])],
    profiles: (takes.profiles ?? []).join(", "),
    at_most: takes.at_most ?? "",
    most_files: takes.most_files ?? "",
    plain: takes.first_on_plain_ground,
    bleed: takes.bleed ?? "",
    kind: way.kind,
    path: way.path ?? "",
    url: way.url ?? "",
    user: way.user ?? "",
    secret: way.secret ?? "",
    host_key: way.host_key ?? "",
    speed: way.at_most_per_second ?? "",
    authority: way.authority ?? "",
  };
}

// `before` is the receiver as it was read, for what no field shows.
export function bodyOf(form, before) {
  const pixels = listed(form.pixels)?.map((part) => part.replace(/px$/i, "").split(/[x×]/i).map(Number)) ?? null;
  const [low, high] = [whole(form.low), whole(form.high)];
  const takes = {
    sizes: listed(form.sizes),
    pixels,
    long_edge: ends(whole(form.least), whole(form.most)),
    ppi: low === null && high === null ? null : [low ?? high, high ?? low],
    formats: form.formats.length ? form.formats : null,
    profiles: listed(form.profiles),
    at_most: form.at_most.trim() || null,
    most_files: whole(form.most_files),
    first_on_plain_ground: form.plain,
    bleed: form.bleed.trim() || null,
  };
  return { name: form.name.trim(), takes, way: wayOf(form, before?.way), version: before?.version };
}

function wayOf(form, before) {
  if (form.kind === "folder") return { kind: "folder", path: form.path.trim() };
  const way = { kind: form.kind, url: form.url.trim(), secret: form.secret.trim() || null };
  if (form.speed.trim()) way.at_most_per_second = form.speed.trim();
  if (form.kind === "sftp") {
    // a key is of its host: another address is another host
    const key = form.host_key.trim() || null;
    way.host_key = key === before?.host_key && before?.url !== way.url ? null : key;
    return way;
  }
  way.user = form.user.trim() || null;
  if (form.authority.trim()) way.authority = form.authority.trim();
  return way;
}
