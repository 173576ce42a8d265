"""Sheets of a job: laid out, changed as steps, made through the queue, proven; cells of a face."""

from __future__ import annotations

from dataclasses import replace
from io import BytesIO
from threading import Thread
from zipfile import ZipFile

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from oak_ledge.core.errors import CoreError, PlacementError, SizeError
from oak_ledge.core.gestures.move import Slide
from oak_ledge.core.placements.placement import changed
from oak_ledge.core.sheets.sheet import Sheet
from oak_ledge.flows.bench import history, view as bench
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody, put as put_on_size
from oak_ledge.flows.delivery import deliveries, listed, orders as deliver, workshop
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.export import export
from oak_ledge.flows.jobs import jobs, ledge
from oak_ledge.flows.library import sizes
from oak_ledge.flows.receivers import check
from oak_ledge.flows.sheets import layouts, preview, print_orders, sheets, view as shown
from oak_ledge.flows.sheets.changes import (
    AddPieces,
    Count,
    MovePiece,
    Pack,
    PutOn,
    Relay,
    Swap,
    TakeOff,
    TurnPiece,
)
from tests import samples
from tests.conftest import NOW, open_at
from tests.samples import there


@pytest.fixture
def job(workspace, bring, tmp_path):
    """Start a job with three photos on some sizes; give (job id, its placements' ids)."""

    def begin(*texts):
        files = [
            (f"p{n}.jpg", samples.photo(tmp_path / f"p{n}.jpg", 900 + n, 600)) for n in range(3)
        ]
        photos = [photo.id for photo in bring(*files).photos]
        job_id = jobs.start(workspace, "Evening", photos, [], list(texts), NOW)
        return job_id, [one.id for one in jobs.view(workspace, job_id).placements]

    return begin


def start(workspace, job_id, ids, paper="8x10in@100", **said):
    return sheets.start(workspace, job_id, ids, NOW, paper=paper, **said)


def keep(workspace, sheet_id, change, seen=None):
    return sheets.keep(workspace, sheet_id, change, NOW, seen)


def images_on(page):
    """Give the images a page of PDF shows."""
    return [one.get_object() for one in page["/Resources"]["/XObject"].values()]


def test_a_sheet_is_begun_packed_and_every_change_is_a_step(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids, margin="0.5in", gap="0.25in")
    assert (found.name, found.pages, found.pixels, found.unit) == (
        "Sheet 1",
        1,
        "800 × 1000 px",
        "in",
    )
    assert [(one.width, one.height, one.why) for one in found.pieces] == [(3, 2, "")] * 3
    assert not found.can_undo
    moved = keep(workspace, found.id, MovePiece(kind="move", n=2, x=4.2, y=7, snap=False))
    assert (moved.pieces[2].x, moved.pieces[2].y, moved.undo_word) == (4.2, 7, "Undo move")
    turned = keep(workspace, found.id, TurnPiece(kind="turn", n=2))
    assert (turned.pieces[2].width, turned.pieces[2].turned) == (2, True)
    more = keep(workspace, found.id, Count(kind="count", placement_id=ids[0], count=4))
    assert [one.count for one in more.counted if one.placement_id == ids[0]] == [4]
    fewer = keep(workspace, found.id, Count(kind="count", placement_id=ids[0], count=0))
    assert [one.placement_id for one in fewer.pieces] == ids[1:]
    added = keep(workspace, found.id, AddPieces(kind="add", placement_ids=[ids[0]]))
    assert len(added.pieces) == 3
    off = keep(workspace, found.id, TakeOff(kind="take_off", n=0))
    assert len(off.pieces) == 2
    packed = keep(workspace, found.id, Pack(kind="pack"))
    back = [sheets.walk(workspace, found.id, -1) for _ in range(7)][-1]
    assert not back.can_undo
    assert back.pieces == found.pieces
    forth = [sheets.walk(workspace, found.id, 1) for _ in range(7)][-1]
    assert forth.pieces == packed.pieces
    again = open_at(workspace.data)
    assert shown.view(again, found.id).pieces == packed.pieces  # it outlives a restart
    again.sessions.close()


