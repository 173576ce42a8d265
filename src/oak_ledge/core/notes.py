"""What the program wants looked at: one rule per function (rules, section 8).

`stop` = do not hand over, `look` = a person should decide, `fine` = said for the record.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import suppress
from fractions import Fraction
from math import ceil, log, sqrt
from typing import Literal

from pydantic import BaseModel, ConfigDict

from oak_ledge.core.errors import SizeError
from oak_ledge.core.photo_facts import PhotoFacts
from oak_ledge.core.size_text import shape_label, write_size
from oak_ledge.core.sizes import (
    EdgeShape,
    ExactShape,
    PercentShape,
    Size,
    WindowShape,
    WithinShape,
    edges_of,
    natural_turn,
    size_from,
    unit_of,
)
from oak_ledge.core.tally import Tally
from oak_ledge.core.units import Unit, in_inches, limit_words, rounded

Level = Literal["stop", "look", "fine"]

LOW_QUALITY = 75  # under it a JPEG's blocks begin to show in even tones
LEAST_INCHES, MOST_INCHES = Fraction(1, 2), Fraction(120)
LEAST_PIXELS, LEAST_PIXELS_SCREEN, MOST_PIXELS = 64, 12, 30_000


class Note(BaseModel):
    """One note: its level, its code, a sentence with its figures, and what would mend it.

    `mend` is the text of the size that was likely meant, or that the library holds now; `way`
    names the one step that takes it.
    """

    model_config = ConfigDict(frozen=True)

    level: Level
    code: str
    text: str
    mend: str | None = None
    way: str | None = None


def notes(size: Size, photo: PhotoFacts, tally: Tally) -> tuple[Note, ...]:
    """Give every note on a placement, stops first; `size` is the one it is made on."""
    return in_order(
        (
            unit_slip(size),
            enlarged(size, tally),
            short_of_ppi(size, tally),
            blank_corners(size, tally),
            trimmed(size, tally),
            stretched(tally),
            face_unused(size, tally),
            profile_assumed(photo),
            wrong_profile(size, photo),
            flattened(size, photo),
        )
    )


def in_order(found: Iterable[Note | None], *more: Note | None) -> tuple[Note, ...]:
    """Put notes in order, stops first; what is None is no note."""
    order: dict[Level, int] = {"stop": 0, "look": 1, "fine": 2}
    told = [note for note in (*found, *more) if note is not None]
    return tuple(sorted(told, key=lambda note: order[note.level]))


def stops(found: tuple[Note, ...], allowed: frozenset[str] = frozenset()) -> Iterator[Note]:
    """Give the stop notes whose code no one has taken the responsibility for."""
    return (note for note in found if note.level == "stop" and note.code not in allowed)


def unit_slip(size: Size) -> Note | None:
    """Stop a size that is absurdly small or large for its kind, with the unit likely meant."""
    unit, edges = unit_of(size.shape), edges_of(size)
    if unit is None:
        return None
    if unit == "px":
        least = LEAST_PIXELS_SCREEN if size.group == "screen" else LEAST_PIXELS
        found = [pixels for _, pixels in edges]
        small, large = min(found) < least, max(found) > MOST_PIXELS
        limit = f"under {least} px" if small else f"over {MOST_PIXELS} px"
    else:
        lengths = [in_inches(amount, unit) for amount, _ in edges]
        small, large = min(lengths) < LEAST_INCHES, max(lengths) > MOST_INCHES
        limit = "under 0.5 in" if small else "over 120 in"
    if not small and not large:
        return None
    meant = likely_meant(size, small=small)
    label = shape_label(size)
    ask = "" if meant is None else f" Did you mean {_unit_word(meant)}: {shape_label(meant)}?"
    return Note(
        level="stop",
        code="unit-slip",
        text=f"{label}: an edge {limit} is too {'small' if small else 'large'} for a picture.{ask}",
        mend=None if meant is None else write_size(meant),
        way=None if meant is None else f"Make it {shape_label(meant)}",
    )


def size_changed(size: Size, saved: Size | None) -> Note | None:
    """Say that the saved size was edited after a job took it; the job's copy stays as it was."""
    if saved is None or saved == size:
        return None
    before, now = write_size(size), write_size(saved)
    what = f"it was {before}, now it is {now}" if before != now else "its settings differ"
    return Note(
        level="look",
        code="size-changed",
        text=f"The saved size was changed after this job took it: {what}.",
        mend=now,
        way="Take the new one for this job",
    )


