"""The library of saved sizes, and the starter set a new one begins with."""

from __future__ import annotations

from oak_ledge.core.size_text import read_size
from oak_ledge.core.sizes import Group, PpiRange, Size
from oak_ledge.flows.placements import SizeView, size_view
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import sizes
from oak_ledge.store.database import transaction

IN_THE_HAND = PpiRange(low=240, high=300)
ON_THE_WALL = PpiRange(low=150, high=300)

# Trade print sizes in inches; A sizes by ISO 216; screens by their common names.
STARTERS: tuple[tuple[str, Group, str, PpiRange | None], ...] = (
    ("4 × 6 in print", "print", "4x6in@300", IN_THE_HAND),
    ("5 × 7 in print", "print", "5x7in@300", IN_THE_HAND),
    ("8 × 10 in print", "print", "8x10in@300", IN_THE_HAND),
    ("8 × 12 in print", "print", "8x12in@300", IN_THE_HAND),
    ("11 × 14 in print", "print", "11x14in@300", IN_THE_HAND),
    ("16 × 20 in print", "print", "16x20in@240", ON_THE_WALL),
    ("A5 print", "print", "148x210mm@300", IN_THE_HAND),
    ("A4 print", "print", "210x297mm@300", IN_THE_HAND),
    ("A3 print", "print", "297x420mm@240", ON_THE_WALL),
    ("Square picture", "marketplace", "1600x1600px", None),
    ("16:9 screen", "screen", "1920x1080px", None),
    ("Quay sign", "screen", "384x160px", None),
    ("Free crop", "own", "100%", None),
)


class SavedSizeView(SizeView):
    id: int
    group: Group


def every(workspace: Workspace) -> list[SavedSizeView]:
    with transaction(workspace.sessions) as session:
        return [
            SavedSizeView(**dict(size_view(saved.size)), id=saved.id, group=saved.size.group)
            for saved in sizes.every(session)
        ]


def read(text: str) -> SizeView:
    """Read a text as a size and say it as a sentence."""
    return size_view(read_size(text))


def add_starters(workspace: Workspace) -> None:
    """Give a library that is still empty its first sizes."""
    with transaction(workspace.sessions) as session:
        if sizes.every(session):
            return
        for name, group, text, receiver in STARTERS:
            told = {"name": name, "group": group, "receiver": receiver}
            size = Size.model_validate(read_size(text).model_copy(update=told).model_dump())
            sizes.add(session, size)
