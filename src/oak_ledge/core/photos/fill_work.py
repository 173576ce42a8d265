"""One piece of work on what is laid over a photo: a ground solved or drawn, a retouch made."""

from __future__ import annotations

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.photos.retouches import Retouch, Retouches
from oak_ledge.core.values import Value


class FillWork(Value):
    """What is to be made of a photo with its `retouches`: a `ground`, or the retouch `one`.

    A ground is solved on its grid first, which shows it; `full` draws it at full size.
    """

    retouches: Retouches
    ground: Continued | None = None
    full: bool = False
    one: Retouch | None = None
