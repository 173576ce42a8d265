from __future__ import annotations

import stat
from dataclasses import replace

import pytest

from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import label
from oak_ledge.flows.workspace import recover
from oak_ledge.store.photos import original
from tests import samples
from tests.conftest import NOW, open_at


def test_of_a_batch_the_good_come_in_and_the_bad_get_their_reason(workspace, bring, tmp_path):
    good = samples.photo(tmp_path / "good.jpg", 300, 200, dpi=(300, 300))
    wrong = samples.wrong_files()
    answer = bring(("good.jpg", good), *((name, data) for name, (data, _) in wrong.items()))
    assert [photo.name for photo in answer.photos] == ["good.jpg"]
    assert {one.name: one.reason for one in answer.refused}.keys() == wrong.keys()
    for one in answer.refused:
        assert (
            wrong[one.name][1] in one.reason.replace("The", "the")
            or wrong[one.name][1] in one.reason
        )
        assert one.reason.endswith(".")
        assert one.reason[0].isupper()
    seen = answer.photos[0]
    assert (seen.shape, seen.physical) == ("3:2", "1 × 0.7 in at 300 ppi")
    left = [path for path in workspace.originals.rglob("*") if path.is_file()]
    assert left == [original(workspace.originals, photos.find_photo(workspace, seen.id))]


def test_an_original_is_stored_once_and_read_only_and_never_altered(workspace, bring, tmp_path):
    path = samples.photo(tmp_path / "a.jpg")
    first = bring(("a.jpg", path)).photos[0]
    again = bring(("another-name.jpg", path)).photos[0]
    assert first.id == again.id
    kept = original(workspace.originals, photos.find_photo(workspace, first.id))
    assert kept.read_bytes() == path.read_bytes()
    assert stat.S_IMODE(kept.stat().st_mode) == 0o444


def test_a_lost_original_comes_back_when_brought_in_again(workspace, bring, tmp_path):
    path = samples.photo(tmp_path / "a.jpg")
    first = bring(("a.jpg", path)).photos[0]
    kept = original(workspace.originals, photos.find_photo(workspace, first.id))
    kept.unlink()
    assert bring(("a.jpg", path)).photos[0].id == first.id
    assert kept.read_bytes() == path.read_bytes()


def test_a_file_larger_than_allowed_is_refused_before_it_is_looked_at(workspace, bring, tmp_path):
    small = replace(workspace, limits=Limits(upload_bytes=1000))
    with samples.photo(tmp_path / "a.png", 300, 300).open("rb") as file:
        answer = photos.take_in(small, [photos.Incoming("a.png", file)], NOW)
    assert answer.photos == []
    assert answer.refused[0].reason == "It has more than 1 kB, the most that is taken."


def test_what_a_kill_left_half_received_is_gone_after_the_next_start(workspace):
    workspace.originals.mkdir(exist_ok=True)
    (workspace.originals / "1-abc.part").write_bytes(b"half a photo")
    again = open_at(workspace.data)
    recover(again)
    assert list(workspace.originals.iterdir()) == []
    again.sessions.close()


@pytest.mark.parametrize(
    ("given", "shown"),
    [
        ("../../etc/passwd.jpg", "passwd.jpg"),
        ("C:\\quay\\a.jpg", "a.jpg"),
        ("a\x00b\n\u202ec.jpg", "abc.jpg"),
        ("", "photo"),
        ("x" * 400, "x" * 120),
    ],
)
def test_a_name_from_outside_is_only_a_label(given, shown):
    assert label(given) == shown


def test_what_the_orientation_tag_did_is_said(bring, tmp_path):
    path = samples.oriented(tmp_path / "a.jpg", samples.grain(60, 40), 6)
    photo = bring(("a.jpg", path)).photos[0]
    assert photo.facts.upright == (60, 40)
    assert photo.remarks == ("Shown turned a quarter clockwise, as its orientation tag says.",)
