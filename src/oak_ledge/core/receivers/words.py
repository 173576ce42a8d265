"""A receiver in words: its rules as short facts and as a sentence, its way in a line."""

from __future__ import annotations

from collections.abc import Sequence

from oak_ledge.core.measures.bytes import limit_words
from oak_ledge.core.measures.lengths import length_words
from oak_ledge.core.measures.numbers import plain, rounded
from oak_ledge.core.receivers.takes import PROFILES, Takes
from oak_ledge.core.receivers.way import WAYS, FolderWay, SftpWay, Way, place_of
from oak_ledge.core.sizes.file.formats import FORMATS

# Sizes that are named before the rest is counted.
_NAMED = 3


def either(names: Sequence[str]) -> str:
    """Join names as a choice.

    >>> either(["JPEG", "PNG", "WebP"])
    'JPEG, PNG or WebP'
    """
    return " or ".join([*([", ".join(names[:-1])] if names[1:] else []), names[-1]])


def format_words(takes: Takes) -> str:
    """Name the formats that are taken."""
    return either([FORMATS[each].words for each in takes.formats or FORMATS])


def ppi_words(ends: tuple[float, float]) -> str:
    """Write a range of resolutions.

    >>> ppi_words((240, 300)), ppi_words((300, 300))
    ('240 to 300 ppi', '300 ppi')
    """
    low, high = (rounded(end, 2) for end in ends)
    return f"{low} ppi" if low == high else f"{low} to {high} ppi"


def facts(takes: Takes) -> tuple[str, ...]:
    """Return each rule as a short fact, for a card."""
    return tuple(words for _, words in _told(takes, _NAMED))


def say_takes(takes: Takes) -> str:
    """Return all rules as a sentence.

    >>> say_takes(Takes(formats=("jpeg", "png"), at_most=5_000_000, most_files=12))
    'Takes JPEG or PNG, at most 5 MB each, 12 together.'
    """
    told = dict(_told(takes, len(takes.papers)))
    if not told:
        return "Takes anything."
    first = " in ".join(told.pop(name) for name in ("formats", "profiles") if name in told)
    if "at_most" in told:
        told["at_most"] += " each"
    if takes.most_files:
        told["most_files"] = f"{takes.most_files} together"
    last = told.pop("first_on_plain_ground", None)
    rest = ", ".join(part for part in (first, *told.values()) if part)
    return f"Takes {'; the '.join(part for part in (rest, last) if part)}.".replace(
        "Takes first", "Takes any, the first"
    )


def _told(takes: Takes, named: int) -> list[tuple[str, str]]:
    """Return each rule's name with its words, in the order they are read best."""
    told: list[tuple[str, str]] = []
    if takes.sizes is not None:
        told.append(("sizes", _papers(takes, named)))
    if takes.pixels is not None:
        told.append(("pixels", f"{either([f'{w} × {h}' for w, h in takes.pixels])} px"))
    if takes.ppi is not None:
        told.append(("ppi", ppi_words(takes.ppi)))
    if takes.formats is not None:
        told.append(("formats", format_words(takes)))
    if takes.profiles is not None:
        names = [PROFILES.get(each.lower(), each) for each in takes.profiles]
        told.append(("profiles", either(names)))
    if takes.long_edge is not None and takes.long_edge != (None, None):
        told.append(("long_edge", _long_edge(*takes.long_edge)))
    if takes.at_most is not None:
        told.append(("at_most", f"at most {limit_words(takes.at_most)}"))
    if takes.most_files is not None:
        count = "1 picture" if takes.most_files == 1 else f"{takes.most_files} pictures"
        told.append(("most_files", count))
    if takes.bleed is not None:
        told.append(("bleed", f"bleed {length_words(takes.bleed)}"))
    if takes.first_on_plain_ground:
        told.append(("first_on_plain_ground", "first on plain ground"))
    return told


def _papers(takes: Takes, named: int) -> str:
    """Name sizes, those of one unit together: `5 × 7, 8 × 10 in`."""
    shown, words = takes.papers[:named], []
    for number, paper in enumerate(shown):
        after = shown[number + 1] if number + 1 < len(shown) else None
        unit = "" if after is not None and after.unit == paper.unit else f" {paper.unit}"
        words.append(f"{plain(paper.width)} × {plain(paper.height)}{unit}")
    more = len(takes.papers) - len(shown)
    return ", ".join(words) + (f" and {more} more" if more else "")


def _long_edge(least: int | None, most: int | None) -> str:
    if most is None:
        return f"longest edge {least} px or more"
    if least is None:
        return f"longest edge {most} px at most"
    return f"longest edge {least} to {most} px"


def say_way(way: Way) -> str:
    """Return a way in one line: its kind, where it leads, who is asked for the secret.

    >>> say_way(FolderWay(path="/media/lab"))
    'A folder · /media/lab'
    """
    if isinstance(way, FolderWay):
        return f"A folder · {way.path}"
    if isinstance(way, SftpWay):
        place = place_of(way.url, ("sftp",))
        host = place.host if place.port == 22 else f"{place.host}:{place.port}"
        folder = f", folder {place.path.strip('/')}" if place.path.strip("/") else ""
        key = "key known" if way.host_key else "key not known yet"
        return f"SFTP · {place.user}@{host}{folder} · {key}"
    place = place_of(way.url, ("http", "https"))
    safe = "HTTPS" if way.kind == "http" and place.scheme == "https" else WAYS[way.kind]
    shown = way.url.split("://", 1)[1].rstrip("/")
    secret = f" · secret from {way.secret.split(':', 1)[1]}" if way.secret else ""
    return f"{safe} · {shown}{secret}"