def likely_meant(size: Size, *, small: bool) -> Size | None:
    """Find the unit that makes a slipped size plausible: a print of 2 to 60 in, or pixels."""
    shape = size.shape
    if not isinstance(shape, ExactShape | EdgeShape | WithinShape):
        return None
    order: tuple[Unit, ...] = ("in", "cm", "mm") if small else ("mm", "cm", "px")
    edges = [amount for amount, _ in edges_of(size)]
    for unit in order:
        if unit == shape.unit:
            continue
        if unit == "px":
            sound = all(e.denominator == 1 and 300 <= e <= MOST_PIXELS for e in edges)
        else:
            sound = all(2 <= in_inches(e, unit) <= 60 for e in edges)
        if sound:
            meant = shape.model_copy(update={"unit": unit})
            ppi = None if unit == "px" else size.ppi or Fraction(300)
            changes = {"shape": meant, "ppi": ppi, "turn": natural_turn(meant), "name": ""}
            with suppress(SizeError):  # such as a dot, which only pixels have
                return size_from(dict(size) | changes)
    return None


def _unit_word(size: Size) -> str:
    words = {"in": "inches", "cm": "centimetres", "mm": "millimetres", "px": "pixels"}
    return words[unit_of(size.shape) or "px"]


def enlarged(size: Size, tally: Tally) -> Note | None:
    """Remark on enlarging to 1.5, look to 2, stop beyond unless the size allows it (rule 5)."""
    scale = tally.scale
    if scale <= 1 + 1e-9:
        return None
    most = max(2.0, float(size.greatest_enlargement))
    level: Level = "fine" if scale <= 1.5 else "look" if scale <= most else "stop"
    feel = {"fine": "slightly softer", "look": "soft", "stop": "soft and blocky"}[level]
    if tally.squared:
        text = (
            f"Squared up, the part seen most aslant is enlarged ×{rounded(scale, 2)} and will look "
            f"{feel}. A photo taken more from the front, or fewer pixels, would do."
        )
        return Note(level=level, code="enlarged", text=text)
    need = f"{ceil(tally.width - 1e-6)} × {ceil(tally.height - 1e-6)} photo pixels"
    if tally.ppi is not None:
        scan = f", or a scan of an original of this size at {rounded(tally.ppi, 0)} ppi,"
    else:
        scan = ""
    crop = f"{rounded(tally.crop[2])} × {rounded(tally.crop[3])}"
    return Note(
        level=level,
        code="enlarged",
        text=(
            f"The photo is enlarged ×{rounded(scale, 2)} and will look {feel}: "
            f"{crop} px become {tally.width} × {tally.height}. {need}{scan} would do."
        ),
    )


def short_of_ppi(size: Size, tally: Tally) -> Note | None:
    """Compare real resolution with the lowest the receiver takes: look, under half of it stop."""
    if size.receiver is None or tally.real_ppi is None or tally.real_ppi >= size.receiver.low:
        return None
    low = size.receiver.low
    level: Level = "stop" if tally.real_ppi < low / 2 else "look"
    need = ceil(tally.crop[2] * low / tally.real_ppi - 1e-6)
    most = tally.crop[2] / sqrt(tally.kept)
    if need <= most + 1e-6:
        way = f"Loosen the crop to {need} px wide."
    else:
        way = (
            f"A crop {need} px wide would do; this photo holds {rounded(most, 0)} px of this shape."
        )
    return Note(
        level=level,
        code="short-of-ppi",
        text=(
            f"The crop has {rounded(tally.real_ppi, 0)} real ppi here; the receiver wants "
            f"{low} or more. {way}"
        ),
    )


def blank_corners(size: Size, tally: Tally) -> Note | None:
    """Stop a crop that reaches beyond the photo where no ground fills."""
    if tally.uncovered == 0 or size.differ == "extend":
        return None
    share = rounded(tally.uncovered * 100, 1 if tally.uncovered >= 0.001 else 3)
    return Note(
        level="stop",
        code="blank-corners",
        text=(
            f"{share} % of the piece lies beyond the photo, and nothing fills it. "
            "Choose a ground, or move the crop inside."
        ),
    )


def strip(side: str, share: float) -> Note:
    """Look where a narrow strip of other content is caught at an edge."""
    text = (
        f"A strip of {rounded(share * 100)} % at the {side} edge looks unlike what is beside it. "
        "Tighten the crop, or take more of it in."
    )
    return Note(level="look", code="sliver", text=text)


