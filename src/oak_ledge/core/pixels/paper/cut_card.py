"""The cut card of a framed piece as a page of PDF, A5, its drawing to scale and its lengths as text."""

from __future__ import annotations

import io
from fractions import Fraction
from typing import Any

from oak_ledge.core.reports.cut_card import CutCard

# A5 in points (ISO 216, 72 to the inch).
PAGE = (419.53, 595.28)

# Of paper around all; from one line of text to the next.
PAPER_MARGIN, LINE = 36.0, 14.0

# Points of the drawing.
TALLEST = 250.0

INK, OAK, PALE = (0.12, 0.23, 0.2), (0.66, 0.46, 0.24), (0.95, 0.94, 0.9)


def draw_cut_card(card: CutCard, title: str, below: str) -> bytes:
    """Draw a cut card; letters of the title beyond Latin ones become question marks."""
    from reportlab.pdfgen.canvas import Canvas  # here: it takes its time to load

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAGE, invariant=1)
    canvas.setTitle(_plain(title))
    canvas.setFillColorRGB(*INK)
    canvas.setFont("Helvetica-Bold", 15)
    canvas.drawString(PAPER_MARGIN, PAGE[1] - PAPER_MARGIN - 12, _plain(title))
    canvas.setFont("Helvetica", 9.5)
    canvas.drawString(PAPER_MARGIN, PAGE[1] - PAPER_MARGIN - 28, _plain(below))
    foot = _drawing(canvas, card, PAGE[1] - PAPER_MARGIN - 46)
    at = foot - 24
    for cut in card.cuts:
        canvas.setFont("Helvetica-Bold", 10)
        canvas.drawString(PAPER_MARGIN, at, cut.what)
        canvas.setFont("Helvetica", 10)
        canvas.drawString(PAPER_MARGIN + 122, at, f"{cut.in_inches}   {cut.in_mm}")
        if cut.remark:
            at -= LINE - 2
            canvas.setFont("Helvetica", 8.5)
            canvas.drawString(PAPER_MARGIN + 122, at, cut.remark)
        at -= LINE + 4
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _drawing(canvas: Any, card: CutCard, top: float) -> float:
    """Draw the frame as it hangs, to scale; give where it ends."""
    scale = min((PAGE[0] - 2 * PAPER_MARGIN) / float(card.outer[0]), TALLEST / float(card.outer[1]))
    high = float(card.outer[1]) * scale
    middle = (PAGE[0] / 2, top - high / 2)

    def box(edges: tuple[Fraction, Fraction], *, fill: bool, dash: bool = False) -> None:
        width, height = (float(edge) * scale for edge in edges)
        canvas.setDash(3, 2) if dash else canvas.setDash()
        x, y = middle[0] - width / 2, middle[1] - height / 2
        canvas.rect(x, y, width, height, stroke=1, fill=int(fill))

    canvas.setStrokeColorRGB(*INK)
    canvas.setLineWidth(0.8)
    canvas.setFillColorRGB(*OAK)
    box(card.outer, fill=True)
    canvas.setFillColorRGB(*PALE)
    box(card.sight, fill=True)
    corners = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    for across, along in corners:  # mitres
        outer = [
            middle[n] + s * float(card.outer[n]) * scale / 2 for n, s in enumerate((across, along))
        ]
        inner = [
            middle[n] + s * float(card.sight[n]) * scale / 2 for n, s in enumerate((across, along))
        ]
        canvas.line(*outer, *inner)
    canvas.setFillColorRGB(1, 1, 1)
    if card.window is not None and card.round:
        reach, rise = (float(edge) * scale / 2 for edge in card.window)
        x, y = middle
        canvas.ellipse(x - reach, y - rise, x + reach, y + rise, stroke=1, fill=1)
    elif card.window is not None:
        box(card.window, fill=True)
    box(card.printed, fill=False, dash=True)
    canvas.setDash()
    canvas.setFillColorRGB(*INK)
    return top - high


def _plain(words: str) -> str:
    """Keep what the standard letters of PDF can show."""
    return words.encode("cp1252", "replace").decode("cp1252")[:90]
