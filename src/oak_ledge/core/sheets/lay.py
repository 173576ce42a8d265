"""Laying pieces on a sheet: packed, moved, turned, taken off; nothing ever lies on anything else."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.sheets.canvas import Rect, extent_of, extent_words, is_paper, step_of, width_on
from oak_ledge.core.sheets.free_places import FreePlaces
from oak_ledge.core.sheets.packing import packed
from oak_ledge.core.sheets.piece import PieceOn
from oak_ledge.core.sheets.sheet import Layout, Place, Sheet
from oak_ledge.core.sheets.spots import (
    Snapped,
    free_spot,
    hit,
    kept_within,
    overlap,
    snapped,
    within,
)

# What each piece takes, by its number.
Pieces = Mapping[int, PieceOn]

# Inches: an edge so near to another's is drawn to it.
REACH = Fraction(15, 254)


@dataclass(frozen=True)
class MoveOutcome:
    """What a move would come to: the place, the lines its edges meet, and why it can't lie there."""

    x: Fraction
    y: Fraction
    vertical: tuple[Fraction, ...]
    horizontal: tuple[Fraction, ...]
    why: str


def room_of(layout: Layout) -> Rect:
    """Return what of a page may be laid on: all within its margin.

    Raises
    ------
    PlacementError
        If the margin leaves none.
    """
    wide, high = extent_of(layout.canvas)
    edge = width_on(layout.canvas, layout.margin)
    if 2 * edge >= min(wide, high):
        msg = f"a margin of {layout.margin} leaves nothing of {extent_words(layout.canvas)}"
        raise PlacementError(msg)
    return Rect(edge, edge, wide - 2 * edge, high - 2 * edge)


def taken(place: Place, pieces: Pieces) -> Rect:
    """Return what a piece takes of its page."""
    return pieces[place.piece].taken(place.x, place.y, turned=place.turned)


def on_page(sheet: Sheet, page: int | None, but: int | None = None) -> list[int]:
    """Name those that lie on a page, in their order, but one."""
    return [n for n, place in enumerate(sheet.places) if place.page == page and n != but]


def by_page(sheet: Sheet) -> dict[int | None, list[int]]:
    """Name those that lie on each page, in their order; under None those that lie on none."""
    places: dict[int | None, list[int]] = {}
    for n, place in enumerate(sheet.places):
        places.setdefault(place.page, []).append(n)
    return places


def placed_by_itself(sheet: Sheet, pieces: Pieces) -> Sheet:
    """Lay all pieces anew on as few pages as can be found; what is larger than the room lies on none."""
    layout, room = sheet.layout, room_of(sheet.layout)
    gap = width_on(layout.canvas, layout.gap)
    named = max((piece.below for piece in pieces.values()), default=Fraction(0))
    more = max(
        Fraction(0), named - gap
    )  # a name below its piece stands in the gap, if that is wide enough
    edges = [
        (piece_on.width + more, piece_on.height + more)
        for piece_on in (pieces[p.piece] for p in sheet.places)
    ]
    high = room.height - named + more
    spots = packed(edges, (room.width, high), gap, step_of(layout.canvas))
    places = tuple(
        _off(place)
        if spot is None
        else _laid(place, spot.page, room.x + spot.x, room.y + spot.y, turned=spot.turned)
        for place, spot in zip(sheet.places, spots, strict=True)
    )
    return sheet.model_copy(update={"places": places})


def _laid(place: Place, page: int, x: Fraction, y: Fraction, *, turned: bool) -> Place:
    return place.model_copy(update={"page": page, "x": x, "y": y, "turned": turned})


def _off(place: Place) -> Place:
    update = {"page": None, "x": Fraction(0), "y": Fraction(0), "turned": False}
    return place.model_copy(update=update)


def _with(sheet: Sheet, n: int, place: Place) -> Sheet:
    places = (*sheet.places[:n], place, *sheet.places[n + 1 :])
    return sheet.model_copy(update={"places": places})