def test_what_does_not_fit_says_why_and_comes_on_with_a_larger_paper(workspace, job):
    job_id, ids = job("3x2in@100", "12x9in@50")
    found = start(workspace, job_id, ids)
    assert [one.page for one in found.pieces] == [0, 0, 0, None, None, None]
    assert (
        "12 × 9 in is larger than 8 × 10 in at 100 ppi with a margin of 0.4in"
        in found.pieces[3].why
    )
    assert "3 pieces do not fit" in found.words[0]
    with pytest.raises(PlacementError, match="larger than"):
        keep(workspace, found.id, PutOn(kind="put_on", n=3))
    large = keep(workspace, found.id, Relay(kind="layout", paper="24x20in@100", names=True))
    assert all(one.page is not None for one in large.pieces)
    assert (large.layout.names, large.width, large.layout.marks) == (True, 24, True)
    assert large.marks[0]
    bare = keep(workspace, found.id, Relay(kind="layout", marks=False))
    assert bare.marks[0] == []
    assert [one.x for one in bare.pieces] == [
        one.x for one in large.pieces
    ]  # where all fits it stays
    metric = keep(
        workspace, found.id, Relay(kind="layout", paper="A2@100", margin="1cm", gap="5mm")
    )
    assert (metric.unit, metric.width) == ("mm", 420)
    assert metric.pieces[0].width == pytest.approx(76.2)


@pytest.mark.parametrize("kind", ["pdf", "png"])
def test_a_sheet_on_which_nothing_lies_makes_no_file(workspace, job, kind):
    job_id, ids = job("12x9in@50")
    found = start(workspace, job_id, ids)
    with pytest.raises(RequestError, match="Nothing lies on this sheet yet"):
        print_orders.make(workspace, found.id, NOW, kind)


@pytest.mark.parametrize(
    ("change", "error", "why"),
    [
        (MovePiece(kind="move", n=1, x=0.4, y=0.4), PlacementError, "would lie over p0"),
        (MovePiece(kind="move", n=9, x=1, y=1), NotFoundError, "has no piece 9"),
        (Relay(kind="layout", margin="4in"), PlacementError, "leaves nothing"),
        (Relay(kind="layout", margin="a lot"), SizeError, "not a length"),
        (Relay(kind="layout", paper="3:2"), SizeError, "both edges"),
        (Relay(kind="layout", cells="2x1"), RequestError, "when it is begun"),
        (Count(kind="count", placement_id=999, count=1), NotFoundError, "no placement 999"),
        (Swap(kind="swap", n=0, other=1), RequestError, "Only photos in cells"),
    ],
)
def test_what_cannot_be_changes_nothing(workspace, job, change, error, why):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    with pytest.raises(error, match=why):
        keep(workspace, found.id, change)
    assert shown.view(workspace, found.id) == found


@pytest.mark.parametrize(
    ("said", "why"),
    [
        ({"paper": "3:2"}, "both edges"),
        ({"paper": "8x10in@300 panels 3"}, "a plain size"),
        ({"paper": "nonsense"}, "is not a size"),
        ({"margin": "9km"}, "is not a length"),
        ({"cells": "0x1"}, "are no cells"),
        ({"paper": "384x160px", "cells": "2x1", "gap": "600px"}, "leave no pixel"),
        ({"layout_id": 99}, "no layout 99"),
    ],
)
def test_no_sheet_is_begun_on_what_is_no_paper(workspace, job, said, why):
    job_id, ids = job("3x2in@100")
    with pytest.raises((CoreError, NotFoundError), match=why):
        start(workspace, job_id, ids[:2], **{"paper": "8x10in@100"} | said)
    assert shown.of_job(workspace, job_id) == []
    with pytest.raises(NotFoundError, match="no placement 999"):
        start(workspace, job_id, [999])
    with pytest.raises(RequestError, match="at least one piece"):
        start(workspace, job_id, [])


