from __future__ import annotations

import re

import pytest

from oak_ledge.core.errors import FileError, SizeError
from oak_ledge.core.gestures.pull import Pull
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.placements.suggestion import suggest
from oak_ledge.core.sizes.text.write import write_size
from oak_ledge.core.sizes.variants import twin_of
from oak_ledge.flows.bench import fixes, history, view as bench
from oak_ledge.flows.bench.sizes import save_size
from oak_ledge.flows.bench.sizes.save_size import SaveSizeBody
from oak_ledge.flows.delivery import orders
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError, RequestError
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.library import entry, sizes
from oak_ledge.flows.library.views import SizeBody, SizeChange
from oak_ledge.flows.pieces.figures import figures
from tests import samples
from tests.conftest import NOW
from tests.samples import facts, size


def names(workspace):
    return [one.name for one in sizes.every(workspace)]


def test_two_people_at_one_size_the_second_is_told_and_nothing_is_lost(workspace):
    kept = sizes.add(workspace, SizeBody(text="8x10in@300", name="Wall"))
    first = sizes.change(workspace, kept.id, SizeChange(version=1, text="8x12in@300"))
    assert (first.version, first.text) == (2, "8x12in@300")
    with pytest.raises(ChangedMeanwhileError, match="“Wall” was changed meanwhile"):
        sizes.change(workspace, kept.id, SizeChange(version=1, name="Mine"))
    assert sizes.view(workspace, kept.id) == first


def test_what_is_left_out_of_a_change_stays(workspace):
    asked = SizeBody(
        text="8x10in@300", name="Wall", group="print", receiver={"low": 240, "high": 300}
    )
    kept = sizes.add(workspace, asked)
    named = sizes.change(workspace, kept.id, SizeChange(version=1, name="Hall"))
    assert (named.name, named.text, named.group) == ("Hall", "8x10in@300", "print")
    assert named.size.receiver == kept.size.receiver
    without = sizes.change(workspace, kept.id, SizeChange(version=2, receiver=None))
    assert without.size.receiver is None
    with pytest.raises(ValueError, match="the height is missing"):
        sizes.change(workspace, kept.id, SizeChange(version=3, text="8x"))
    assert sizes.view(workspace, kept.id) == without


def test_a_deleted_size_says_what_used_it_and_comes_back(workspace, bring, tmp_path):
    kept = sizes.add(workspace, SizeBody(text="60x40px", name="Small"))
    photo = bring(("a.png", samples.photo(tmp_path / "a.png"))).photos[0]
    job_id = jobs.start(workspace, "Evening", [photo.id], [kept.id], [], NOW)
    gone = sizes.delete(workspace, kept.id, NOW)
    assert gone.used_in == ["Evening"]
    assert names(workspace) == []
    assert jobs.view(workspace, job_id).placements[0].size_name == "Small"
    with pytest.raises(NotFoundError):
        sizes.view(workspace, kept.id)
    sizes.add_starters(workspace)  # a library emptied by hand stays empty
    assert names(workspace) == []
    assert sizes.restore(workspace, kept.id).name == "Small"
    assert names(workspace) == ["Small"]
    with pytest.raises(NotFoundError):
        sizes.restore(workspace, 99)


def noted(workspace, at):
    return {note.code: note for note in bench.view(workspace, at).notes}


def test_a_changed_size_is_offered_to_the_job_and_never_taken_silently(workspace, bring, tmp_path):
    kept = sizes.add(workspace, SizeBody(text="90x60px", name="Small"))
    photo = bring(("a.png", samples.photo(tmp_path / "a.png"))).photos[0]
    job_id = jobs.start(workspace, "Evening", [photo.id], [kept.id], [], NOW)
    at = jobs.view(workspace, job_id).placements[0].id
    assert "size-changed" not in noted(workspace, at)
    sizes.change(workspace, kept.id, SizeChange(version=1, text="80x80px"))
    note = noted(workspace, at)["size-changed"]
    assert (note.level, note.fix) == ("look", "80x80px")
    assert "it was 90x60px, now it is 80x80px" in note.text
    history.keep(workspace, at, Scale(kind="scale", factor=0.8), NOW)
    taken = fixes.fix(workspace, at, "size-changed", NOW)
    assert (taken.asked.width, taken.asked.height) == (80, 80)
    assert (taken.state, taken.can_undo) == ("placed", True)
    assert taken.kept == pytest.approx(0.64, abs=0.01)  # as tight as it was
    assert "size-changed" not in noted(workspace, at)
    sizes.delete(workspace, kept.id, NOW)
    assert "size-changed" not in noted(workspace, at)


