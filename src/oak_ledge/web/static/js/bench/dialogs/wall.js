// The piece at the size it will have on the wall, by a screen measured once against a bank card.

const CARD = { wide: 85.6 / 25.4, high: 53.98 / 25.4 }; // inches, ISO/IEC 7810 ID-1
const USUAL = 96; // CSS pixels to the inch, until the screen is measured
const KEPT = "oak-ledge-screen";

// A part of the bench, which it knows as `this.bench`.
export const wall = {
  perInch: Number(localStorage.getItem(KEPT)) || 0,

  get shown() {
    return this.bench.choices.pieceShown === "wall";
  },
  // CSS pixels of the print's width; null where it is not shown so.
  get width() {
    return this.shown ? this.bench.view.printed[0] * (this.perInch || USUAL) : null;
  },
  get word() {
    return this.perInch ? "at its true size" : "at about its true size";
  },
  get measureWord() {
    return this.perInch ? "Measure again" : "Measure this screen";
  },
  openCard() {
    this.cardWide = (this.perInch || USUAL) * CARD.wide;
    this.drawCard();
    this.bench.$refs.card.showModal();
  },
  slideCard(event) {
    this.cardWide = Number(event.target.value);
    this.drawCard();
  },
  drawCard() {
    const { cardSlide, cardOutline } = this.bench.$refs;
    cardSlide.value = this.cardWide;
    cardOutline.setAttribute("width", this.cardWide);
    cardOutline.setAttribute("height", (this.cardWide * CARD.high) / CARD.wide);
  },
  takeCard() {
    this.perInch = this.cardWide / CARD.wide;
    localStorage.setItem(KEPT, this.perInch);
    this.bench.redraw();
  },
  // The output's pixels are those the piece takes on this screen now.
  asSeen() {
    this.bench.keep({ kind: "as_seen", scale: this.bench.pieceBox.across * window.devicePixelRatio });
  },
};