def test_a_move_is_told_with_guides_and_kept_nowhere(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    first = found.pieces[0]
    told = sheets.tell(workspace, found.id, MovePiece(kind="move", n=2, x=first.x + 0.03, y=7))
    assert (told.x, told.why) == (first.x, "")
    assert first.x in told.vertical
    over = sheets.tell(
        workspace, found.id, MovePiece(kind="move", n=2, x=first.x, y=first.y, snap=False)
    )
    assert over.why == "p2, 3 × 2 in would lie over p0, 3 × 2 in."
    assert shown.view(workspace, found.id) == found


def test_two_hands_at_once_the_later_is_told_the_newer(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    keep(workspace, found.id, TurnPiece(kind="turn", n=2), found.step)
    with pytest.raises(ChangedMeanwhileError) as caught:
        keep(workspace, found.id, TurnPiece(kind="turn", n=1), found.step)
    assert caught.value.newer == shown.view(workspace, found.id)
    kept, refused = [], []

    def turn(n):
        seen = shown.view(workspace, found.id).step
        try:
            kept.append(keep(workspace, found.id, TurnPiece(kind="turn", n=n), seen))
        except ChangedMeanwhileError:
            refused.append(n)

    hands = [Thread(target=turn, args=(n,)) for n in (0, 1, 2) for _ in range(2)]
    for one in hands:
        one.start()
    for one in hands:
        one.join()
    assert len(kept) + len(refused) == 6
    assert len({one.step for one in kept}) == len(kept)


def test_a_pdf_is_made_through_the_queue_and_holds_every_piece_as_it_would_be_made(workspace, job):
    job_id, ids = job("3x2in@100", "200x200px outline circle")
    found = start(workspace, job_id, ids, names=True)
    made = print_orders.make(workspace, found.id, NOW)
    (file,) = made.files
    assert (file.state, file.reason, file.name) == ("made", None, "Evening-Sheet-1.pdf")
    assert (file.asked.format, file.sheet) == ("pdf", "6 pieces")
    assert all(line.same is not False for line in file.proof)
    assert [line.what for line in file.proof] == ["page", "pages", "kind", "images", "bytes"]
    folder = deliveries.folder_of(workspace, made.id)
    (page,) = PdfReader(folder / there(file.name)).pages
    streams = images_on(page)
    pieces = deliver.deliver(workspace, job_id, None, NOW)
    beside = deliveries.folder_of(workspace, pieces.id)
    for stream in streams:
        if stream["/Filter"] == "/DCTDecode":
            with Image.open(BytesIO(stream._data)) as inside:
                values = np.asarray(inside)
            same = [
                np.array_equal(values, np.asarray(Image.open(beside / (one.name or ""))))
                for one in pieces.files
                if (one.name or "").endswith(".jpg")
            ]
            assert sum(same) == 1
        else:
            assert (stream["/Width"], stream["/Height"]) == (200, 200)
            assert "/SMask" in stream
    assert bench.view(workspace, ids[0]).state == "made"  # by its own file, not by the sheet's
    assert shown.view(workspace, found.id).made_in == made.id
    zipped = b"".join(export.archive(workspace, made.id))
    assert ZipFile(BytesIO(zipped)).namelist() == ["Evening-Sheet-1.pdf", "proof.csv"]
    with pytest.raises(NotFoundError, match="no pictures for a contact sheet"):
        export.contact_sheet(workspace, made.id, "a4", None)
    (first, short) = listed.listed(workspace, NOW).deliveries
    assert (short.pieces[0].sheet_id, short.pieces[0].shown, short.changed) == (
        found.id,
        True,
        False,
    )
    sheets.remove(workspace, found.id)
    (first, short) = listed.listed(workspace, NOW).deliveries
    assert not short.pieces[0].shown
    assert deliveries.view(workspace, made.id).files[0].state == "made"
    assert first.made == 6


@pytest.mark.parametrize("kind", ["png", "tiff", "jpeg"])
def test_pictures_of_pages_hold_each_piece_drawn_from_its_photo(workspace, job, kind):
    job_id, ids = job("3x2in@50", "5x4in@100")
    found = start(workspace, job_id, ids, marks=False)
    assert found.pages == 2
    made = print_orders.make(workspace, found.id, NOW, kind)
    assert [one.state for one in made.files] == ["made", "made"], [one.reason for one in made.files]
    ending = {"png": "png", "tiff": "tif", "jpeg": "jpg"}[kind]
    assert [one.name for one in made.files] == [f"Evening-Sheet-1_{n}.{ending}" for n in (1, 2)]
    folder = deliveries.folder_of(workspace, made.id)
    pages = []
    for one in made.files:
        measured = there(one.measured)
        assert (measured.width, measured.height) == (800, 1000)
        assert measured.ppi == pytest.approx(100, abs=0.01)
        with Image.open(folder / there(one.name)) as image:
            pages.append(np.asarray(image.convert("RGB")))
    assert shown.view(workspace, found.id).layout.kind == "pdf"  # for once only
    for piece in found.pieces:
        left, top = round(piece.x * 100), round(piece.y * 100)
        wide, high = round(piece.width * 100), round(piece.height * 100)
        part = pages[piece.page][top : top + high, left : left + wide]
        assert part.std() > 5  # a picture, not paper
    blank = pages[0].copy()
    for piece in found.pieces:
        if piece.page == 0:
            left, top = round(piece.x * 100), round(piece.y * 100)
            blank[top : top + round(piece.height * 100), left : left + round(piece.width * 100)] = (
                255
            )
    assert (blank > (220 if kind == "jpeg" else 254)).all()  # JPEG rings about edges


def test_a_later_edit_changes_no_sheet_that_was_asked_for(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    waiting = replace(workspace, ask=lambda times: None)
    asked = print_orders.make(waiting, found.id, NOW)
    keep(workspace, found.id, TakeOff(kind="take_off", n=0))
    put_on_size(workspace, ids[1], OtherSizeBody(text="1x1in@100"), NOW)
    workshop.make_what_waits(workspace, "1", lambda: NOW)
    made = deliveries.view(workspace, asked.id).files[0]
    assert (made.state, made.sheet) == ("made", "3 pieces")
    folder = deliveries.folder_of(workspace, asked.id)
    (page,) = PdfReader(folder / there(made.name)).pages
    assert sorted(one["/Width"] for one in images_on(page)) == [300, 300, 300]
    again = deliver.again(workspace, asked.id, made.id, NOW)  # as it was asked for
    assert (again.files[0].state, again.files[0].sheet) == ("made", "3 pieces")


def test_a_piece_that_is_stopped_or_whose_photo_is_gone_holds_its_sheet_with_the_reason(
    workspace, job
):
    job_id, ids = job("30x20in@300")
    found = start(workspace, job_id, ids, paper="40x30in@100")
    held = print_orders.make(workspace, found.id, NOW).files[0]
    assert held.state == "held"
    assert there(held.reason).startswith("p0.jpg on 30 × 20 in: ")
    for one in ids:
        placed = bench.load(workspace, one)
        history.put(workspace, one, changed(placed.placement, allow=("enlarged",)), NOW)
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    for path in workspace.originals.rglob("*.jpg"):
        path.unlink()
    failed = print_orders.make(workspace, found.id, NOW).files[0]
    assert failed.state == "failed"
    assert failed.reason
    assert list(deliveries.folder_of(workspace, failed.delivery_id).glob("*")) == []


def test_a_whole_sheet_is_put_only_where_nothing_lies_over_anything(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    sheet = found.sheet
    one = sheet.places[0].model_copy(update={"x": sheet.places[1].x, "y": sheet.places[1].y})
    with pytest.raises(RequestError, match="lie over each other"):
        sheets.put(
            workspace, found.id, sheet.model_copy(update={"places": (one, *sheet.places[1:])}), None
        )
    other = Sheet(layout=sheet.layout, places=(sheet.places[0].model_copy(update={"piece": 999}),))
    with pytest.raises(RequestError, match="another job"):
        sheets.put(workspace, found.id, other, None)
    named = sheets.put(workspace, found.id, sheet, "Proofs", found.step)
    assert (named.name, named.step) == ("Proofs", found.step)
    fewer = sheets.put(
        workspace, found.id, sheet.model_copy(update={"places": sheet.places[:1]}), None
    )
    assert len(fewer.pieces) == 1


def test_a_layout_is_kept_for_the_next_job(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids, paper="A4@200", margin="12mm", gap="3mm", names=True)
    kept = layouts.keep(workspace, found.id, "  My   A4 ")
    assert (kept.name, kept.layout.paper, kept.layout.margin) == ("My A4", "210x297mm@200", "12mm")
    assert layouts.keep(workspace, found.id, "My A4").id == kept.id  # in its place
    like = start(workspace, job_id, ids, paper=None, layout_id=kept.id)
    assert like.layout == found.layout
    assert [one.x for one in like.pieces] == [one.x for one in found.pieces]
    layouts.remove(workspace, kept.id)
    assert layouts.every(workspace) == []
    with pytest.raises(NotFoundError):
        layouts.remove(workspace, kept.id)
    with pytest.raises(RequestError, match="Give the layout a name"):
        layouts.keep(workspace, found.id, "   ")


def test_pieces_in_panels_lie_panel_by_panel(workspace, job):
    job_id, ids = job("1x2in@100 panels 3")
    found = start(workspace, job_id, ids[:1])
    assert [(one.panel, one.width, one.height) for one in found.pieces] == [
        (n, 1, 2) for n in (1, 2, 3)
    ]
    assert found.pieces[1].cut == pytest.approx((1 / 3, 0, 1 / 3, 1))
    assert [one.count for one in found.counted] == [1]
    two = keep(workspace, found.id, Count(kind="count", placement_id=ids[0], count=2))
    assert len(two.pieces) == 6
    made = print_orders.make(workspace, found.id, NOW).files[0]
    folder = deliveries.folder_of(workspace, made.delivery_id)
    (page,) = PdfReader(folder / there(made.name)).pages
    assert len(images_on(page)) == 3  # what lies there twice is held once


def sign(workspace):
    sizes.add_starters(workspace)
    return next(one for one in sizes.every(workspace) if one.name == "Quay sign")


# The receiver of that name, as a new library has it.
SIGN = 3


def test_two_photos_on_one_sign_fill_it_and_its_receiver_takes_the_file(workspace, job):
    face = sign(workspace)
    job_id, ids = job("3x2in@100", "2x3in@100")
    found = sheets.start(workspace, job_id, ids[:2], NOW, size_id=face.id, cells="2x1")
    assert (found.name, found.pixels, found.unit) == ("Quay sign", "384 × 160 px", "px")
    assert [(one.x, one.width, one.height) for one in found.pieces] == [
        (0, 192, 160),
        (192, 192, 160),
    ]
    assert len(jobs.view(workspace, job_id).placements) == 6  # cells stand on no ledge
    cells = [one.placement_id for one in found.pieces]
    assert ledge.queue(workspace, job_id, cells[0], None, "all")[0].id == cells[0]
    assert [one.id for one in shown.queue(workspace, found.id, cells[0])] == cells
    before = bench.view(workspace, cells[1]).crop
    history.keep(workspace, cells[1], Slide(kind="slide", dx=15, dy=0), NOW)
    assert bench.view(workspace, cells[1]).crop != before
    made = print_orders.make(workspace, found.id, NOW)
    (file,) = made.files
    assert file.state == "made", file.reason
    assert (there(file.measured).width, there(file.measured).height) == (384, 160)
    (told,) = check.check_delivery(workspace, SIGN, made.id).files
    assert (told.file, told.state) == (file.name, "accepted")
    swapped = keep(workspace, found.id, Swap(kind="swap", n=0, other=1))
    assert [one.photo for one in swapped.pieces] == ["p1.jpg", "p0.jpg"]
    assert [one.x for one in swapped.pieces] == [0, 192]
    back = sheets.walk(workspace, found.id, -1)
    assert [one.photo for one in back.pieces] == ["p0.jpg", "p1.jpg"]


def test_a_face_is_divided_otherwise_and_each_cell_keeps_its_work(workspace, job):
    face = sign(workspace)
    job_id, ids = job("3x2in@100")
    found = sheets.start(workspace, job_id, ids[:2], NOW, size_id=face.id, cells="2x1")
    history.keep(workspace, found.pieces[0].placement_id, Slide(kind="slide", dx=-20, dy=0), NOW)
    before = bench.view(workspace, found.pieces[0].placement_id)
    wide = keep(workspace, found.id, Relay(kind="layout", gap="8px"))
    assert [(one.x, one.width) for one in wide.pieces] == [(0, 188), (196, 188)]
    after = bench.view(workspace, wide.pieces[0].placement_id)
    assert after.lying.cx == pytest.approx(before.lying.cx, abs=6)
    with pytest.raises(RequestError, match="3 photos are chosen for 2 cells"):
        keep(workspace, found.id, AddPieces(kind="add", placement_ids=[ids[2]]))
    stacked = keep(workspace, found.id, Relay(kind="layout", cells="3x1", gap="0"))
    full = keep(workspace, found.id, AddPieces(kind="add", placement_ids=[ids[2]]))
    assert [one.width for one in stacked.pieces] == [128, 128]
    assert sum(one.width for one in full.pieces) == 384
    with pytest.raises(RequestError, match="What lies in a cell fills it"):
        keep(workspace, found.id, TurnPiece(kind="turn", n=0))
    with pytest.raises(PlacementError, match="a PDF needs a paper"):
        keep(workspace, found.id, Relay(kind="layout", made_as="pdf"))


def test_a_page_is_shown_as_it_will_look(workspace, job):
    job_id, ids = job("3x2in@100")
    found = start(workspace, job_id, ids)
    with Image.open(BytesIO(preview.page_preview(workspace, found.id, 0, 500))) as image:
        assert image.size == (400, 500)
        page = np.asarray(image.convert("RGB")).astype(int)
    one = found.pieces[0]
    inside = page[
        int((one.y + 0.2) * 50) : int((one.y + 1.8) * 50),
        int((one.x + 0.2) * 50) : int((one.x + 2) * 50),
    ]
    assert inside.std() > 5
    assert (page[490:, :] > 248).all()
    with pytest.raises(NotFoundError, match="no page 2"):
        preview.page_preview(workspace, found.id, 1, 500)