def test_a_slipped_unit_is_fixed_in_one_step_for_all_photos_on_it(workspace, bring, tmp_path):
    kept = sizes.add(workspace, SizeBody(text="6x8px", name="Oops", group="print"))
    paths = [samples.photo(tmp_path / f"{n}.png", 900 + n, 600) for n in range(2)]
    answer = bring(*((path.name, path) for path in paths))
    job_id = jobs.start(workspace, "x", [p.id for p in answer.photos], [kept.id], [], NOW)
    first, second = (piece.id for piece in jobs.view(workspace, job_id).placements)
    assert noted(workspace, first)["unit-slip"].way == "Make it 6 × 8 in"
    fixed = fixes.fix(workspace, first, "unit-slip", NOW)
    assert fixed.size.text == "6x8in@300"
    assert fixed.size.size.group == "print"
    assert bench.view(workspace, second).asked.width == 2400
    assert "size-changed" not in noted(workspace, first)  # the job's own size from now on
    assert sizes.view(workspace, kept.id).text == "6x8px"
    for code in ("unit-slip", "size-changed", "trimmed"):
        with pytest.raises(RequestError, match="nothing to fix"):
            fixes.fix(workspace, first, code, NOW)


def test_a_jobs_copy_stays_as_it_was_taken(workspace, bring, tmp_path):
    kept = sizes.add(workspace, SizeBody(text="60x40px", name="Small"))
    photo = bring(("a.png", samples.photo(tmp_path / "a.png"))).photos[0]
    job_id = jobs.start(workspace, "Evening", [photo.id], [kept.id], [], NOW)
    sizes.change(workspace, kept.id, SizeChange(version=1, text="90x90px"))
    piece = jobs.view(workspace, job_id).placements[0]
    assert (piece.width, piece.height) == (60, 40)


@pytest.mark.parametrize(
    ("text", "twin"),
    [
        ("8x10in@300", "10x8in@300"),
        ("3:1", "1:3"),
        ("within 20x30cm@240", "within 30x20cm@240"),
        ("window 60x40px", "window 40x60px"),
        ("long 900px", "long 900px"),
        ("width 18cm@300", "height 18cm@300"),
        ("8x10in@300 panels 3", "10x8in@300 panels 1x3"),
        ("8x10in@300 panels 2x3 overlap 5mm", "10x8in@300 panels 3x2 overlap 5mm"),
    ],
)
def test_the_twin_of_a_size_is_the_other_way_round(text, twin):
    assert write_size(twin_of(size(text))) == twin
    assert twin_of(twin_of(size(text))) == size(text)


def test_copies_and_twins_get_names_of_their_own(workspace):
    kept = sizes.add(workspace, SizeBody(text="8x10in@300"))
    assert kept.name == "8 × 10 in"
    for _ in range(2):
        sizes.copy(workspace, kept.id, twin=False)
    assert sizes.copy(workspace, kept.id, twin=True).text == "10x8in@300"
    assert names(workspace) == [
        "8 × 10 in",
        "8 × 10 in, copy",
        "8 × 10 in, copy 2",
        "8 × 10 in, twin",
    ]
    free = sizes.add(workspace, SizeBody(text="photo"))
    with pytest.raises(SizeError, match="no other way round"):
        sizes.copy(workspace, free.id, twin=True)


