"""Looking at a piece at its true pixels: a part of it as its file will have it, or all of it to take along."""

from __future__ import annotations

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.encode.encode import encode_picture, encode_preview
from oak_ledge.core.pixels.marks.lay import lay_mark
from oak_ledge.core.pixels.render import Behind, render
from oak_ledge.flows.marks.laid import boxes_on, laid_here
from oak_ledge.flows.photos.backdrops import behind
from oak_ledge.flows.pieces.pictures import at_full_size
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.placements import Placed

# Output pixels: more than that no clipboard is asked to hold.
MOST_COPIED = 60_000_000


def part(workspace: Workspace, placed: Placed, box: tuple[int, int, int, int]) -> bytes:
    """Return a part of a piece at true pixels, as a JPEG in sRGB: left, top, width and height of it.

    Its mark is not on it: the bench lays that over it.
    What of it lies beyond the piece is left out.

    Raises
    ------
    FileError
        If nothing of it lies on the piece.
    """
    lying, (source, size, surface, crop) = at_full_size(workspace, placed)
    W, H = lying.asked
    left, top = max(0, box[0]), max(0, box[1])
    width, height = min(W, box[0] + box[2]) - left, min(H, box[1] + box[3]) - top
    if width < 1 or height < 1:
        msg = f"there is nothing of the piece there; it has {W} × {H} px"
        raise FileError(msg)
    plain = size.model_copy(update={"outline": None})  # a part has no edge of its own
    there = crop.part(left / W, top / H, width / W, height / H)
    photo_behind = behind(workspace, placed.size, placed.placement)
    shares = (left / W, top / H, width / W, height / H)
    under = None if photo_behind is None else Behind(photo_behind, shares)
    return encode_preview(*render(source, plain, there, (width, height), surface, behind=under))


def picture(workspace: Workspace, placed: Placed) -> bytes:
    """Return a piece as it will come out, all its pixels, as a PNG in sRGB for the clipboard.

    Raises
    ------
    FileError
        If it has more pixels than a clipboard is asked to hold.
    """
    lying, (source, size, surface, crop) = at_full_size(workspace, placed)
    W, H = lying.asked
    if W * H > MOST_COPIED:
        msg = (
            f"{W} × {H} px are too many for the clipboard, which takes "
            f"{MOST_COPIED // 1_000_000} megapixels. Make the file, and download it"
        )
        raise FileError(msg)
    own = size.model_copy(update={"file": size.file.model_copy(update={"format": "png"})})
    photo_behind = behind(workspace, placed.size, placed.placement)
    under = None if photo_behind is None else Behind(photo_behind)
    pixels, icc = render(source, own, crop, (W, H), surface, behind=under)
    mark = laid_here(workspace, placed)
    if mark is not None:
        at, barred = boxes_on(lying, mark, (W, H))
        pixels = lay_mark(pixels, icc, mark, at, barred)
    return encode_picture(pixels, icc)
