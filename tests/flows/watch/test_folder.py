"""A watched folder: made once, through restarts, kills, half files, full disks and replaced photos."""

from __future__ import annotations

import json
import shutil
import threading
import time
from pathlib import Path

import pytest
from PIL import Image

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import Outcome
from oak_ledge.flows.commands.tell import Way
from oak_ledge.flows.watch import beside, folder as watching
from oak_ledge.flows.watch.folder import Seen, Watched, made_of, watch_folder
from tests import samples
from tests.conftest import NOW
from tests.samples import there


def watched(tmp_path, *texts, **said):
    sizes = [read_size(text) for text in texts or ("300x200px",)]
    return Watched(tmp_path / "quay", tmp_path / "made", sizes, Way(), Limits(), **said)


@pytest.fixture
def quay(tmp_path):
    (tmp_path / "quay").mkdir()
    return samples.photo(tmp_path / "quay" / "quay.jpg", 900, 600)


def names(tmp_path):
    """Every file that was made, with its width and height."""
    found = {}
    for path in (tmp_path / "made").rglob("*"):
        if path.is_file():
            with Image.open(path) as image:
                found[path.relative_to(tmp_path / "made").as_posix()] = image.size
    return found


def test_what_was_made_stands_beside_and_nothing_is_made_twice(quay, tmp_path):
    asked = watched(tmp_path)
    first = there(made_of(asked, quay, NOW))
    told = json.loads((tmp_path / "quay" / "quay.jpg.made.json").read_text())
    assert [one["file"] for one in told["files"]] == [one.file for one in first.files]
    assert told["files"][0]["measured"]["width"] == 300
    assert told["photo_sha256"] == there(beside.read(quay)).photo_sha256
    again = there(made_of(asked, quay, NOW))
    assert again.files == []
    assert list(names(tmp_path).values()) == [(300, 200)]


def test_one_more_size_makes_that_one_and_a_photo_of_the_same_name_replaces_no_file(quay, tmp_path):
    made_of(watched(tmp_path), quay, NOW)
    more = watched(tmp_path, "300x200px", "150x100px")
    assert [one.measured.width for one in there(made_of(more, quay, NOW)).files] == [150]
    old = (tmp_path / "made" / "quay_300x200px.jpg").read_bytes()
    quay.write_bytes(samples.bytes_of(samples.grain(450, 300, seed=9), "JPEG"))
    assert len(there(made_of(more, quay, NOW)).files) == 2
    assert names(tmp_path) == {
        "quay_300x200px.jpg": (300, 200),
        "quay_300x200px-2.jpg": (300, 200),
        "quay_150x100px.jpg": (150, 100),
        "quay_150x100px-2.jpg": (150, 100),
    }
    assert (tmp_path / "made" / "quay_300x200px.jpg").read_bytes() == old
    assert len(there(beside.read(quay)).files) == 2, "only what is of the photo that is there"


def test_a_photo_that_cannot_be_made_says_why_and_is_taken_up_by_the_next_watch(quay, tmp_path):
    whole = quay.read_bytes()
    quay.write_bytes(b"no picture")
    failed = there(made_of(watched(tmp_path), quay, NOW)).failed
    assert there(beside.read(quay)).failed == failed
    assert failed[0].reason
    assert names(tmp_path) == {}
    quay.write_bytes(whole)
    assert there(made_of(watched(tmp_path), quay, NOW)).failed == []
    assert there(beside.read(quay)).failed == []


