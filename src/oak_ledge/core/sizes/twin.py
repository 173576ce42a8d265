"""The twin of a size: width and height traded."""

from __future__ import annotations

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.frame import turned_frame
from oak_ledge.core.sizes.shapes import EdgeShape, ExactShape, RatioShape, WindowShape, WithinShape
from oak_ledge.core.sizes.size import Size, changed_size
from oak_ledge.core.sizes.text.write import shape_label


def twin_of(size: Size) -> Size:
    """Trade width and height of a size.

    Raises
    ------
    SizeError
        If the size has no other way round.
    """
    shape = size.shape
    if isinstance(shape, ExactShape | WithinShape | WindowShape):
        traded: dict[str, object] = {"width": shape.height, "height": shape.width}
    elif isinstance(shape, RatioShape):
        traded = {"across": shape.along, "along": shape.across}
    elif isinstance(shape, EdgeShape):
        other = {"width": "height", "height": "width", "long": "short", "short": "long"}
        traded = {"edge": other[shape.edge]}
    else:
        msg = f"{shape_label(size)} has no other way round."
        raise SizeError(msg)
    changes: dict[str, object] = {"shape": shape.model_copy(update=traded)}
    if size.frame is not None:
        changes["frame"] = turned_frame(size.frame)
    return changed_size(size, **changes)
