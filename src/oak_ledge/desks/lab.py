"""A print lab: papers it has, the resolution it wants, formats and colours it takes."""

from __future__ import annotations

from math import log

from oak_ledge.core.files.wishes import Wish
from oak_ledge.desks.desk import Answer, Fix, Parcel

PAPERS = (  # inches, the shorter edge first; with its bleed a print may be a little larger
    (4, 6), (5, 7), (6, 8), (8, 8), (8, 10), (8, 12), (11, 14), (12, 18), (16, 20), (20, 30), (24, 36),
    (4.13, 5.83), (5.83, 8.27), (8.27, 11.69), (11.69, 16.54), (16.54, 23.39), (3.94, 5.91), (5.12, 7.09),
    (7.87, 11.81), (7.87, 9.84), (9.45, 11.81), (11.81, 15.75), (15.75, 19.69), (19.69, 27.56), (15.75, 23.62),
)  # fmt: skip
# Inches, both sides together.
BLEED = 0.3
LEAST_PPI, MOST_PPI = 150, 720
COLOURS = ("srgb", "display p3")


class Lab:
    """A print lab."""

    name, title = "lab", "Print lab"
    wants = "prints of its papers, 150 to 720 ppi, JPEG or TIFF, sRGB or Display P3"

    def is_for(self, parcel: Parcel) -> bool:
        """Return whether such a file is meant for this desk at all."""
        return parcel.measured.ppi is not None and parcel.group not in ("marketplace", "screen")

    def check(self, parcel: Parcel) -> Answer:
        """Return what it would answer to a file."""
        measured, reasons, fixes = parcel.measured, [], []
        if measured.format not in ("jpeg", "tiff"):
            reasons.append(f"it is {measured.format.upper()}; the lab takes JPEG and TIFF")
            fixes.append(Fix("Make it a JPEG", Wish(format="jpeg")))
        ppi = measured.ppi or 0.0
        wanted = min(MOST_PPI, max(LEAST_PPI, ppi))
        if not LEAST_PPI <= ppi <= MOST_PPI:
            reasons.append(f"it has {ppi:g} ppi; the lab wants {LEAST_PPI} to {MOST_PPI}")
            fixes.append(Fix(f"Make it at {wanted:g} ppi", Wish(ppi=round(wanted))))
        if ppi and not _on_paper(measured.width / ppi, measured.height / ppi):
            edges = f"{measured.width / ppi:.2f} × {measured.height / ppi:.2f} in"
            reasons.append(f"{edges} is none of its papers")
            paper = "x".join(
                f"{edge:g}" for edge in _nearest(measured.width / ppi, measured.height / ppi)
            )
            fixes.append(Fix(f"Lay it on {paper}in", Wish(lay_on=f"{paper}in@{wanted:g}")))
        profile = (measured.profile or "srgb").lower()
        if not any(name in profile for name in COLOURS):
            reasons.append(f"its profile is {measured.profile}; the lab prints sRGB and Display P3")
            fixes.append(Fix("Convert it to sRGB", Wish(profile="srgb")))
        return Answer(tuple(reasons), tuple(fixes))


def _on_paper(width: float, height: float) -> bool:
    short, long = sorted((width, height))
    return any(
        -0.02 <= short - paper[0] <= BLEED and -0.02 <= long - paper[1] <= BLEED for paper in PAPERS
    )


def _nearest(width: float, height: float) -> tuple[float, float]:
    """Return the paper nearest in shape, then in size; the shorter edge first."""
    short, long = sorted((width, height))

    def away(paper: tuple[float, float]) -> float:
        return 2 * abs(log(long / short * paper[0] / paper[1])) + abs(
            log(short * long / paper[0] / paper[1])
        )

    return min(PAPERS, key=away)
