"""Marks: the library of them, and how they are laid on pieces, in previews, files, sheets and elsewhere."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from oak_ledge.core.errors import CoreError, PhotoError, SizeError
from oak_ledge.core.gestures.print.mark import LayMark
from oak_ledge.core.gestures.start import StartAgain
from oak_ledge.core.marks.mark import PLACES, PieceMark
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.pixels.marks.line_of_text import kerned, line_of_text
from oak_ledge.core.placements.placement import mark_on
from oak_ledge.core.sizes.text.exchange import read_file, write_csv, write_json
from oak_ledge.flows.bench import history
from oak_ledge.flows.bench.sizes import other_size, save_size
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody
from oak_ledge.flows.bench.sizes.save_size import SaveSizeBody
from oak_ledge.flows.bench.view import load
from oak_ledge.flows.commands.tell import LyingOptions, mark_called_for
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.delivery.deliveries import folder_of
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.jobs.batches import OnMark
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.flows.marks import library
from oak_ledge.flows.marks.laid import laid_here
from oak_ledge.flows.marks.library import LineBody, MarkChange
from oak_ledge.flows.pieces import pictures
from oak_ledge.flows.pieces.fingerprint import hash_of
from oak_ledge.flows.pieces.mark import mark_view
from oak_ledge.flows.pieces.pieces import figures_of, piece_of
from oak_ledge.store import photos
from oak_ledge.store.database import transaction
from oak_ledge.web.api.answer import LETTER_FONTS
from tests.conftest import NOW
from tests.samples import save, size


def flat(colour, wide=80, high=40) -> bytes:
    """A mark that is one colour all over, as a PNG."""
    out = BytesIO()
    Image.new("RGBA", (wide, high), colour).save(out, "PNG")
    return out.getvalue()


def add(workspace, name="Quay", colour="#c02020", other=None, **shape):
    return library.add_picture(workspace, name, flat(colour, **shape), other, NOW)


def lay(workspace, at, mark, **how):
    laid = PieceMark(**(dict(mark.mark) | how))
    return history.keep(workspace, at, LayMark(kind="mark", mark=laid), NOW)


@pytest.fixture
def plain(workspace, bring, tmp_path):
    """Start a job with one plain photo of a tone on a size, marked or not; give (job id, placement id)."""

    def lay_out(text, tone=128, mark=None):
        path = save(tmp_path / f"plain-{tone}.png", np.full((800, 1200, 3), tone, np.uint8))
        photo = bring((path.name, path)).photos[0]
        saved = sizes.add(workspace, SizeBody(text=text, mark=mark))
        job_id = jobs.start(workspace, "Evening", [photo.id], [saved.id], [], NOW)
        return job_id, jobs.view(workspace, job_id).placements[0].id

    return lay_out


@pytest.fixture
def grey(plain):
    """A job with one piece of a plain grey photo, on 4 × 5 in at 100 ppi: 500 × 400 px."""
    return plain("4x5in@100 png")


def made(workspace, job_id):
    file = orders.deliver(workspace, job_id, None, NOW).files[-1]
    assert file.state == "made", file.reason
    with Image.open(folder_of(workspace, file.delivery_id) / (file.name or "")) as image:
        return np.asarray(image.convert("RGB")).astype(int)


def reds(pixels):
    """Left, top, width and height of what is red."""
    rows, columns = np.nonzero((pixels[..., 0] > 150) & (pixels[..., 1] < 90))
    return (columns.min(), rows.min(), np.ptp(columns) + 1, np.ptp(rows) + 1) if len(rows) else None


def test_a_mark_is_on_the_preview_and_in_the_file_where_the_bench_says(workspace, grey):
    job_id, at = grey
    bare = made(workspace, job_id)
    was = hash_of(load(workspace, at))
    lay(workspace, at, add(workspace), place="top-right", width="100px", margin="10px")
    placed = load(workspace, at)
    assert hash_of(placed) != was
    pixels = made(workspace, job_id)
    assert reds(pixels) == (390, 10, 100, 50)
    changed = (pixels != bare).any(axis=2)
    changed[10:60, 390:490] = False
    assert not changed.any()
    lies = mark_view(workspace, placed).lies
    assert lies is not None
    assert lies.box == (390 / 500, 10 / 400, 100 / 500, 50 / 400)
    assert set(lies.places) == set(PLACES) - {"calm"}
    for edge, shown in ((500, (390, 10, 100, 50)), (250, (195, 5, 50, 25))):
        with Image.open(pictures.piece_preview(workspace, placed, edge)) as preview:
            there = reds(np.asarray(preview.convert("RGB")).astype(int))
        assert there is not None
        assert np.abs(np.subtract(there, shown)).max() <= 1
    with Image.open(pictures.piece_preview(workspace, placed, 500, with_mark=False)) as preview:
        assert reds(np.asarray(preview.convert("RGB")).astype(int)) is None
    assert piece_of(placed).drawn


def test_hidden_it_is_in_no_picture_and_undone_it_is_back(workspace, grey):
    job_id, at = grey
    lay(workspace, at, add(workspace))
    lay(workspace, at, library.every(workspace)[0], hidden=True)
    assert reds(made(workspace, job_id)) is None
    view = mark_view(workspace, load(workspace, at))
    assert (view.own, view.lies, view.mark and view.mark.hidden) == (True, None, True)
    history.walk(workspace, at, -1, NOW)
    assert reds(made(workspace, job_id)) is not None


def test_a_size_marks_all_its_pieces_and_each_may_differ(workspace, plain):
    mark = add(workspace)
    job_id, at = plain("4x5in@100 png", mark=mark.mark)
    placed_one = load(workspace, at)
    assert not mark_view(workspace, placed_one).own
    assert reds(made(workspace, job_id)) is not None
    # its own, hidden, given back to the size, the same as the size's
    lay(workspace, at, mark, hidden=True)
    assert reds(made(workspace, job_id)) is None
    history.keep(workspace, at, LayMark(kind="mark", mark=None), NOW)
    assert load(workspace, at).placement.mark is None
    lay(workspace, at, mark)
    assert load(workspace, at).placement.mark is None  # as its size has it
    kept = save_size.keep_of(workspace, at, SaveSizeBody(name="Marked"))
    assert kept.size.mark == mark.mark
    assert "the mark Quay at the bottom right" in kept.sentence


def test_of_two_pictures_that_is_laid_which_can_be_seen(workspace, plain):
    light, dark = flat("#f0f0f0"), flat("#101010")
    for first, second in ((light, dark), (dark, light)):
        mark = library.add_picture(
            workspace, f"Both {first[60]}{len(first)}{second[60]}", first, second, NOW
        )
        assert mark.words == "picture, 80 × 40 px, light and dark"
        for tone, seen in ((40, 240), (220, 16)):
            job_id, at = plain("100x80px png", tone, mark.mark)
            assert made(workspace, job_id)[74, 90, 0] == seen
            lies = mark_view(workspace, load(workspace, at)).lies
            assert lies is not None
            on_dark = mark.mark.on_dark
            assert on_dark is not None
            assert (lies.picture == on_dark.hash) == (seen == 240)
        library.change(workspace, mark.id, MarkChange(deleted=True), NOW)
    with pytest.raises(SizeError, match="differ in shape"):
        library.add_picture(workspace, "Odd", light, flat("#101010", 80, 60), NOW)


def test_a_calm_mark_avoids_what_was_marked_when_its_file_was_asked_for(workspace, grey):
    job_id, at = grey
    lay(workspace, at, add(workspace), place="calm", width="30%")
    first = hash_of(load(workspace, at))
    placed = load(workspace, at)
    zone = Zone(left=150, top=0, width=900, height=500)
    with transaction(workspace.sessions) as session:
        photos.set_keeps(session, placed.photo.id, Keeps(zones=(zone,)))
    assert hash_of(load(workspace, at)) != first
    there = reds(made(workspace, job_id))
    assert there is not None
    assert there[1] >= 250
    lies = mark_view(workspace, load(workspace, at)).lies
    assert lies is not None
    assert lies.place.startswith("bottom")
    laid = laid_here(workspace, load(workspace, at))
    assert laid is not None
    assert laid.keeps.zones == (zone,)


def test_what_does_not_fit_is_refused_by_a_hand_and_a_note_stops_it_else(workspace, grey):
    job_id, at = grey
    mark = add(workspace)
    with pytest.raises(SizeError, match="make it smaller"):
        lay(workspace, at, mark, width="90%", margin="20%")
    lay(workspace, at, mark, width="300px", margin="0%")
    history.keep(workspace, at, StartAgain(kind="start_again"), NOW)
    other_size.put(workspace, at, OtherSizeBody(text="100x80px"), NOW)
    note = figures_of(load(workspace, at))[1][0]
    assert (note.level, note.code) == ("stop", "mark-covers")
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 200)) as preview:
        assert preview.size == (100, 80)  # without it, and no error
    assert orders.deliver(workspace, job_id, None, NOW).files[0].state == "held"


def test_the_same_for_many_is_one_step_and_one_without_a_mark_is_told(workspace, grey):
    job_id, at = grey
    mark = add(workspace).mark
    left = batches.do(workspace, job_id, [at], OnMark(do="mark", hidden=True), NOW)
    assert (left.changed, left.refused[0].reason) == (0, "it has no mark")
    assert (
        batches.do(workspace, job_id, [at], OnMark(do="mark", mark=mark), NOW).what
        == "marked with Quay"
    )
    for hidden, what in ((True, "mark hidden"), (False, "mark shown")):
        done = batches.do(workspace, job_id, [at], OnMark(do="mark", hidden=hidden), NOW)
        assert (done.what, done.changed) == (what, 1)
        placed = load(workspace, at)
        assert (mark_on(placed.size, placed.placement) is None) == hidden
    assert batches.do(workspace, job_id, [at], OnMark(do="mark"), NOW).changed == 1
    assert load(workspace, at).placement.mark is None
    assert batches.undo(workspace, job_id, NOW).changed == 1
    assert load(workspace, at).placement.mark is not None


@pytest.mark.parametrize("font", ["slab", "sans"])
def test_a_line_of_text_is_kerned_and_scales(workspace, font):
    across = kerned("AVA", LETTER_FONTS[font], 1000)
    alone = [kerned(letter, LETTER_FONTS[font], 1000)[-1] for letter in "AVA"]
    assert across[-1] < sum(alone)  # A and V stand closer than their own widths
    assert across == sorted(across)
    body = LineBody(text="  Quay   studio ", font=font, colour="#C02020", on_dark=None)
    mark = library.add_line(workspace, body, LETTER_FONTS[font], NOW)
    assert (mark.name, mark.text, mark.words) == ("Quay studio", "Quay studio", "a line of text")
    assert mark.mark.on_dark is None
    with Image.open(library.shown(workspace, mark.mark.picture.hash, 800)) as drawn:
        pixels = np.asarray(drawn)
    inked = pixels[pixels[..., 3] == 255]
    assert len(inked) > 3000
    assert np.abs(inked[:, :3].astype(int) - (192, 32, 32)).max() <= 1
    rows = np.nonzero(pixels[..., 3].any(axis=1))[0]
    assert rows[0] > 0
    assert rows[-1] < pixels.shape[0] - 1


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("", "1 to 80 letters"),
        (" \t", "1 to 80 letters"),
        ("x" * 81, "1 to 80"),
        ("Жук", "no “Ж”"),
        ("snow ☃", "no “☃”"),
    ],
)
def test_a_line_that_can_not_be_written_is_refused(text, why):
    with pytest.raises(SizeError, match=why):
        line_of_text(text, LETTER_FONTS["slab"], "#000000")


def test_the_library_refuses_names_twice_and_brings_back_what_was_deleted(workspace, grey):
    job_id, at = grey
    first = add(workspace, "Quay")
    lay(workspace, at, first)
    for name, why in (("quay", "already"), ("", "1 to 60"), ("x" * 61, "1 to 60")):
        with pytest.raises(CoreError if why == "1 to 60" else RequestError, match=why):
            add(workspace, name, "#2020c0")
    gone = library.change(workspace, first.id, MarkChange(deleted=True), NOW)
    assert library.every(workspace) == []
    assert reds(made(workspace, job_id)) is not None  # a piece keeps the one it has
    second = add(workspace, "QUAY", "#2020c0")
    with pytest.raises(RequestError, match="already"):
        library.change(workspace, gone.id, MarkChange(deleted=False), NOW)
    library.change(workspace, second.id, MarkChange(name="Other", place="calm", opacity=40), NOW)
    library.change(workspace, gone.id, MarkChange(deleted=False), NOW)
    assert [
        (view.name, view.mark.place, view.mark.opacity) for view in library.every(workspace)
    ] == [
        ("Other", "calm", 40),
        ("Quay", "bottom-right", 100),
    ]
    with pytest.raises(NotFoundError):
        library.change(workspace, 99, MarkChange(name="x"), NOW)


def test_what_is_no_mark_is_refused_and_nothing_kept(workspace):
    for data, why in (
        (b"", "this is none"),
        (b"\xff\xd8\xff\xe0 a JPEG", "this is none"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "<script>"),
        (flat("#000000")[:60], "was not taken in"),
        (b"\x89PNG" + bytes(library.MOST_BYTES), "larger than 10 MB"),
    ):
        with pytest.raises(PhotoError, match=why):
            library.add_picture(workspace, "Wrong", data, None, NOW)
    assert library.every(workspace) == []


def test_a_mark_that_is_not_here_fails_its_file_alone_in_words(workspace, grey):
    job_id, at = grey
    mark = add(workspace)
    gone = mark.mark.picture.model_copy(update={"hash": "0" * 64})
    lay(workspace, at, mark, picture=gone)
    file = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert file.state == "failed"
    assert "mark is not here" in (file.reason or "")
    with pytest.raises(PhotoError, match="not here"):
        mark_view(workspace, load(workspace, at))
    with Image.open(pictures.piece_preview(workspace, load(workspace, at), 200)):
        pass  # drawn without it
    with pytest.raises(NotFoundError):
        library.shown(workspace, "0" * 64, 100)


def test_sizes_take_their_mark_along_in_both_files(workspace):
    marked = size("8x10in@300", name="Marked", mark=add(workspace).mark)
    for text in (write_json([marked]), write_csv([marked])):
        assert read_file(text) == (marked,)
    with pytest.raises(SizeError, match="give its file with --mark"):
        mark_called_for(LyingOptions(), marked, Keeps())


def test_a_picture_drawn_away_is_put_back_from_the_database(workspace, grey):
    job_id, at = grey
    lay(workspace, at, add(workspace))
    folder: Path = workspace.previews / "marks"
    mark_view(workspace, load(workspace, at))
    for file in folder.iterdir():
        file.unlink()
    assert reds(made(workspace, job_id)) is not None