def test_a_size_is_kept_from_a_placement_a_free_crop_as_its_pixels(workspace, placed):
    _, at = placed("4x5in@100")
    assert save_size.keep_of(workspace, at, SaveSizeBody()).text == "4x5in@100"
    assert save_size.keep_of(workspace, at, SaveSizeBody()).name == "4 × 5 in 2"


def test_a_free_crop_is_kept_as_its_pixels(workspace, placed):
    _, at = placed("100%")
    history.keep(workspace, at, Pull(kind="pull", at="se", x=700, y=500), NOW)
    assert save_size.keep_of(workspace, at, SaveSizeBody()).text == "700x500px"


def test_taking_in_reports_same_new_and_renamed_before_anything_is_kept(workspace):
    for text, name in (("8x10in@300", "Wall"), ("100%", "Free")):
        sizes.add(workspace, SizeBody(text=text, name=name))
    file = sizes.export(workspace, "json").replace('"100"', '"40"')
    file = file.replace(
        '"sizes": [', '"sizes": [' + size("3:2", name="Strip").model_dump_json() + ","
    )
    before = names(workspace)
    answer = sizes.take_in(workspace, file, only_tell=True)
    assert (answer.added, answer.same, answer.renamed) == (
        ["Strip"],
        ["Wall"],
        [("Free", "Free 2")],
    )
    assert names(workspace) == before
    assert sizes.take_in(workspace, file) == answer
    assert names(workspace) == ["Wall", "Free", "Strip", "Free 2"]
    again = sizes.take_in(workspace, sizes.export(workspace, "csv"))
    assert again.same == names(workspace)
    with pytest.raises(SizeError):
        sizes.take_in(workspace, file[:-30])
    assert len(names(workspace)) == 4


@pytest.mark.parametrize("extent", [(6000, 4000), (4000, 6000)])
def test_every_number_of_the_library_is_that_of_the_tally(workspace, extent):
    sizes.add_starters(workspace)
    seen = 0
    for view in sizes.every(workspace):
        photo = facts(*extent)
        answer = figures(view.size, photo, suggest(view.size, photo.upright))
        if view.outline is None:
            assert view.pixels == "as the crop has" or view.size.shape.kind in ("edge", "within")
            continue
        seen += 1
        pixels = [int(edge) for edge in re.findall(r"\d+", view.pixels)]
        assert sorted(pixels) == sorted((answer.asked.width, answer.asked.height)), view.name
        if view.outline_unit == "in":
            assert answer.printed is not None
            assert sorted(view.outline) == pytest.approx(sorted(answer.printed))
            larger = view.beyond or view.outline
            exact = [edge / float(view.size.ppi or 1) for edge in sorted(pixels)]
            assert exact == pytest.approx(sorted(larger), abs=0.5 / float(view.size.ppi or 1))
        assert (view.seen is None) == (answer.seen is None)
        if view.seen and answer.seen:
            assert sorted(view.seen) == pytest.approx(sorted(answer.seen))
    assert seen >= 30


def test_what_a_form_says_is_put_over_the_text_and_what_it_empties_goes(workspace):
    kept = sizes.add(workspace, SizeBody(text="8x10in@300", bleed="3mm", frame={"lip": "6mm"}))
    assert kept.pixels == "2471 × 3071 px"
    said = SizeChange(version=1, bleed=None, differ="stretch", ground="black")
    changed = sizes.change(workspace, kept.id, said)
    assert (changed.pixels, changed.text) == (
        "2400 × 3000 px",
        "8x10in@300 stretch on black lip 6mm",
    )
    assert changed.size.frame is not None
    assert changed.size.ground == "#000000"
    again = sizes.change(workspace, kept.id, SizeChange(version=2, text="8x12in@300", frame=None))
    assert (again.text, again.seen) == ("8x12in@300", None)
    with pytest.raises(SizeError, match="go with a print"):
        sizes.change(workspace, kept.id, SizeChange(version=3, text="3:1", wrap="4cm"))
    assert sizes.view(workspace, kept.id).version == 3


