"""A watched folder: made once, through restarts, kills, half files, full disks and replaced photos."""

from __future__ import annotations

import json
import os
import shutil
import threading
import time
from pathlib import Path

import pytest
from PIL import Image

from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.make import Outcome
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.watch import beside, folder as watching, journal
from oak_ledge.flows.watch.folder import Seen, Watched, seal_of, watch_folder
from oak_ledge.flows.watch.seal import seal_path
from tests import samples
from tests.conftest import NOW
from tests.samples import there
from tests.waiting import LIMIT, until


def watched(tmp_path, *texts, **said):
    sizes = [read_size(text) for text in texts or ("300x200px",)]
    return Watched(tmp_path / "quay", tmp_path / "made", sizes, LyingOptions(), Limits(), **said)


@pytest.fixture
def quay(tmp_path):
    (tmp_path / "quay").mkdir()
    return samples.photo(tmp_path / "quay" / "quay.jpg", 900, 600)


def made_of(asked, photo, now):
    return watching.made_of(asked, photo, now, seal_of(asked))


def read(asked, photo):
    return there(beside.read(photo, seal_of(asked)))


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
    assert told["photo_sha256"] == read(watched(tmp_path), quay).photo_sha256
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
    assert len(read(watched(tmp_path), quay).files) == 2, "only what is of the photo that is there"


def test_a_photo_that_cannot_be_made_says_why_and_is_taken_up_by_the_next_watch(quay, tmp_path):
    whole = quay.read_bytes()
    quay.write_bytes(b"no picture")
    failed = there(made_of(watched(tmp_path), quay, NOW)).failed
    assert read(watched(tmp_path), quay).failed == failed
    assert failed[0].reason
    assert names(tmp_path) == {}
    quay.write_bytes(whole)
    assert there(made_of(watched(tmp_path), quay, NOW)).failed == []
    assert read(watched(tmp_path), quay).failed == []


@pytest.mark.parametrize("at", range(1, 46))
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

    for module, name in (
        (beside, "place_over"),
        *((journal, f) for f in ("place_over", "place_as", "_placed")),
    ):
        monkeypatch.setattr(module, name, step(getattr(module, name)))
    monkeypatch.setattr(Path, "unlink", step(Path.unlink))
    monkeypatch.setattr(Path, "hardlink_to", step(Path.hardlink_to))
    monkeypatch.setattr(shutil, "rmtree", step(shutil.rmtree))
    asked = watched(tmp_path, "300x200px", "150x100px")
    steps = 99
    seal_of(asked)
    steps = 0
    killed = False
    try:
        made_of(asked, quay, NOW)
    except Killed:
        killed = True
    steps = 99
    made_of(asked, quay, NOW)
    made_of(asked, quay, NOW)
    assert names(tmp_path) == {"quay_300x200px.jpg": (300, 200), "quay_150x100px.jpg": (150, 100)}
    told = read(watched(tmp_path), quay)
    assert sorted(one.file for one in told.files) == sorted(
        str(path) for path in (tmp_path / "made").glob("*.jpg")
    )
    assert killed == (at < 45), "every step was tried"


def test_a_name_that_another_took_meanwhile_is_left_to_it(quay, tmp_path, monkeypatch):
    real = journal._is_free

    def taken(path):
        free = real(path)
        if free and path.name == "quay_300x200px.jpg":
            (tmp_path / "made" / "quay_300x200px.jpg").write_bytes(b"another's")
        return free

    monkeypatch.setattr(journal, "_is_free", taken)
    (made,) = there(made_of(watched(tmp_path), quay, NOW)).files
    assert made.file == str(tmp_path / "made" / "quay_300x200px-2.jpg")
    assert (tmp_path / "made" / "quay_300x200px.jpg").read_bytes() == b"another's"


def test_sub_folders_and_panels_go_where_make_puts_them(quay, tmp_path):
    made_of(watched(tmp_path, "300x100px panels 3", by="photo"), quay, NOW)
    assert len(names(tmp_path)) == 3
    assert {name.split("/")[0] for name in names(tmp_path)} == {"quay"}


