"""Where the command begins: what comes before anything else is loaded."""

from __future__ import annotations

import gc
from typing import NoReturn

from oak_ledge.cli.lazy_import import load_later

_LATER = (
    "cv2",
    "pikepdf",
    "difflib:get_close_matches",
    "importlib.metadata:entry_points",
    "numpy",
    "numpy._core._add_newdocs",  # what its functions are for, which nobody asks a command
    "numpy._core._add_newdocs_scalars",
    "pathvalidate",
    "secrets",
    "subprocess",
    "unicodedata",
)


def main(arguments: list[str] | None = None) -> NoReturn:
    """Run the command; known errors end as one plain line, never as a traceback."""
    gc.disable()  # nothing that is loaded is garbage: to look for it takes a tenth of the start
    load_later(*_LATER)
    from oak_ledge.cli.call import call  # here: after the above

    call(arguments)
