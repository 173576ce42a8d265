"""A size became another: placements keep what was done to them (rules, section 8)."""

from __future__ import annotations

from contextlib import suppress

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.placements.angle import at_angle
from oak_ledge.core.placements.fit import adopt, as_tight, keep_inside, tightness
from oak_ledge.core.placements.lying import Lying, lying_on, surface_of
from oak_ledge.core.placements.placement import Placement, changed, own_size, size_at
from oak_ledge.core.placements.scene_geometry import box_needed, upright_of
from oak_ledge.core.placements.suggestion import around_photo, laid_as
from oak_ledge.core.sizes.file.file_settings import FileSettings
from oak_ledge.core.sizes.geometry import edges_of, ratio_is_open
from oak_ledge.core.sizes.size import Size, size_from

# What of a size a crop follows from, with the pixels of its edges.
_LYING = ("shape", "dot", "turn", "differ")


def lies_alike(before: Size, after: Size) -> bool:
    """Return whether a crop lies on two sizes alike: only files, names or limits differ."""
    same = all(getattr(before, name) == getattr(after, name) for name in _LYING)
    return same and edges_of(before) == edges_of(after) and before.panels == after.panels


def lain_on(before: Size, after: Size, upright: Pixels, placement: Placement) -> Placement:
    """Lay a placement on what its size became.

    Where only files, names or limits differ nothing moves. Else the crop keeps its centre, its
    angle and its share of the largest of its shape; quarter turns, mirror and four corners stay as
    they are, and so do its mark and what was this photo's own. A crop that is freed stays as it is, and so does one
    with ground in it where the new size leaves the ratio open. A size that extends where the former
    did not takes the whole photo in, wherever its crop lay.

    Raises
    ------
    PlacementError
        If it can't lie on the new size, such as a window larger than the photo.
    """
    own = None if placement.size is None else exception_on(placement.size, before, after)
    own = None if own is None else own_size(after, own)
    was, now = size_at(before, placement), own or after
    if lies_alike(was, now):
        return changed(placement, size=own)
    flat = placement
    if placement.before_levelling is not None:  # it was levelled from there
        flat = changed(
            placement, **dict(placement.before_levelling), angle=0.0, before_levelling=None
        )
    old = Lying(was, surface_of(before, upright, placement), flat)
    laid = laid_as(now, upright, placement)
    new_placement = changed(laid, size=own, angle=flat.angle, mark=placement.mark)
    new = lying_on(after, upright, new_placement)
    if now.differ == "extend" and was.differ != "extend" and now.shape.fixes_shape:
        return around_photo(new.changed(angle=placement.angle)).placement
    if _stays(old, new):
        freed = adopt(new.changed(cx=flat.cx, cy=flat.cy), old.crop.width, old.crop.height)
        return _levelled(keep_inside(freed), placement)
    (wide, high), (across, along) = old.extent, new.extent
    x, y = flat.cx / wide * across, flat.cy / high * along
    if old.extent == new.extent:  # not even by the dust of a division
        x, y = flat.cx, flat.cy
    return _levelled(as_tight(new.changed(cx=x, cy=y), tightness(old)), placement)


def _levelled(new: Lying, placement: Placement) -> Placement:
    """Level a crop as one was that had been levelled."""
    return new.placement if placement.before_levelling is None else at_angle(new, placement.angle)


def _stays(old: Lying, new: Lying) -> bool:
    """Return whether a crop stays as it is on a size that leaves the ratio open."""
    if not ratio_is_open(new.size) or new.size.differ == "inside" or old.extent != new.extent:
        return False
    beyond = box_needed(old.surface, old.crop, upright_of(old.surface)) is not None
    return new.size.shape.as_it_is or (beyond and new.size.differ == "extend")


# What a person chose for one photo that goes with it to any size.
_FINISH = ("ground", "method", "sharpen_for", "sharpen")


def put_on(size: Size, wanted: Size, upright: Pixels, placement: Placement) -> Placement:
    """Lay one placement on another size than its job's, as this photo's own exception.

    Its work is kept as `lain_on` keeps it. What was this photo's own, ground and finish, goes with
    it, and so does reaching beyond the photo where the wanted size can.

    Parameters
    ----------
    size : the job's size, on which it lies or to which it has an exception
    wanted : what it shall lie on; the job's own size ends the exception

    Raises
    ------
    PlacementError
        If it can't lie there, such as a window larger than the photo.
    """
    here = size_at(size, placement)
    own = {} if placement.size is None else _said_over(size, here)
    if wanted != size and own:
        with suppress(SizeError):
            wanted = size_from(dict(wanted) | own)
    new_placement = lain_on(here, wanted, upright, changed(placement, size=None))
    return changed(new_placement, size=own_size(size, wanted))


def _said_over(size: Size, own: Size) -> dict[str, object]:
    """Return what a photo's own size says otherwise of ground and finish; `differ` where it extends."""
    names = (*_FINISH, "differ") if own.differ == "extend" else _FINISH
    fields = {name: getattr(own, name) for name in names}
    return {name: value for name, value in fields.items() if value != getattr(size, name)}


def exception_on(own: Size, before: Size, after: Size) -> Size:
    """Return a photo's own exception to a size that became another: what it says otherwise stays.

    Where the two can't go together, the exception stays as it is.
    """
    fields = {name: getattr(own, name) for name in Size.model_fields if name != "file"}
    fields = {name: value for name, value in fields.items() if value != getattr(before, name)}
    files = {name: getattr(own.file, name) for name in FileSettings.model_fields}
    files = {name: value for name, value in files.items() if value != getattr(before.file, name)}
    with suppress(SizeError):
        return size_from(dict(after) | fields | {"file": dict(after.file) | files})
    return own