def test_a_file_that_still_grows_is_waited_for_and_a_full_disk_is_tried_again(quay, tmp_path):
    seen, grown = Seen(), tmp_path / "grows.jpg"
    looks = [(0.0, b""), (1.0, b"a"), (2.9, b"ab"), (3.0, b"ab"), (4.8, b"ab"), (4.9, b"ab")]
    looks += [(4.91 + look / 100, b"ab") for look in range(3)]  # many a second say no more than one
    found = []
    for now, content in looks:
        if not grown.exists() or grown.read_bytes() != content:
            grown.write_bytes(content)
        found.append(seen.is_new(grown, now))
    assert found == [False] * 5 + [True] * 4
    seen.later(grown, 5.0)
    assert not seen.is_new(grown, 64.9)
    assert seen.is_new(grown, 65.1)


def test_photos_are_taken_as_they_arrive_until_it_is_told_to_stop(quay, tmp_path, monkeypatch):
    monkeypatch.setattr(watching, "LOOK", 30)
    outcomes: list[Outcome] = []
    stop, refused = threading.Event(), [True]
    real = beside.write

    def full_once(*arguments):
        if refused.pop() if refused else False:
            raise OSError(28, "No space left on device")
        real(*arguments)

    monkeypatch.setattr(watching, "AGAIN", 0.3)
    monkeypatch.setattr(watching, "UNCHANGED_FOR", 0.1)
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
        thread.join(LIMIT)
    assert not thread.is_alive()
    assert outcomes[0].failed[0].reason.startswith("The disk is full")
    made = {one.file for outcome in outcomes for one in outcome.files}
    assert len(made) == 2
    assert made == {str(tmp_path / "made" / name) for name in names(tmp_path)}


def at_once(monkeypatch, *watches, done):
    """Follow folders at the same time, as processes of their own would, until it is done."""
    monkeypatch.setattr(watching, "LOOK", 20)
    stop, failed = threading.Event(), []
    threads = [
        threading.Thread(
            target=watch_folder,
            args=(asked, lambda: NOW, stop, lambda outcome: failed.extend(outcome.failed)),
        )
        for asked in watches
    ]
    for thread in threads:
        thread.start()
    try:
        until(done)
    finally:
        stop.set()
        for thread in threads:
            thread.join(LIMIT)
    return failed


def test_two_watches_with_one_folder_for_files_lose_none(tmp_path, monkeypatch):
    monkeypatch.setattr(watching, "UNCHANGED_FOR", 0.05)
    watches = []
    for name in ("quay", "pole"):
        (tmp_path / name).mkdir()
        for number in range(8):
            samples.photo(tmp_path / name / f"{number}.jpg", 300 + number, 200)
        watches.append(
            Watched(
                tmp_path / name,
                tmp_path / "made",
                [read_size("100x80px")],
                LyingOptions(),
                Limits(),
            )
        )
    notes = lambda: list(tmp_path.glob("*/*.made.json"))  # noqa: E731
    assert at_once(monkeypatch, *watches, done=lambda: len(notes()) == 16) == []
    told = [
        Path(file["file"]) for note in notes() for file in json.loads(note.read_text())["files"]
    ]
    assert len(set(told)) == 16
    assert all(path.is_file() for path in told)


