"""How often one piece goes on a small paper, side by side: the sheet of identity pictures."""

from __future__ import annotations

from fractions import Fraction

Edges = tuple[Fraction, Fraction]


def most_copies(piece: Edges, paper: Edges, margin: Fraction, gap: Fraction) -> int:
    """Return how many equal pieces lie in rows on a paper, upright or all of them turned; all in one unit.

    >>> mm = lambda *edges: tuple(map(Fraction, edges))
    >>> most_copies(mm(35, 45), mm(100, 150), Fraction(2), Fraction(2))
    8
    """
    room = tuple(edge - 2 * margin + gap for edge in paper)
    ways = (tuple(edge + gap for edge in edges) for edges in (piece, piece[::-1]))
    return max(max(0, room[0] // wide) * max(0, room[1] // high) for wide, high in ways)
