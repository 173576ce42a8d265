"""What a receiver would say of a file: nothing against it, or its reasons and what would fix each."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import log
from typing import Literal

from oak_ledge.core.files.proof import Measured
from oak_ledge.core.measures.bytes import limit_words, too_many
from oak_ledge.core.measures.lengths import Box
from oak_ledge.core.measures.numbers import halves_up, plain, rounded
from oak_ledge.core.receivers.takes import PROFILES, Takes
from oak_ledge.core.receivers.wish import Wish
from oak_ledge.core.receivers.words import either, format_words, ppi_words
from oak_ledge.core.sizes.file.formats import FORMATS, format_of

# Profiles that files can be converted to, the widest understood first.
_CONVERTED: tuple[Literal["srgb", "p3", "grey"], ...] = ("srgb", "p3", "grey")
# Of a print whose file says none.
USUAL_PPI = 300.0
# Pixels by which a print's edge may miss its length.
NEAR = 1


@dataclass(frozen=True)
class Parcel:
    """A file on its way, as it was measured.

    `number` is its place among those that come together, from 1; `plain` whether it stands on one
    colour along all its edges, None where nobody looked.
    """

    measured: Measured
    number: int = 1
    plain: bool | None = None


@dataclass(frozen=True)
class Fix:
    """What would do away with a reason: in words, and as a wish that can be granted in one step."""

    words: str
    wish: Wish


@dataclass(frozen=True)
class Reason:
    """Why a file would not be taken, and what would fix it, if something would."""

    text: str
    fix: Fix | None = None


@dataclass(frozen=True)
class Answer:
    """What is said of a file."""

    reasons: tuple[Reason, ...]

    @property
    def accepted(self) -> bool:
        """Whether nothing speaks against the file."""
        return not self.reasons

    @property
    def words(self) -> tuple[str, ...]:
        """Each reason."""
        return tuple(reason.text for reason in self.reasons)

    @property
    def fixes(self) -> tuple[Fix, ...]:
        """What would fix it, the size first: file settings stand on the size it is on then."""
        fixes = [reason.fix for reason in self.reasons if reason.fix is not None]
        return tuple(sorted(fixes, key=lambda fix: fix.wish.lay_on is None))


def asked_of_receiver(takes: Takes, parcel: Parcel) -> Answer:
    """Return what who takes this would say of a file (rules, section 10)."""
    return Answer(tuple(reason for rule in RULES if (reason := rule(takes, parcel)) is not None))


def _format(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the format; the fix is the first of those taken, a JPEG before others."""
    measured = parcel.measured
    if takes.formats is None or measured.format in takes.formats:
        return None
    wanted = "jpeg" if "jpeg" in takes.formats else takes.formats[0]
    fix = Fix(f"Make it {format_of(wanted).a_file}", Wish(format=wanted))
    words = f"it is {format_of(measured.format).a_file}; {format_words(takes)} is taken"
    return Reason(words, fix if measured.format in FORMATS else None)