def test_a_photo_that_grows_while_others_arrive_is_made_once_and_whole(quay, tmp_path, monkeypatch):
    whole = samples.bytes_of(samples.grain(300, 200, seed=3), "TIFF")
    monkeypatch.setattr(watching, "UNCHANGED_FOR", 0.4)
    outcomes = []

    def arrive():
        for part in range(12):
            with (tmp_path / "quay" / "scan.tif").open("ab") as file:
                file.write(whole[len(whole) * part // 12 : len(whole) * (part + 1) // 12])
            for other in range(3):
                name = f"{part}-{other}.jpg"
                (tmp_path / "quay" / name).write_bytes(quay.read_bytes())
                time.sleep(0.05)

    def took(asked, photo, *rest):
        outcomes.append((photo.name, photo.stat().st_size))
        return Outcome(files=[], failed=[])

    arriving = threading.Thread(target=arrive)
    arriving.start()
    monkeypatch.setattr(
        watching,
        "made_of",
        took,
    )
    at_once(monkeypatch, watched(tmp_path), done=lambda: len(outcomes) == 38)
    arriving.join()
    assert [size for name, size in outcomes if name == "scan.tif"] == [len(whole)]


def test_a_photo_that_is_cut_short_says_so_and_is_made_once_it_is_whole(quay, tmp_path):
    whole = samples.bytes_of(samples.grain(300, 200), "TIFF")
    scan = quay.with_name("scan.tif")
    scan.write_bytes(whole[: len(whole) // 2])
    (failed,) = there(made_of(watched(tmp_path), scan, NOW)).failed
    assert "cut short" in failed.reason
    scan.write_bytes(whole)
    assert len(there(made_of(watched(tmp_path), scan, NOW)).files) == 1


FORGED = {
    "a move out of it": lambda note, away: note | {"moves": [{"made": str(away), "place": str(away) + "2"}]},
    "all is made": lambda note, away: note | {"asked": ["x"], "seal": "0" * 64},
    "no seal": lambda note, away: {key: value for key, value in note.items() if key != "seal"},
    "a hash of another": lambda note, away: note | {"photo_sha256": "0" * 64},
    "no object": lambda note, away: [note],
}  # fmt: skip


@pytest.mark.parametrize("forged", FORGED)
def test_a_note_that_was_not_written_by_this_watch_is_not_believed(quay, tmp_path, forged):
    asked, away = watched(tmp_path), tmp_path / "away.jpg"
    away.write_bytes(b"the user's own")
    made_of(asked, quay, NOW)
    note = beside.path_of(quay)
    note.write_text(json.dumps(FORGED[forged](json.loads(note.read_text()), away)))
    assert beside.read(quay, seal_of(asked)) is None
    assert len(there(made_of(asked, quay, NOW)).files) == 1
    assert away.read_bytes() == b"the user's own"
    assert sorted(path.name for path in tmp_path.iterdir()) == ["away.jpg", "made", "quay"]


def test_a_pipe_a_link_or_a_flood_in_the_place_of_a_note_is_none(quay, tmp_path):
    asked = watched(tmp_path)
    note = beside.path_of(quay)
    for put in (
        lambda: os.mkfifo(note),
        lambda: note.symlink_to("/dev/zero"),
        lambda: note.write_bytes(b"[" * 3_000_000),
        lambda: note.write_bytes(b" " * 5_000_000),
    ):
        note.unlink(missing_ok=True)
        put()
        assert beside.read_note(note, None) is None
    assert len(there(made_of(asked, quay, NOW)).files) == 1
    assert note.is_file()


@pytest.mark.parametrize(
    "name", ["q" * 251 + ".jpg", "ü" * 125 + ".jpg", os.fsdecode(b"quay-\xff\xfe.jpg")]
)
def test_a_photo_of_any_name_is_made_once(quay, tmp_path, name):
    photo = quay.rename(tmp_path / "quay" / name)
    assert len(there(made_of(watched(tmp_path), photo, NOW)).files) == 1
    assert there(made_of(watched(tmp_path), photo, NOW)).files == []
    assert len(names(tmp_path)) == 1


def test_a_journal_that_leads_out_of_its_folders_is_not_followed(quay, tmp_path):
    asked = watched(tmp_path)
    made_of(asked, quay, NOW)
    away = tmp_path / "away.jpg"
    away.write_bytes(b"the user's own")
    note = read(asked, quay)
    for made, place in (
        ("../../../../away.jpg", "x.jpg"),
        ("x.jpg", "../x.jpg"),
        (str(away), "x.jpg"),
    ):
        journal.begin(asked.places, quay, note, [journal.FileMove(made=made, place=place)])
        assert journal.finish(asked.places, seal_of(asked)) is None
        asked.places.empty()
    (tmp_path / "made" / "sub").symlink_to(tmp_path)
    asked.places.made.mkdir(parents=True)
    (asked.places.made / "x.jpg").write_bytes(b"a file")
    journal.begin(asked.places, quay, note, [journal.FileMove(made="x.jpg", place="sub/x.jpg")])
    with pytest.raises(OSError, match="leads out of it"):
        journal.finish(asked.places, seal_of(asked))
    assert away.read_bytes() == b"the user's own"
    assert not (tmp_path / "x.jpg").exists()


def test_notes_of_a_time_before_seals_are_taken_over_once(quay, tmp_path):
    asked = watched(tmp_path)
    made_of(asked, quay, NOW)
    note = json.loads(beside.path_of(quay).read_text())
    del note["seal"]
    beside.path_of(quay).write_text(json.dumps(note))
    seal_path(quay.parent).unlink()
    assert there(made_of(asked, quay, NOW)).files == []
    assert read(asked, quay).files
