from __future__ import annotations

import pytest

from oak_ledge.core.errors import CoreError
from oak_ledge.core.gestures.beyond_photo import Continue, Ground
from oak_ledge.core.gestures.move import Move
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.flows.bench import fixes, history, view as bench
from oak_ledge.flows.bench.sizes import other_size, save_size
from oak_ledge.flows.bench.sizes.other_size import OtherSizeBody
from oak_ledge.flows.bench.sizes.save_size import SaveSizeBody
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.jobs import batches, jobs
from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from tests import samples
from tests.conftest import NOW

WORK = (
    Scale(kind="scale", factor=0.6),
    Angle(kind="angle", angle=4),
    Move(kind="move", dx=-60, dy=31),
)


def worked_on(workspace, at):
    for gesture in WORK:
        history.keep(workspace, at, gesture, NOW)
    return bench.view(workspace, at)


def put(workspace, at, **asked):
    return other_size.put(workspace, at, OtherSizeBody(**asked), NOW)


def test_each_shape_a_piece_has_had_comes_back_bit_for_bit(workspace, placed):
    _, at = placed("5x7in@100")
    first = worked_on(workspace, at)
    lay = {}
    for text in ("4:5", "1:1"):
        now = put(workspace, at, text=text, keep="pixels")
        assert now.own_size is not None
        assert (now.lying.angle, now.lying.cx, now.lying.cy) == (
            first.lying.angle, pytest.approx(first.lying.cx), pytest.approx(first.lying.cy),
        )  # fmt: skip
        assert now.tightness == pytest.approx(first.tightness, rel=0.01)
        lay[text] = now.lying
    back = put(workspace, at, job_size_id=bench.load(workspace, at).job_size_id)
    assert (back.lying, back.own_size) == (first.lying, None)
    again = put(workspace, at, text="4:5", keep="pixels")
    assert again.lying == lay["4:5"]
    assert history.walk(workspace, at, -1, NOW).lying == first.lying


def test_ground_and_finish_go_with_a_piece_to_another_size(workspace, placed):
    _, at = placed("8x10in@100")
    history.keep(workspace, at, Ground(kind="ground", beyond=True, fill="blur"), NOW)
    now = put(workspace, at, text="10x10in@100")
    assert now.own_size is not None
    assert (now.own_size.size.differ, now.ground) == ("extend", "blur")
    assert (
        put(workspace, at, text="100%").ground == "blur"
    )  # a free crop fixes no shape to extend to


def test_all_of_a_job_on_a_size_are_put_on_another_and_that_is_taken_back(
    workspace, bring, tmp_path
):
    files = [(f"{n}.jpg", samples.photo(tmp_path / f"{n}.jpg", 900 + n, 600)) for n in range(3)]
    photos = bring(*files).photos
    saved = sizes.add(workspace, SizeBody(text="6x6in@100", name="Square print"))
    job_id = jobs.start(workspace, "Quay", [photo.id for photo in photos], [], ["5x7in@100"], NOW)
    ids = [one.id for one in jobs.view(workspace, job_id).placements]
    lay = worked_on(workspace, ids[0]).lying
    found = other_size.choices(workspace, ids[0])
    assert (found.pieces, [one.here for one in found.job]) == (3, [True])
    assert saved.id in [one.size_id for one in found.library]
    put(workspace, ids[0], size_id=saved.id, for_all=True)
    views = [bench.view(workspace, one) for one in ids]
    assert {view.size.name for view in views} == {"Square print"}
    assert {view.own_size for view in views} == {None}
    assert views[0].tightness == pytest.approx(0.6, rel=0.02)
    used = other_size.choices(workspace, ids[0])
    assert (used.library[0].name, used.library[0].here) == ("Square print", True)
    put(workspace, ids[0], text="5x7in@100", for_all=True)
    assert bench.view(workspace, ids[0]).lying == lay
    batches.undo(workspace, job_id, NOW)
    assert bench.view(workspace, ids[0]).size.name == "Square print"