def move_outcome(
    sheet: Sheet,
    pieces: Pieces,
    names: Sequence[str],
    n: int,
    x: Fraction,
    y: Fraction,
    *,
    snap: bool,
) -> MoveOutcome:
    """Return where a piece would lie: its edges drawn to its neighbours', and what is in its way.

    Parameters
    ----------
    names : what each of the sheet's pieces is called, for the sentence
    n : which of them
    x, y : where its top left corner is wanted, in the canvas' measure
    snap : draw its edges to lines that are near
    """
    place, layout = sheet.places[n], sheet.layout
    others = on_page(sheet, place.page, but=n)
    rects = [taken(sheet.places[other], pieces) for other in others]
    room = room_of(layout)
    at = kept_within(taken(place.model_copy(update={"x": x, "y": y}), pieces), room)
    nearest = Snapped(at.x, at.y, (), ())
    if snap:
        gap = width_on(layout.canvas, layout.gap)
        reach = REACH if is_paper(layout.canvas) else extent_of(layout.canvas)[0] / 60
        nearest = snapped(at, rects, room, gap, reach)
    there = at._replace(x=nearest.x, y=nearest.y)
    why = ""
    if not within(there, room):
        why = f"{names[n]} is larger than the room inside the margin."
    met = hit(there, rects)
    if met is not None:
        why = f"{names[n]} would lie over {names[others[met]]}."
    return MoveOutcome(nearest.x, nearest.y, nearest.vertical, nearest.horizontal, why)


def moved(
    sheet: Sheet,
    pieces: Pieces,
    names: Sequence[str],
    n: int,
    x: Fraction,
    y: Fraction,
    *,
    snap: bool,
) -> Sheet:
    """Move a piece on its page, its edges drawn to its neighbours' where that is asked.

    Raises
    ------
    PlacementError
        If it would lie over another, or it lies on no page.
    """
    if sheet.places[n].page is None:
        msg = f"{names[n]} lies on no page yet; put it on first"
        raise PlacementError(msg)
    told_move = move_outcome(sheet, pieces, names, n, x, y, snap=snap)
    if told_move.why:
        raise PlacementError(told_move.why)
    return _with(sheet, n, sheet.places[n].model_copy(update={"x": told_move.x, "y": told_move.y}))


def turned_over(sheet: Sheet, pieces: Pieces, names: Sequence[str], n: int) -> Sheet:
    """Turn a piece by a quarter about its corner, or where there is room on its page.

    Raises
    ------
    PlacementError
        If there is none.
    """
    place = sheet.places[n]
    if place.page is None:
        msg = f"{names[n]} lies on no page yet; put it on first"
        raise PlacementError(msg)
    turned = place.model_copy(update={"turned": not place.turned})
    rects = [taken(sheet.places[other], pieces) for other in on_page(sheet, place.page, but=n)]
    there = kept_within(taken(turned, pieces), room_of(sheet.layout))
    if within(there, room_of(sheet.layout)) and hit(there, rects) is None:
        return _with(sheet, n, turned.model_copy(update={"x": there.x, "y": there.y}))
    spot = _spot(sheet, pieces, turned, rects)
    if spot is None:
        msg = f"{names[n]} has no room here when it is turned"
        raise PlacementError(msg)
    return _with(sheet, n, turned.model_copy(update={"x": spot[0], "y": spot[1]}))


def put_on(
    sheet: Sheet, pieces: Pieces, names: Sequence[str], n: int, page: int | None = None
) -> Sheet:
    """Lay a piece on the first page that has room, or on one that is named; as shot if it can be.

    Raises
    ------
    PlacementError
        If it is larger than the room, or that page has none.
    """
    place = _off(sheet.places[n])
    bare = _with(sheet, n, place)
    last = bare.pages if any(placed_here.page is not None for placed_here in bare.places) else 0
    pages = range(last + 1) if page is None else [page]
    for at in pages:
        rects = [taken(bare.places[other], pieces) for other in on_page(bare, at)]
        for way in (False, True):
            placed = place.model_copy(update={"turned": way})
            spot = _spot(bare, pieces, placed, rects)
            if spot is not None:
                return _with(bare, n, _laid(placed, at, *spot, turned=way))
    if page is None:
        msg = too_large(sheet.layout, names[n])
        raise PlacementError(msg)
    msg = f"page {page + 1} has no room for {names[n]}"
    raise PlacementError(msg)


