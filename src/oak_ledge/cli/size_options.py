"""What a call asks: sizes, settings, how photos shall lie."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import Any, TypeVar, get_args

from oak_ledge.cli.folder import config_of, workspace_at
from oak_ledge.cli.options import TurnChoice
from oak_ledge.cli.trouble import CALL_IS_WRONG, fail, or_fail
from oak_ledge.core.errors import CoreError, FaceError, PhotoError, PlacementError
from oak_ledge.core.heads.face_points import FacePoints, read_face
from oak_ledge.core.marks.laid import LaidMark
from oak_ledge.core.marks.mark import Mark, Place, read_extent
from oak_ledge.core.measures.bytes import read_bytes
from oak_ledge.core.measures.numbers import clipped, read_number
from oak_ledge.core.photos.keep_zones import MOST_ZONES, Zone
from oak_ledge.core.placements.placement import Corners
from oak_ledge.core.planes.matrices import check_quad
from oak_ledge.core.sizes.checks import refuse_open_extend
from oak_ledge.core.sizes.choices import MethodChoice, Profile, SharpenFor
from oak_ledge.core.sizes.file.profile_file import receiver_profile
from oak_ledge.core.sizes.ground import CLEAR
from oak_ledge.core.sizes.size import Size, like_photo, size_from
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.several import several
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.flows.commands.tell import LyingOptions, look

T = TypeVar("T")


def read_or_fail(text: str) -> Size:
    """Read one size; a text that is none ends the command with the place where reading stopped."""
    return _told_or_meant(text, lambda: read_size(text))


def _told_or_meant(text: str, read: Callable[[], T]) -> T:
    """Read a text, or fail with what it may mean."""
    try:
        return read()
    except CoreError as exc:
        from oak_ledge.core.sizes.text.readings import readings  # here: most calls need no guess

        meant = ", ".join(write_size(reading) for reading in readings(text))
        fail(CALL_IS_WRONG, f"{exc} Perhaps you mean one of these: {meant}." if meant else str(exc))


def _written(text: str) -> list[Size]:
    """Read what one `--size` says: one size, or several with commas between."""
    sizes = _told_or_meant(text, lambda: several(text, read_size))
    return [size for _, _, size in sizes]


def _saved(names: list[str], data: Path | None) -> list[Size]:
    if not names:
        return []
    from oak_ledge.flows.library import sizes

    workspace = workspace_at(data)
    return [or_fail(partial(sizes.named, workspace, name), CALL_IS_WRONG) for name in names]


def _like(path: Path) -> Size:
    try:
        facts = look(path, config_of().limits)
    except CoreError as exc:
        fail(CALL_IS_WRONG, f"--like {path}: {exc}")
    return like_photo(path.stem, facts.upright, facts.ppi)


def typed_sizes(
    texts: list[str], names: list[str], like: list[Path], data: Path | None
) -> list[Size]:
    """Gather the sizes a call asks for; at least one."""
    sizes = [size for text in texts for size in _written(text)]
    sizes += _saved(names, data)
    sizes += [_like(path) for path in like]
    if not sizes:
        fail(CALL_IS_WRONG, "no size was asked for. Say --size 8x10in@300, --size-name or --like")
    return sizes


def file_settings(
    at_most: str | None, profile: str | None, *, no_location: bool, **at_most_text: Any
) -> dict[str, Any]:
    """Gather what a call says of the file; the rest stays as the size has it."""
    if at_most is not None:
        at_most_text["at_most"] = or_fail(lambda: read_bytes(at_most), CALL_IS_WRONG)
    if no_location:
        at_most_text["location"] = False
    given = {key: value for key, value in at_most_text.items() if value is not None}
    return given if profile is None else given | _profile(profile)


def _profile(text: str) -> dict[str, Any]:
    """Read the profile a call names: a word, or the path of the receiver's profile file."""
    if text in get_args(Profile) and text != "receiver":
        return {"profile": text, "icc": None}
    path = Path(text)
    if not path.is_file():
        fail(
            CALL_IS_WRONG,
            f"“{text}” is neither keep, srgb, p3, grey nor a file. Write --profile srgb, or the "
            "path of the receiver's .icc file",
        )
    icc = or_fail(lambda: receiver_profile(path.stem, path.read_bytes()), CALL_IS_WRONG)
    return {"profile": "receiver", "icc": icc}


def chosen_over(
    file: dict[str, Any], turn: TurnChoice | None, **text: str | None
) -> dict[str, Any]:
    """Gather what a call puts over every size."""
    given = text | {"turn": turn if turn in ("suit", "fixed") else None}
    return {key: value for key, value in given.items() if value is not None} | {"file": file}


