// The form of a saved size: filled from what is kept of it, and read for what shall be.

export function fillForm(form, size) {
  const { receiver, file, frame, differ, ground, border, mark, bleed, wrap, sides } = size.size;
  const colour = sides?.ground.startsWith("#") ? sides.ground : "";
  const shown = {
    name: size.name,
    text: size.shape_text,
    group: size.group,
    differ,
    ground,
    border: size.border_text,
    mark: mark ? (known(mark.picture.hash)?.picture.hash ?? "own") : "",
    mark_at: mark?.place ?? "bottom-right",
    bleed,
    wrap,
    sides: colour ? "colour" : sides?.ground,
    side_colour: colour,
    opening: frame?.opening,
    lip: frame?.lip,
    moulding: frame?.moulding,
    outer: frame?.mat?.outer,
    window: frame?.mat && `${frame.mat.window}${frame.mat.round ? " round" : ""}`,
    method: size.size.method,
    sharpen_for: size.size.sharpen_for,
    sharpen: size.size.sharpen,
    low: receiver?.low,
    high: receiver?.high,
    goes_to: named(form, size.size.goes_to),
    enlargement: size.size.greatest_enlargement,
    format: file.format,
    quality: file.quality,
    most: size.at_most,
    profile: file.profile,
    metadata: file.metadata === "keep" && !file.location ? "no-place" : file.metadata,
    pattern: file.pattern,
  };
  for (const [name, value] of Object.entries(shown)) form.elements[name].value = value ?? "";
  form.elements.icc.value = "";
  form.elements.fold_marks.checked = Boolean(sides?.marks);
  for (const name of ["fine_colour", "progressive"]) form.elements[name].checked = file[name];
  form.querySelector("details").open = Boolean(frame || border || mark || bleed || wrap);
}

// A receiver that is not here (any more) can still be the one a size names.
function named(form, name) {
  const choices = form.elements.goes_to;
  if (name && ![...choices.options].some((one) => one.value === name)) choices.append(new Option(name));
  return name;
}

// The marks of the library, as they are laid at first.
const known = (hash) => JSON.parse(document.getElementById("marks").textContent).find((one) => one.picture.hash === hash);

// A mark chosen anew is laid as the library says, one that was there stays as it is; at its place both.
function laid(hash, place, was) {
  if (!hash) return null;
  const same = hash === "own" || hash === was?.picture.hash;
  return { ...(same ? was : known(hash)), place };
}

// All that the form says beside the text; an empty field takes its part away. `file` and `mark` are as they
// are kept: what of them stands in no field stays. `profile` is the receiver's, its name and bytes.
export function writtenIn(form, { file, mark }, profile) {
  const of = (name) => form.elements[name].value.trim() || null;
  const some = (parts) => Object.fromEntries(Object.entries(parts).filter(([, value]) => value !== null));
  const mat = some({ outer: of("outer"), window: of("window") });
  const frame = some({ opening: of("opening"), lip: of("lip"), moulding: of("moulding") });
  if (Object.keys(mat).length) frame.mat = mat;
  const low = of("low") ?? of("high");
  const shown = of("sides") === "colour" ? of("side_colour") : of("sides");
  return {
    sides: shown ? { ground: shown, marks: form.elements.fold_marks.checked } : null,
    ground: of("ground"),
    border: of("border"),
    mark: laid(of("mark"), of("mark_at"), mark),
    bleed: of("bleed"),
    wrap: of("wrap"),
    frame: Object.keys(frame).length ? frame : null,
    method: of("method"),
    sharpen_for: of("sharpen_for"),
    sharpen: of("sharpen"),
    goes_to: form.elements.goes_to.value,
    receiver: low ? { low, high: of("high") ?? low } : null,
    greatest_enlargement: of("enlargement"),
    file: {
      format: of("format"),
      at_most: of("most"),
      profile: of("profile"),
      icc: of("profile") === "receiver" ? profile : null,
      metadata: of("metadata") === "no-place" ? "keep" : of("metadata"),
      location: of("metadata") !== "no-place",
      fine_colour: form.elements.fine_colour.checked,
      progressive: form.elements.progressive.checked,
      compression: file.compression,
      floor: file.floor,
      ...some({ quality: of("quality"), pattern: of("pattern") }),
    },
  };
}
