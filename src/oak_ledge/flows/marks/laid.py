"""How a mark lies on a piece: for its file and for pictures of it."""

from __future__ import annotations

from collections.abc import Callable

from oak_ledge.core.marks.laid import LaidMark, MarkFile
from oak_ledge.core.marks.mark import MarkPicture, PieceMark, Place
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.photos.keep_zones import NOTHING, Keeps
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.placement import Placement, mark_on
from oak_ledge.core.placements.zones.mark_box import MarkBox, barred_on, boxes, picture_corner
from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.marks.library import picture_file
from oak_ledge.flows.photos.photos import lies_around
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.placements import Placed

# Gives a mark's file by its content.
FileOf = Callable[[MarkPicture], MarkFile]


def files_here(workspace: Workspace) -> FileOf:
    """Return what gives the files of marks of this workspace."""
    return lambda picture: picture_file(workspace, picture)


def laid_on(
    size: Size, placement: Placement, file_of: FileOf, keeps: Keeps = NOTHING
) -> LaidMark | None:
    """Return the mark of a piece with its files, or None; `keeps` is what a calm one avoids.

    Raises
    ------
    PhotoError
        If its file is not here.
    """
    mark = mark_on(size, placement)
    return None if mark is None else _with_files(mark, file_of, keeps)


def laid_here(workspace: Workspace, placed: Placed) -> LaidMark | None:
    """Return the mark of a piece as it lies now, or None.

    Raises
    ------
    PhotoError
        If its file is not here.
    """
    return laid_on(placed.size, placed.placement, files_here(workspace), lies_around(placed.photo))


def boxes_on(
    lying: Lying, mark: LaidMark, shown: Pixels
) -> tuple[dict[Place, MarkBox], list[MarkBox]]:
    """Return the nine places of a mark, and what it must not lie on, on a picture of a piece's picture.

    `shown` are its pixels; border and turned-over sides are not on it.

    Raises
    ------
    SizeError
        If the mark is larger than the piece.
    """
    at = boxes(lying.size, lying.asked, mark.how, mark.file.shape)
    left, top = picture_corner(lying.size, lying.asked)
    across, along = shown[0] / lying.asked[0], shown[1] / lying.asked[1]

    def small(box: MarkBox) -> MarkBox:
        x, y = round((box.left - left) * across), round((box.top - top) * along)
        wide, high = max(1, round(box.width * across)), max(1, round(box.height * along))
        return MarkBox(min(x, shown[0] - wide), min(y, shown[1] - high), wide, high)

    nine = {place: small(box) for place, box in at.items()}
    return nine, [small(box) for box in barred_on(lying, mark.keeps)]


def _with_files(mark: PieceMark, file_of: FileOf, keeps: Keeps) -> LaidMark:
    dark = None if mark.on_dark is None else file_of(mark.on_dark)
    avoid = keeps if mark.avoid == NOTHING else mark.avoid
    return LaidMark(file_of(mark.picture), mark, avoid, dark)