def ground_of(text: str | None) -> tuple[str | None, Path | None]:
    """Return the ground a call chooses, and the photo behind it; a file that can't be one ends the command."""
    word = "picture:"
    if text is None or not text.startswith(word):
        return text, None
    path = Path(text.removeprefix(word))
    try:
        look(path, config_of().limits)
    except CoreError as exc:
        fail(CALL_IS_WRONG, f"--ground {clipped(text)}: {exc}")
    return None, path


def chosen_of_drawing(
    method: MethodChoice | None, sharpen_for: SharpenFor | None, sharpen: int | None
) -> dict[str, Any]:
    """Gather how pixels shall be drawn; a strength alone sharpens for smooth paper."""
    if sharpen and sharpen_for is None:
        sharpen_for = "smooth"
    given = {"method": method, "sharpen_for": sharpen_for, "sharpen": sharpen}
    return {key: value for key, value in given.items() if value is not None}


def with_chosen(size: Size, over: dict[str, Any]) -> Size:
    """Put what the call says over a size."""
    file = dict(size.file) | over["file"]
    if over.get("ground") == CLEAR and "format" not in over["file"] and file["format"] == "jpeg":
        file["format"] = "png"  # as a line that says clear, and no format

    def made() -> Size:
        whole = size_from(dict(size) | over | {"file": file})
        refuse_open_extend(whole)
        return whole

    return or_fail(made, CALL_IS_WRONG)


def way_of(turn: TurnChoice | None, centre: str | None, **lying: Any) -> LyingOptions:
    """Return how photos shall lie, by the options of the call."""
    turned = turn if turn in ("wide", "tall") else None
    if centre is None:
        return LyingOptions(turned, **lying)
    try:
        x, y = (float(read_number(part)) for part in centre.split(","))
    except ValueError:
        fail(
            CALL_IS_WRONG,
            f"--centre {clipped(centre)} is not two shares. Write it like --centre 0.5,0.4",
        )
    if not (0 <= x <= 1 and 0 <= y <= 1):
        fail(
            CALL_IS_WRONG,
            f"--centre {clipped(centre)} lies outside the photo. Both must be from 0 to 1",
        )
    return LyingOptions(turned, (x, y), **lying)


def zones_of(texts: Sequence[str]) -> tuple[Zone, ...]:
    """Read keep zones, `x,y,w,h` each; a text that is none ends the command."""
    zones = []
    for text in texts:
        try:
            left, top, width, height = (float(part) for part in text[:200].split(","))
            zones.append(Zone(left=left, top=top, width=width, height=height))
        except ValueError:
            how = "Write four numbers like --keep-zone 400,300,800,600: left, top, width, height"
            fail(CALL_IS_WRONG, f"--keep-zone {clipped(text)} is no zone. {how}")
    if len(zones) > MOST_ZONES:
        fail(CALL_IS_WRONG, f"{len(zones)} keep zones are too many. Give at most {MOST_ZONES}")
    return tuple(zones)


def face_of(text: str | None) -> FacePoints | None:
    """Read eyes, chin and crown; points that are no face end the command."""
    if text is None:
        return None
    try:
        return read_face(text)
    except FaceError as exc:
        fail(CALL_IS_WRONG, f"--face {clipped(text)}: {exc}")


def mark_of(file: Path | None, at: Place, width: str, margin: str, opacity: str) -> LaidMark | None:
    """Open a mark and read how it is laid; one that can't be used ends the command."""
    if file is None:
        return None
    from oak_ledge.core.pixels.marks.open_mark import open_mark  # here: most calls lay none over

    try:
        percent = read_number(opacity.strip().removesuffix("%"))
        how = Mark(
            place=at, width=read_extent(width), margin=read_extent(margin), opacity=int(percent)
        )
    except ValueError:
        how_to = "Write --mark-width 20% or 15mm, --mark-margin 3%, --mark-opacity 60%"
        fail(CALL_IS_WRONG, f"the mark can't be laid so. {how_to}")
    try:
        return LaidMark(open_mark(file), how)
    except PhotoError as exc:
        fail(CALL_IS_WRONG, f"--mark {clipped(str(file))}: {exc}")


def corners_of(text: str | None, *, fit: bool) -> Corners | None:
    """Read four corners, `x,y` each; a text that is none ends the command."""
    if text is None:
        if fit:
            how = "Say them with --corners X,Y,X,Y,X,Y,X,Y"
            fail(CALL_IS_WRONG, f"--fit-corners is about four corners, and there are none. {how}")
        return None
    try:
        values = [float(part) for part in text[:400].split(",")]
        nw, ne, se, sw = zip(values[::2], values[1::2], strict=True)
        check_quad([nw, ne, se, sw])
    except PlacementError as exc:
        fail(CALL_IS_WRONG, f"--corners {clipped(text)}: {exc}")
    except ValueError:
        how = "Write eight numbers like --corners 10,20,900,15,910,600,5,590"
        fail(CALL_IS_WRONG, f"--corners {clipped(text)} are not four points. {how}")
    return nw, ne, se, sw
