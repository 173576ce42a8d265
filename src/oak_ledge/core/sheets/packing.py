"""Laying pieces on as few sheets as possible, turned where that helps."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from math import ceil, floor
from typing import NamedTuple

import rectpack

MANY = 400  # pieces: of more only the quick ways are tried

_QUICK = (
    (rectpack.MaxRectsBssf, rectpack.PackingBin.BFF),
    (rectpack.GuillotineBssfSas, rectpack.PackingBin.BFF),
)
_SLOW = (
    (rectpack.SkylineMwfl, rectpack.PackingBin.BFF),
    (rectpack.MaxRectsBssf, rectpack.PackingBin.Global),
    (rectpack.GuillotineBssfSas, rectpack.PackingBin.Global),
)  # fmt: skip


class Spot(NamedTuple):
    """Where a piece lies: on which page, from 0, its top left corner, and whether it is turned."""

    page: int
    x: Fraction
    y: Fraction
    turned: bool


Edges = tuple[Fraction, Fraction]


def packed(
    pieces: Sequence[Edges], room: Edges, gap: Fraction, step: Fraction, *, turn: bool = True
) -> list[Spot | None]:
    """Lay pieces on as few pages as can be found.

    Several ways of a packing library are tried, the quickest first, until one takes no more pages
    than the pieces' area alone would need; the fewest pages win.

    Parameters
    ----------
    pieces : width and height of each
    room : width and height they may lie in, on every page
    gap : left free between two of them
    step : places are whole multiples of it
    turn : whether a piece may be turned by a quarter

    Returns
    -------
    A spot for every piece, (0, 0) being the corner of the room; None for one that is larger.
    """
    wide, high = (floor((edge + gap) / step) for edge in room)
    asked = [
        (ceil((width + gap) / step), ceil((height + gap) / step), n)
        for n, (width, height) in enumerate(pieces)
        if _fits((width, height), room, turn=turn)
    ]
    if not asked:
        return [None] * len(pieces)
    least = ceil(sum(across * along for across, along, _ in asked) / (wide * high))
    best: list[tuple[int, int, int, int, int, int]] = []
    fewest = len(asked) + 1
    for way, choice in (*_QUICK, *(_SLOW if len(asked) <= MANY else ())):
        found = _tried(asked, (wide, high), way, choice, turn=turn)
        pages = 1 + max(page for page, *_ in found)
        if pages < fewest:
            best, fewest = found, pages
        if fewest <= least:
            break
    spots: list[Spot | None] = [None] * len(pieces)
    edges = {n: (across, along) for across, along, n in asked}
    for page, x, y, across, along, n in best:
        turned = (across, along) != edges[n]
        spots[n] = Spot(page, x * step, y * step, turned)
    return spots


def _fits(piece: Edges, room: Edges, *, turn: bool) -> bool:
    upright = piece[0] <= room[0] and piece[1] <= room[1]
    return upright or (turn and piece[1] <= room[0] and piece[0] <= room[1])


def _tried(
    asked: Sequence[tuple[int, int, int]],
    room: tuple[int, int],
    way: type,
    choice: int,
    *,
    turn: bool,
) -> list[tuple[int, int, int, int, int, int]]:
    packer = rectpack.newPacker(
        mode=rectpack.PackingMode.Offline,
        bin_algo=choice,
        pack_algo=way,
        sort_algo=rectpack.SORT_LSIDE,
        rotation=turn,
    )
    for across, along, n in asked:
        packer.add_rect(across, along, n)
    packer.add_bin(*room, count=len(asked))
    packer.pack()
    order = {page: n for n, page in enumerate(sorted({one[0] for one in packer.rect_list()}))}
    return [(order[page], *place) for page, *place in packer.rect_list()]