def with_more(sheet: Sheet, pieces: Pieces, more: Sequence[Place]) -> Sheet:
    """Add pieces, each on the first page that has room, as shot if it can be; what is there stays.

    One that is larger than the room lies on no page. The same places as `put_on` would find one by one.
    """
    layout = sheet.layout
    ways = {
        place.piece: [
            taken(_off(place).model_copy(update={"turned": way}), pieces) for way in (False, True)
        ]
        for place in more
    }
    edges = {piece: [(rect.width, rect.height) for rect in rects] for piece, rects in ways.items()}
    pages = by_page(sheet)
    free = FreePlaces(
        [
            [taken(sheet.places[n], pieces) for n in pages.get(page, ())]
            for page in range(sheet.pages if any(page is not None for page in pages) else 0)
        ],
        room_of(layout),
        width_on(layout.canvas, layout.gap),
        [pair for pairs in edges.values() for pair in pairs],
    )
    added = []
    for place in more:
        spot = free.take(edges[place.piece])
        if spot is None:
            added.append(_off(place))
        else:
            page, x, y, way = spot
            added.append(_laid(place, page, x, y, turned=bool(way)))
    return Sheet(layout=layout, places=(*sheet.places, *added))


def too_large(layout: Layout, name: str) -> str:
    """Return why a piece lies on no page."""
    return f"{name} is larger than {extent_words(layout.canvas)} with a margin of {layout.margin}"


def _spot(
    sheet: Sheet, pieces: Pieces, place: Place, rects: Sequence[Rect]
) -> tuple[Fraction, Fraction] | None:
    rect = taken(place, pieces)
    gap = width_on(sheet.layout.canvas, sheet.layout.gap)
    return free_spot((rect.width, rect.height), rects, room_of(sheet.layout), gap)


def taken_off(sheet: Sheet, *numbers: int) -> Sheet:
    """Take some off the sheet altogether; pages that are empty then close up."""
    gone = set(numbers)
    places = tuple(place for n, place in enumerate(sheet.places) if n not in gone)
    return closed_up(sheet.model_copy(update={"places": places}))


def closed_up(sheet: Sheet) -> Sheet:
    """Leave out empty pages between those that have pieces."""
    used = sorted({place.page for place in sheet.places if place.page is not None})
    order = {page: n for n, page in enumerate(used)}
    places = tuple(
        place if place.page is None else place.model_copy(update={"page": order[place.page]})
        for place in sheet.places
    )
    return sheet.model_copy(update={"places": places})


def still_fits(sheet: Sheet, pieces: Pieces) -> bool:
    """Return whether everything lies inside the margin and nothing on anything else."""
    room = room_of(sheet.layout)
    for page, numbers in by_page(sheet).items():
        if page is None:
            continue
        rects = [taken(sheet.places[n], pieces) for n in numbers]
        if not all(within(rect, room) for rect in rects):
            return False
        if any(overlap(rect, other) for n, rect in enumerate(rects) for other in rects[n + 1 :]):
            return False
    return True


def share_used(sheet: Sheet, pieces: Pieces, numbers: Sequence[int]) -> float:
    """Return the share of a paper that some pieces cover, 0 to 1."""
    wide, high = extent_of(sheet.layout.canvas)
    paths = (sheet.places[n] for n in numbers)
    whole = (pieces[place.piece].whole(place.x, place.y, turned=place.turned) for place in paths)
    return float(sum(rect.width * rect.height for rect in whole) / (wide * high))
