"""Other sizes that follow from one: its twin, and a print in another ratio (rules, section 3)."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.sizes.edges.frame import turned_frame
from oak_ledge.core.sizes.shapes.edge import EdgeShape
from oak_ledge.core.sizes.shapes.every import natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.size import Size, changed_size


def twin_of(size: Size) -> Size:
    """Trade width and height of a size.

    Raises
    ------
    SizeError
        If the size has no other way round.
    """
    changes: dict[str, object] = {"shape": size.shape.twin()}
    if size.frame is not None:
        changes["frame"] = turned_frame(size.frame)
    if size.panels is not None:
        changes["panels"] = size.panels.turned
    return changed_size(size, **changes)


Ratio = tuple[Fraction, Fraction]


def is_print(size: Size) -> bool:
    """Return whether a size has lengths, which a bare ratio would lose."""
    return size.ppi is not None and size.shape.measured_in not in (None, "px")


def print_in_ratio(size: Size, ratio: Ratio) -> Size:
    """Return a print with its long edge, or the one edge it fixes, and a ratio of width to height.

    What goes with its former edges, frame, panels and name, goes; resolution, bleed and file stay.

    Raises
    ------
    SizeError
        If it can't be made, such as an edge of no pixel.

    Examples
    --------
    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> from oak_ledge.core.sizes.text.write import write_size
    >>> write_size(print_in_ratio(read_size("5x7in@300"), (Fraction(1), Fraction(1))))
    '7x7in@300'
    """
    across, along = ratio
    shape, unit = size.shape, size.shape.measured_in
    length = max(shape.amounts)
    fixed_is_width = across >= along
    if isinstance(shape, EdgeShape):
        fixed_is_width = {"width": True, "height": False, "short": across <= along}.get(
            shape.edge, fixed_is_width
        )
    width, height = (
        (length, length * along / across) if fixed_is_width else (length * across / along, length)
    )
    exact = ExactShape(width=width, height=height, unit=unit or "in")
    turn = natural_turn(exact, size.differ, head=size.head is not None)
    return changed_size(size, shape=exact, turn=turn, frame=None, panels=None, name="")