def trimmed(size: Size, tally: Tally) -> Note | None:
    """Look where a crop keeps little of its shape, or the shape costs much of the photo.

    A window is as large as it is, and a free crop as it was drawn: neither is anyone's slip.
    """
    if isinstance(size.shape, WindowShape | EdgeShape | PercentShape | WithinShape):
        return None
    if tally.kept >= 0.60 and tally.shape_cost <= 0.45:
        return None
    sides = ", ".join(
        f"{rounded(share * 100, 0)} % {name}"
        for name, share in tally.trimmed_sides.model_dump().items()
        if share >= 0.005
    )
    if tally.kept < 0.60:
        why = f"The crop keeps {rounded(tally.kept * 100, 0)} % of the largest of its shape"
    else:
        why = f"This shape alone costs {rounded(tally.shape_cost * 100, 0)} % of the photo"
    return Note(level="look", code="trimmed", text=f"{why}; trimmed: {sides}.")


def stretched(tally: Tally) -> Note | None:
    """Flag every stretch over a thousandth, measured against the dots of its screen.

    Four corners made to fit are flagged beyond what is known of their true proportions.
    """
    if abs(log(1 + tally.stretch)) <= max(0.001, log(tally.unsure)):
        return None
    wider = tally.stretch > 0
    share = tally.stretch if wider else 1 / (1 + tally.stretch) - 1
    return Note(
        level="look",
        code="stretched",
        text=(
            f"The picture is stretched: {rounded(share * 100)} % "
            f"{'wider' if wider else 'taller'} than it is."
        ),
    )


def face_unused(size: Size, tally: Tally) -> Note | None:
    """Look where over a tenth of a screen's face would stay empty."""
    if size.group != "screen" or size.differ != "inside":
        return None
    (_, wide), (_, high) = edges_of(size)
    empty = 1 - tally.width * tally.height / (wide * high)
    if empty <= 0.10:
        return None
    return Note(
        level="look",
        code="face-unused",
        text=(
            f"{rounded(empty * 100, 0)} % of the screen's face stays empty: the picture is "
            f"{tally.width} × {tally.height} px of {wide} × {high}."
        ),
    )


def over_limit(size: Size, quality: int | None) -> Note | None:
    """Look where a file's greatest bytes cost quality, or can't be kept; both by estimate.

    `quality` is what is estimated to fit, None where nothing would.
    """
    file = size.file
    if file.at_most is None or quality == file.quality:
        return None
    limit = limit_words(file.at_most)
    if quality is None:
        lossless = file.format in ("png", "tiff")
        way = "Choose JPEG, or fewer pixels" if lossless else "Ask for fewer pixels"
        told = "" if lossless else " even at quality 60"
        text = f"The file is likely to have more than {limit}{told}. {way}."
        return Note(level="look", code="over-limit", text=text)
    level: Level = "look" if quality < LOW_QUALITY else "fine"
    text = f"To stay within {limit} the quality goes down from {file.quality} to about {quality}."
    return Note(level=level, code="low-quality", text=text)


def profile_assumed(photo: PhotoFacts) -> Note | None:
    """Say that a photo without a profile was taken as sRGB."""
    if photo.profile is not None:
        return None
    what = "plain grey" if photo.channels == "grey" else "sRGB"
    return Note(
        level="fine",
        code="profile-assumed",
        text=f"The photo carries no colour profile; {what} is assumed.",
    )


def wrong_profile(size: Size, photo: PhotoFacts) -> Note | None:
    """Look where a file will not say its colours as its receiver reads them.

    A photo's profile that is for other colours than its pixels is not followed; and screens and
    marketplaces often take every file as sRGB, whatever profile it keeps.
    """
    if photo.profile is None:
        return None
    text = None
    if not photo.profile_fits:
        text = (
            f"The photo's profile, {photo.profile}, is not for {photo.channels} pixels; it is left "
            "out, and sRGB assumed. Give the photo its right profile where it was made."
        )
    elif (
        (size.group in ("screen", "marketplace") and size.file.profile == "keep")
        and (photo.channels != "CMYK" and "srgb" not in photo.profile.lower())
        and photo.channels != "grey"
    ):
        text = (
            f"The file keeps {photo.profile}; many {size.group}s take every file as sRGB, and "
            "show its colours wrong. Give the size the profile sRGB."
        )
    return None if text is None else Note(level="look", code="wrong-profile", text=text)


def flattened(size: Size, photo: PhotoFacts) -> Note | None:
    """Say that transparent parts become white in a format without transparency."""
    if not photo.alpha or size.file.format != "jpeg":
        return None
    return Note(
        level="fine",
        code="flattened",
        text="JPEG has no transparency: transparent parts become white. PNG and TIFF keep them.",
    )
