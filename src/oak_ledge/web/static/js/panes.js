// Draws the two panes of the bench from the server's figures, in CSS pixels. Decides nothing.

const part = (svg, name) => svg.querySelector(`[data-part=${name}]`);

function put(element, attributes) {
  for (const [name, value] of Object.entries(attributes)) {
    element.setAttribute(name, typeof value === "number" ? value.toFixed(2) : value);
  }
}

// A box of the given shape, as large as fits, standing on the ledge.
function standing(width, height, roomWide, roomHigh, left, top) {
  const scale = Math.min(roomWide / width, roomHigh / height);
  return {
    scale,
    left: left + (roomWide - width * scale) / 2,
    top: top + roomHigh - height * scale,
    width: width * scale,
    height: height * scale,
  };
}

// Whole photo: gives the scale, CSS pixels per photo pixel, and the photo's corner.
export function drawWhole(svg, view, held) {
  const wide = svg.clientWidth;
  const high = svg.clientHeight;
  const box = standing(held[0], held[1], wide - 16, high - 12, 8, 12);
  const [left, top, width, height] = view.crop;
  const crop = {
    x: box.left + left * box.scale,
    y: box.top + top * box.scale,
    width: width * box.scale,
    height: height * box.scale,
  };
  put(part(svg, "photo"), { x: box.left, y: box.top, width: box.width, height: box.height });
  put(part(svg, "shade"), {
    d:
      `M${box.left} ${box.top}h${box.width}v${box.height}h${-box.width}z` +
      `M${crop.x} ${crop.y}h${crop.width}v${crop.height}h${-crop.width}z`,
  });
  put(part(svg, "edge"), crop);
  put(part(svg, "crop"), crop);
  const right = crop.x + crop.width;
  const bottom = crop.y + crop.height;
  const corners = { nw: [crop.x, crop.y], ne: [right, crop.y], se: [right, bottom], sw: [crop.x, bottom] };
  for (const [name, at] of Object.entries(corners)) {
    put(svg.querySelector(`[data-corner=${name}]`), { transform: `translate(${at[0].toFixed(2)} ${at[1].toFixed(2)})` });
  }
  const middle = { x: crop.x + crop.width / 2, y: crop.y + crop.height / 2 };
  const sides = view.trimmed_sides;
  side(svg, "left", sides.left, (box.left + crop.x) / 2, middle.y + 5, crop.x - box.left);
  side(svg, "right", sides.right, (right + box.left + box.width) / 2, middle.y + 5, box.left + box.width - right);
  side(svg, "top", sides.top, middle.x, (box.top + crop.y) / 2 + 5, 2 * (crop.y - box.top));
  side(svg, "bottom", sides.bottom, middle.x, (bottom + box.top + box.height) / 2 + 5, 2 * (box.top + box.height - bottom));
  return box;
}

function side(svg, name, share, x, y, room) {
  const text = svg.querySelector(`[data-side=${name}]`);
  text.textContent = room >= 38 ? `${Math.round(share * 100)} %` : "";
  put(text, { x, y });
}

// The piece: gives the scale, CSS pixels per output pixel.
export function drawPiece(svg, view, held, lengths) {
  const asked = view.asked;
  const wide = svg.clientWidth;
  const high = svg.clientHeight;
  const box = standing(asked.width, asked.height, wide - 130, high - 50, 80, 16);
  const zoom = box.width / view.crop[2];
  const frame = { x: box.left, y: box.top, width: box.width, height: box.height };
  put(part(svg, "cast"), { ...frame, x: box.left + 3, y: box.top + 4 });
  put(part(svg, "window"), { ...frame, viewBox: `0 0 ${box.width} ${box.height}` });
  put(part(svg, "under"), {
    x: -view.crop[0] * zoom,
    y: -view.crop[1] * zoom,
    width: held[0] * zoom,
    height: held[1] * zoom,
  });
  put(part(svg, "fine"), { x: 0, y: 0, width: box.width, height: box.height });
  put(part(svg, "rim"), frame);
  const low = box.top + box.height + 16;
  const away = box.left - 16;
  put(part(svg, "across"), { d: ruler(box.left, low, box.width, 0) });
  put(part(svg, "along"), { d: ruler(away, box.top, 0, box.height) });
  put(part(svg, "width"), { x: box.left + box.width / 2, y: low + 5 });
  put(part(svg, "height"), { x: away + 4, y: box.top + box.height / 2 + 5 });
  part(svg, "width").textContent = lengths[0];
  part(svg, "height").textContent = lengths[1];
  return box;
}

// A measuring line with a foot at each end.
function ruler(x, y, across, along) {
  return across
    ? `M${x} ${y - 5}v10M${x} ${y}h${across}M${x + across} ${y - 5}v10`
    : `M${x - 5} ${y}h10M${x} ${y}v${along}M${x - 5} ${y + along}h10`;
}