@pytest.mark.parametrize("at", range(1, 26))
def test_a_kill_between_any_two_steps_loses_nothing_and_makes_nothing_twice(
    quay, tmp_path, monkeypatch, at
):
    class Killed(BaseException):
        pass

    steps = 0

    def count():
        nonlocal steps
        steps += 1
        if steps == at:
            raise Killed

    def step(real):
        def called(*arguments, **named):
            count()
            answer = real(*arguments, **named)
            count()
            return answer

        return called

    for name in ("place_over", "place_as", "_placed"):
        monkeypatch.setattr(beside, name, step(getattr(beside, name)))
    monkeypatch.setattr(Path, "hardlink_to", step(Path.hardlink_to))
    monkeypatch.setattr(shutil, "rmtree", step(shutil.rmtree))
    asked = watched(tmp_path, "300x200px", "150x100px")
    killed = False
    try:
        made_of(asked, quay, NOW)
    except Killed:
        killed = True
    steps = 99
    made_of(asked, quay, NOW)
    made_of(asked, quay, NOW)
    assert names(tmp_path) == {"quay_300x200px.jpg": (300, 200), "quay_150x100px.jpg": (150, 100)}
    told = there(beside.read(quay))
    assert sorted(one.file for one in told.files) == sorted(
        str(path) for path in (tmp_path / "made").glob("*.jpg")
    )
    assert killed == (at < 25), "every step was tried"


def test_a_name_that_another_took_meanwhile_is_left_to_it(quay, tmp_path, monkeypatch):
    real = beside._free

    def taken(path):
        free = real(path)
        if free and path.endswith("quay_300x200px.jpg"):
            (tmp_path / "made" / "quay_300x200px.jpg").write_bytes(b"another's")
        return free

    monkeypatch.setattr(beside, "_free", taken)
    (made,) = there(made_of(watched(tmp_path), quay, NOW)).files
    assert made.file == str(tmp_path / "made" / "quay_300x200px-2.jpg")
    assert (tmp_path / "made" / "quay_300x200px.jpg").read_bytes() == b"another's"


def test_sub_folders_and_panels_go_where_make_puts_them(quay, tmp_path):
    made_of(watched(tmp_path, "300x100px panels 3", by="photo"), quay, NOW)
    assert len(names(tmp_path)) == 3
    assert {name.split("/")[0] for name in names(tmp_path)} == {"quay"}


def test_a_file_that_still_grows_is_waited_for_and_a_full_disk_is_tried_again(quay, tmp_path):
    seen, grown = Seen(), tmp_path / "grows.jpg"
    looks = []
    for content in (b"", b"a", b"ab", b"ab", b"ab", b"ab"):
        if not grown.exists() or grown.read_bytes() != content:
            grown.write_bytes(content)
        looks.append(seen.is_new(grown))
    assert looks == [False, False, False, False, True, True]
    seen.later(grown)
    assert not any(seen.is_new(grown) for _ in range(watching.AGAIN))
    assert any(seen.is_new(grown) for _ in range(5))


def test_photos_are_taken_as_they_arrive_until_it_is_told_to_stop(quay, tmp_path, monkeypatch):
    monkeypatch.setattr(watching, "LOOK", 30)
    outcomes: list[Outcome] = []
    stop, refused = threading.Event(), [True]
    real = beside.write

    def full_once(photo, told):
        if refused.pop() if refused else False:
            raise OSError(28, "No space left on device")
        real(photo, told)

    monkeypatch.setattr(watching, "AGAIN", 3)
    monkeypatch.setattr(beside, "write", full_once)
    arguments = (watched(tmp_path), lambda: NOW, stop, outcomes.append)
    thread = threading.Thread(target=watch_folder, args=arguments)
    thread.start()
    try:
        until(lambda: outcomes)
        samples.photo(tmp_path / "quay" / "pole.png", 600, 900)
        until(
            lambda: len(outcomes) == 3
        )  # not by its files: one of them may still be being written
    finally:
        stop.set()
        thread.join(20)
    assert not thread.is_alive()
    assert outcomes[0].failed[0].reason.startswith("The disk is full")
    made = {one.file for outcome in outcomes for one in outcome.files}
    assert len(made) == 2
    assert made == {str(tmp_path / "made" / name) for name in names(tmp_path)}


def until(true):
    end = time.monotonic() + 20
    while not true():
        assert time.monotonic() < end
        time.sleep(0.02)
