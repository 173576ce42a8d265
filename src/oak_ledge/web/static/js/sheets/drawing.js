// Draws a page of a sheet from the server's figures, in the paper's own unit. Decides nothing.

const SVG = "http://www.w3.org/2000/svg";

const NAME = 6.5 / 72; // inches: the letters of a name

function make(name, attributes = {}, ...inside) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  element.append(...inside);
  return element;
}

// A piece's picture in a box of its own proportions: by its own, or its photo laid out by its crop.
function picture(one, width, height) {
  const [left, top, wide, high] = one.cut;
  const whole = { width: width / wide, height: height / high };
  const view = `${left * whole.width} ${top * whole.height} ${width} ${height}`;
  const inner = make("svg", { width, height, viewBox: view, overflow: "hidden" });
  if (one.drawn) {
    const href = `/api/placements/${one.placement_id}/preview?edge=1024&of=${one.look}`;
    inner.append(make("image", { href, ...whole, preserveAspectRatio: "none" }));
    return inner;
  }
  const across = whole.width / one.crop[2];
  const along = whole.height / one.crop[3];
  const turns = one.quarter || one.mirror ? `&quarter=${one.quarter}&mirror=${one.mirror}` : "";
  const look = one.photo_look ? `&look=${one.photo_look}` : "";
  inner.append(
    make("rect", { ...whole, fill: one.ground.startsWith("#") ? one.ground : "#d9d4c8" }),
    make("image", {
      href: `/api/photos/${one.photo_id}/preview?edge=1024${look}${turns}`,
      x: -one.crop[0] * across,
      y: -one.crop[1] * along,
      width: one.extent[0] * across,
      height: one.extent[1] * along,
      preserveAspectRatio: "none",
      transform: `rotate(${-one.angle} ${whole.width / 2} ${whole.height / 2})`,
    }),
  );
  return inner;
}

// What the page holds of it.
export const drawing = {
  draw() {
    const { paper, stage } = this.$refs;
    const { view } = this;
    const held = document.activeElement?.closest?.(".piece-on")?.dataset.n;
    const room = stage.getBoundingClientRect();
    this.scale = Math.min((room.width - 36) / view.width, (room.height - 36) / view.height);
    const px = 1 / this.scale; // one CSS pixel in the paper's unit
    paper.setAttribute("viewBox", `0 0 ${view.width} ${view.height}`);
    const cast = make("rect", { class: "sheet-cast", x: 4 * px, y: 6 * px, width: view.width, height: view.height });
    const back = make("rect", { class: "sheet-ground", width: view.width, height: view.height, fill: view.ground });
    const [x, y, width, height] = view.room;
    const marks = (view.marks[this.page] ?? []).map(([x0, y0, x1, y1]) => `M${x0} ${y0}L${x1} ${y1}`).join("");
    paper.replaceChildren(
      cast,
      back,
      make("rect", { class: "sheet-room", x, y, width, height }),
      ...view.pieces.filter((one) => one.page === this.page).map((one) => this.drawPiece(one, px)),
      make("path", { class: "trim", d: marks }),
      make("g", { class: "guides" }),
    );
    if (held) paper.querySelector(`[data-n="${held}"]`)?.focus({ preventScroll: true });
  },
  drawPiece(one, px) {
    const [wide, high] = one.turned ? [one.height, one.width] : [one.width, one.height];
    const chosen = one.n === this.chosen ? " is-chosen" : "";
    const name = `${one.photo}, ${one.size}${one.panel ? `, panel ${one.panel}` : ""}${one.turned ? ", turned" : ""}`;
    const inner = make("g", one.turned ? { transform: `translate(${one.width} 0) rotate(90)` } : {}, picture(one, wide, high));
    const parts = [inner, make("rect", { class: "piece-edge", width: one.width, height: one.height })];
    const letters = one.label.length * 6.6 + 14;
    if (one.width > letters * px && one.height > 30 * px) {
      const text = make("text", { x: 7, y: 15 });
      text.textContent = one.label;
      parts.push(make("g", { class: "badge", transform: `translate(${6 * px} ${6 * px}) scale(${px})`, "aria-hidden": "true" }, make("rect", { width: letters, height: 21, rx: 2 }), text));
    }
    if (this.view.layout.names && this.view.unit !== "px") {
      const inch = { in: 1, cm: 2.54, mm: 25.4 }[this.view.unit];
      const line = make("text", { class: "piece-name", y: one.height + 1.2 * NAME * inch, x: 0.6 * NAME * inch, "font-size": NAME * inch, "aria-hidden": "true" });
      line.textContent = `${one.photo}, ${one.size}`;
      parts.push(line);
    }
    return make("g", { class: `piece-on${chosen}`, "data-n": one.n, tabindex: 0, role: "button", "aria-label": name, transform: `translate(${one.x} ${one.y})` }, ...parts);
  },
  drawGuides({ vertical, horizontal }) {
    const { width, height } = this.view;
    const lines = [
      ...vertical.map((x) => make("line", { class: "guide", x1: x, x2: x, y1: 0, y2: height })),
      ...horizontal.map((y) => make("line", { class: "guide", y1: y, y2: y, x1: 0, x2: width })),
    ];
    this.$refs.paper.querySelector(".guides").replaceChildren(...lines);
  },
  pieceAt(n) {
    return this.$refs.paper.querySelector(`[data-n="${n}"]`);
  },
};