def test_a_name_pattern_shows_a_name_and_one_that_cannot_be_is_refused(workspace):
    asked = SizeBody(text="8x10in@300", name="Hall", file={"pattern": "{number}_{photo}_{size}"})
    assert entry.read(workspace, asked).file_name == "001_quay-at-dusk_Hall.jpg"
    kept = sizes.add(workspace, asked)
    for wrong, said in [("{who}", "{who}, which is unknown"), ("{photo", "an unmatched brace")]:
        change = SizeChange(version=1, file={"pattern": wrong})
        with pytest.raises(FileError, match=said):
            entry.read(workspace, SizeBody(text="8x10in@300", file={"pattern": wrong}))
        with pytest.raises(FileError, match=said):
            sizes.change(workspace, kept.id, change)
    assert sizes.view(workspace, kept.id).version == 1


def test_a_framed_sizes_twin_is_framed_the_other_way_round(workspace):
    frame = {"opening": "16x20in", "mat": {"outer": "16x20in", "window": "7x9in"}}
    kept = sizes.add(workspace, SizeBody(text="8x10in@300", name="Hall", frame=frame))
    twin = sizes.copy(workspace, kept.id, twin=True)
    assert (twin.shape_text, twin.seen) == ("10x8in@300", (9, 7))
    assert sorted(twin.framed or ()) == sorted(kept.framed or (1,))
    assert twin_of(twin.size) == kept.size.model_copy(update={"name": twin.name})


PATH = 'outline path "M0.5 0L1 1L0 1Z"'


@pytest.mark.parametrize(
    ("text", "twin"),
    [
        ("8x10in@300 outline ellipse", "10x8in@300 outline ellipse"),
        ("600x400px outline rounded 12.5%", "400x600px outline rounded 12.5%"),
        ("8x10in@300 extend outline rounded 0.25in", "10x8in@300 extend outline rounded 0.25in"),
        (f"8x10in@300 {PATH}", f"10x8in@300 {PATH}"),
    ],
)
def test_a_size_with_an_outline_is_kept_changed_copied_and_exchanged(workspace, text, twin):
    kept = sizes.add(workspace, SizeBody(text=text, name="Sign"))
    assert (kept.text, kept.size.file.format) == (text, "png")
    assert kept.edge.startswith("M")
    turned = sizes.copy(workspace, kept.id, twin=True)
    assert turned.text == twin
    assert turned.size.file == kept.size.file
    for kind in ("json", "csv"):
        answer = sizes.take_in(workspace, sizes.export(workspace, kind), only_tell=True)
        assert answer.same == ["Sign", turned.name]
    renamed = SizeChange(version=kept.version, name="Door")
    kept = sizes.change(workspace, kept.id, renamed)
    assert (kept.name, kept.text) == ("Door", text)
    plain = text.split(" outline")[0]
    bare = sizes.change(workspace, kept.id, SizeChange(version=kept.version, text=plain))
    assert (bare.text, bare.edge, bare.size.outline) == (plain, "", None)
    wrong = SizeChange(version=bare.version, text=text, wrap="3mm")
    with pytest.raises(SizeError, match=r"straight edges|go with a print"):
        sizes.change(workspace, kept.id, wrong)
    assert sizes.view(workspace, kept.id) == bare
    print_ = sizes.add(workspace, SizeBody(text=plain))
    assert print_.size.file.format == "jpeg"
    again = sizes.change(workspace, print_.id, SizeChange(version=1, text=text))
    assert (again.text, again.size.file.format) == (text, "png")


def test_a_job_makes_pieces_with_outlines_and_makes_anew_what_changed(workspace, bring, tmp_path):
    photo = bring(("a.jpg", samples.photo(tmp_path / "a.jpg", 600, 500))).photos[0]
    job_id = jobs.start(workspace, "", [photo.id], [], ["400x400px outline circle"], NOW)
    made = orders.deliver(workspace, job_id, None, NOW).files[0]
    assert (made.state, made.name) == ("made", "a_400x400px-outline-circle.png")
    assert all(line.same is not False for line in made.proof)
    with pytest.raises(RequestError, match="Nothing changed"):
        orders.deliver(workspace, job_id, None, NOW, only_changed=True)
