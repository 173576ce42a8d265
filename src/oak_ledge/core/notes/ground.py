"""Notes on ground that is made up: how much of the piece it is, and whether it is made at all."""

from __future__ import annotations

from oak_ledge.core.errors import FillError, sentence
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.notes.note import Note
from oak_ledge.core.placements.lying import Lying
from oak_ledge.core.placements.scene_geometry import BOLD, ground_needed, is_unmade, with_ground
from oak_ledge.core.reports.tally import Tally

# Of the piece: so much made-up ground is worth a look.
NOTED = 0.10


def continued(lying: Lying, tally: Tally) -> Note | None:
    """Look where much of a piece is made up, and say plainly where it is bold."""
    if ground_needed(lying) is None or tally.uncovered <= NOTED:
        return None
    share = f"{rounded(tally.uncovered * 100, 0)} % of this piece is not in the photo"
    if tally.uncovered > BOLD:
        text = f"{share}: over a quarter is invented. Check it closely."
    else:
        text = f"{share}; it is continued from it."
    return Note(level="look", code="continued", text=text)


def ground_unmade(lying: Lying) -> Note | None:
    """Look where a crop has left the ground that was taken for it, or none was taken.

    Stop where none can be made that is large enough.
    """
    if not is_unmade(lying):
        return None
    try:
        with_ground(lying, ())
    except FillError as exc:
        return Note(level="stop", code="ground-unmade", text=sentence(str(exc)))
    if lying.placement.continued is None:
        text = (
            "No continued ground was chosen yet: the file takes the first try. Look at the tries."
        )
    else:
        text = "The crop has left the ground that was made for it. Make it again, and look at it."
    return Note(level="look", code="ground-unmade", text=text, way="Continue the ground")