def _ppi(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the resolution that is written in the file."""
    if takes.ppi is None:
        return None
    low, high = takes.ppi
    ppi = parcel.measured.ppi
    if ppi is None and takes.sizes is not None:  # told by its printed size
        return None
    if ppi is not None and low <= ppi <= high:
        return None
    wanted = halves_up(min(high, max(low, ppi or high)))
    fix = Fix(f"Make it at {wanted} ppi", Wish(ppi=wanted))
    has = "it says no resolution" if ppi is None else f"it has {rounded(ppi, 2)} ppi"
    return Reason(f"{has}; {ppi_words(takes.ppi)} is taken", fix)


def _paper(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look whether a print has one of the sizes, turned either way, with or without the bleed."""
    if takes.sizes is None:
        return None
    measured = parcel.measured
    if measured.ppi is None:
        return Reason("it says no resolution, so it has no printed size", _laid_on(takes, measured))
    edges = (measured.width, measured.height)
    if any(_meets(edges, measured.ppi, print_size) for print_size in _with_bleed(takes)):
        return None
    printed = " × ".join(rounded(edge / measured.ppi, 2) for edge in edges)
    return Reason(f"{printed} in is none of its sizes", _laid_on(takes, measured))


def _with_bleed(takes: Takes) -> list[tuple[Fraction, Fraction]]:
    """Return every print's edges in inches, as trimmed and with the bleed on every side."""
    extra = Fraction(0) if takes.bleed is None else 2 * takes.bleed.inches
    trimmed = [paper.inches for paper in takes.papers]
    bled = [(wide + extra, high + extra) for wide, high in trimmed] if extra else []
    return [*trimmed, *bled]


def _meets(edges: tuple[int, int], ppi: float, inches: tuple[Fraction, Fraction]) -> bool:
    wanted = sorted(float(edge) * ppi for edge in inches)
    return all(
        abs(edge - pixels) <= NEAR for edge, pixels in zip(sorted(edges), wanted, strict=True)
    )


def _laid_on(takes: Takes, measured: Measured) -> Fix:
    """Return the way onto the paper nearest in shape, then in size, turned as the file is."""
    edges = (measured.width, measured.height)
    ppi = measured.ppi or USUAL_PPI
    if takes.ppi:
        ppi = min(takes.ppi[1], max(takes.ppi[0], ppi))
    long, short = max(edges) / ppi, min(edges) / ppi

    def away(paper: Box) -> float:
        low, high = sorted(float(edge) for edge in paper.inches)
        return 2 * abs(log(long / short * low / high)) + abs(log(short * long / low / high))

    paper = min(takes.papers, key=away)
    upright = edges[0] < edges[1]
    if (paper.width < paper.height) != upright and paper.width != paper.height:
        paper = paper.turned
    text = f"{plain(paper.width)}x{plain(paper.height)}{paper.unit}"
    return Fix(f"Lay it on {text}", Wish(lay_on=f"{text}@{rounded(ppi, 0)}"))


def _pixels(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the pixels, where a receiver names them: met exactly, as written."""
    measured = parcel.measured
    edges = (measured.width, measured.height)
    if takes.pixels is None or edges in takes.pixels:
        return None
    wide, high = min(takes.pixels, key=lambda wanted: _apart(wanted, edges))
    used = min(edges[0] / wide, 1) * min(edges[1] / high, 1)
    face = f"; {rounded(used * 100, 0)} % of its {wide} × {high} would be used" if used < 1 else ""
    fix = Fix(f"Lay it on {wide}x{high}px", Wish(lay_on=f"{wide}x{high}px"))
    wanted = either([f"{wide} × {high}" for wide, high in takes.pixels])
    words = f"it is {edges[0]} × {edges[1]} px; {wanted} px is taken"
    return Reason(f"it is {edges[0]} × {edges[1]} px{face}" if face else words, fix)


def _apart(wanted: tuple[int, int], edges: tuple[int, int]) -> float:
    """Return how unlike two rectangles are, by shape and by size."""
    shape = log(wanted[0] * edges[1] / (wanted[1] * edges[0]))
    area = log(wanted[0] * wanted[1] / (edges[0] * edges[1]))
    return abs(shape) + abs(area) / 2


def _long_edge(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the longer edge; it is made as long as is asked, in the same shape."""
    if takes.long_edge is None:
        return None
    edges = (parcel.measured.width, parcel.measured.height)
    least, most = takes.long_edge
    if least is not None and max(edges) < least:
        wanted, words = least, f"{least} px or more is taken"
    elif most is not None and max(edges) > most:
        wanted, words = most, f"{most} px at most is taken"
    else:
        return None
    wide, high = (max(1, halves_up(Fraction(edge * wanted, max(edges)))) for edge in edges)
    fix = Fix(f"Make it {wide}x{high}px", Wish(lay_on=f"{wide}x{high}px"))
    return Reason(f"its longer edge has {max(edges)} px; {words}", fix)


def _bytes(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the bytes; only a format with a quality can be brought under a limit."""
    measured = parcel.measured
    if takes.at_most is None or measured.bytes <= takes.at_most:
        return None
    lossy = [
        form
        for form in (measured.format, "jpeg", "webp", "avif")
        if form in FORMATS
        and not FORMATS[form].lossless
        and (takes.formats is None or form in takes.formats)
    ]
    fix = None
    if lossy:
        limit = limit_words(takes.at_most)
        as_what = "" if lossy[0] == measured.format else f"{FORMATS[lossy[0]].a_file} of "
        fix = Fix(f"Make it {as_what}at most {limit}", Wish(format=lossy[0], at_most=takes.at_most))
    return Reason(too_many(measured.bytes, takes.at_most), fix)


def _profile(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the colours a file says it is in; without a profile it counts as sRGB."""
    if takes.profiles is None:
        return None
    profile = parcel.measured.profile or "sRGB"
    if any(is_profile(profile, wanted) for wanted in takes.profiles):
        return None
    names = [PROFILES.get(wanted.lower(), wanted) for wanted in takes.profiles]
    known = next((key for key in _CONVERTED if key in takes.profiles), None)
    fix = None
    if known is not None:
        fix = Fix(f"Convert it to {PROFILES[known]}", Wish(profile=known))
    return Reason(f"its profile is {profile}; {either(names)} is taken", fix)


def is_profile(profile: str, wanted: str) -> bool:
    """Return whether a file's profile is what a rule calls so.

    >>> is_profile("sRGB IEC61966-2.1", "srgb"), is_profile("Grey gamma 2.2", "grey")
    (True, True)
    """
    profile, wanted = profile.casefold(), wanted.casefold()
    if wanted in ("grey", "gray"):
        return "grey" in profile or "gray" in profile
    return PROFILES.get(wanted, wanted).casefold() in profile


def _count(takes: Takes, parcel: Parcel) -> Reason | None:
    if takes.most_files is None or parcel.number <= takes.most_files:
        return None
    return Reason(f"it is file {parcel.number}; {takes.most_files} are taken together")


def _plain(takes: Takes, parcel: Parcel) -> Reason | None:
    """Look at the ground of the first, where somebody looked at it."""
    if not takes.first_on_plain_ground or parcel.number != 1 or parcel.plain is not False:
        return None
    fix = Fix("Cut the thing out, on white", Wish(on_white=True, cut_out=True))
    words = "the first must stand on a plain ground to its very edges, or another be first"
    return Reason(words, fix)


# Every rule of a receiver, in the order reasons are told.
RULES: tuple[Callable[[Takes, Parcel], Reason | None], ...] = (
    _format, _ppi, _paper, _pixels, _long_edge, _profile, _bytes, _count, _plain,
)  # fmt: skip