def test_what_can_not_be_is_refused_and_nothing_changes(workspace, placed):
    _, at = placed("5x7in@100")
    before = bench.view(workspace, at)
    for asked, problem in (
        ({"text": "window 5000x5000px"}, CoreError),
        ({"text": "8 by nonsense"}, CoreError),
        ({"size_id": 4711}, NotFoundError),
        ({"job_size_id": 4711}, RequestError),
        ({"text": "1:1", "step": 99}, ChangedMeanwhileError),
    ):
        with pytest.raises(problem):
            put(workspace, at, **asked)
    with pytest.raises(ValueError, match="Say one of"):
        OtherSizeBody(text="1:1", size_id=1)
    assert bench.view(workspace, at) == before


def test_a_size_is_saved_under_a_name_and_in_a_group(workspace, placed):
    _, at = placed("4:3")
    kept = save_size.keep_of(workspace, at, SaveSizeBody(name="Slides", group="screen"))
    assert (kept.name, kept.size.group, kept.label) == ("Slides", "screen", "1064 × 798 px")
    assert save_size.keep_of(workspace, at, SaveSizeBody(name="Slides")).name == "Slides 2"


@pytest.mark.parametrize(
    ("on", "ratio", "as_print", "pixels", "written"),
    [
        ("5x7in@100", "1:1", "7 × 7 in at 100 ppi", "800 × 800 px", "7x7in@100"),
        ("20x30cm@100", "16:9", "30 × 16.875 cm at 100 ppi", "1200 × 675 px", "30x16.875cm@100"),
        ("long 12in@90", "3:1", "12 × 4 in at 90 ppi", "1200 × 400 px", "12x4in@90"),
        ("short 4in@90", "2:1", "8 × 4 in at 90 ppi", "1200 × 600 px", "8x4in@90"),
        ("300x200px", "1:1", None, "800 × 800 px", None),
        ("100%", "1:1", None, "800 × 800 px", None),
    ],
)
def test_a_ratio_on_a_print_asks_which_stays(
    workspace, placed, on, ratio, as_print, pixels, written
):
    _, at = placed(on)
    choice = other_size.ratio_choice(workspace, at, ratio)
    assert (choice.as_print, choice.as_pixels) == (as_print, pixels)
    if as_print is not None:
        with pytest.raises(RequestError, match="Say what stays"):
            put(workspace, at, text=ratio)
        own = put(workspace, at, text=ratio, keep="print").own_size
        assert own is not None
        assert own.text == written
    own = put(workspace, at, text=ratio, keep="pixels").own_size
    assert own is not None
    assert own.text == ratio


def test_a_freed_crop_stays_where_it_is_with_its_ground(workspace, placed):
    _, at = placed("16:9 extend", 1200, 1200)
    history.keep(workspace, at, Continue(kind="continue"), NOW)
    before = bench.load(workspace, at)
    freed = put(workspace, at, text="100%")
    after = bench.load(workspace, at)
    assert after.lying.crop == before.lying.crop
    assert after.placement.continued == before.placement.continued
    assert (after.lying.size.differ, after.lying.size.ground) == ("extend", "continued")
    assert "ground-unmade" not in {note.code for note in freed.notes}
    _, cropped = placed("8x10in@100")
    worked_on(workspace, cropped)
    history.keep(workspace, cropped, Angle(kind="angle", angle=0), NOW)
    crop = bench.load(workspace, cropped).lying.crop
    put(workspace, cropped, text="100%")
    assert bench.load(workspace, cropped).lying.crop.box == pytest.approx(crop.box, abs=1)


def test_a_piece_put_on_a_size_that_extends_is_whole_wherever_it_lay(workspace, placed):
    _, at = placed("4x5in@100")
    history.keep(workspace, at, Scale(kind="scale", factor=0.6), NOW)
    history.keep(workspace, at, Move(kind="move", dx=-200, dy=-150), NOW)
    view = put(workspace, at, text="256x128px extend")
    assert (view.trimmed, view.lying.cy) == (0, 400)
    slid = history.keep(workspace, at, Move(kind="move", dx=0, dy=-90), NOW)
    note = next(note for note in slid.notes if note.code == "cut-by-extend")
    assert (note.level, "11 % bottom" in note.text) == ("look", True)
    mended = fixes.fix(workspace, at, "cut-by-extend", NOW)
    assert "cut-by-extend" not in {note.code for note in mended.notes}
    with pytest.raises(RequestError, match="nothing to fix"):
        fixes.fix(workspace, at, "cut-by-extend", NOW)
