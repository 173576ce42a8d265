"""A data folder's long life: budgets, a check that mends, a copy that is of one moment."""

from __future__ import annotations

import json
import os
import re
import sqlite3
import stat
import subprocess
import sys
import threading
import zipfile
from contextlib import closing
from dataclasses import replace
from datetime import timedelta

import pytest

from oak_ledge.cli import main as cli
from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.delivery import deliveries, orders, workshop
from oak_ledge.flows.errors import BackupError
from oak_ledge.flows.jobs import jobs
from oak_ledge.flows.photos import previews
from oak_ledge.flows.upkeep import backup as backups
from oak_ledge.flows.upkeep.budgets import IN_HAND, keep_within
from oak_ledge.flows.upkeep.check import check
from oak_ledge.flows.workspace import open_workspace
from oak_ledge.store import photos
from oak_ledge.store.database import reading
from tests import samples
from tests.conftest import NOW
from tests.samples import there

SOON = NOW.timestamp()


@pytest.fixture
def studio(workspace, bring):
    """A workspace with two photos in a job, one in hand, and a delivery of four files."""
    names = ("quay.jpg", "pole.jpg", "spare.jpg")
    taken = bring(
        *(
            (n, samples.bytes_of(samples.grain(300, 200, seed=k), "JPEG"))
            for k, n in enumerate(names)
        )
    )
    ids = [one.id for one in taken.photos]
    job = jobs.start(workspace, "Quay", ids[:2], [], ["150x100px", "100x100px"], NOW)
    orders.deliver(workspace, job, None, NOW)
    return workspace


def every_photo(workspace):
    with reading(workspace.sessions) as session:
        return photos.every(session)


def original(workspace, n):
    return photos.original(workspace.originals, every_photo(workspace)[n])


def spoil(path, data=b"spoilt"):
    path.chmod(0o644)
    path.write_bytes(data)


def words(checked):
    return " / ".join(f"{one.what}. {one.done}" for one in checked.findings)


def test_a_folder_that_is_well_is_found_well_and_left_as_it_is(studio):
    before = {path: path.read_bytes() for path in studio.data.rglob("*") if path.is_file()}
    found = check(studio, SOON, mend=True)
    assert (found.photos, found.files, found.findings, found.well) == (3, 4, [], True)
    after = {path: path.read_bytes() for path in studio.data.rglob("*") if path.is_file()}
    assert {path for path in before if "oak-ledge.db-" not in path.name} <= after.keys()
    assert all(
        after[path] == data for path, data in before.items() if "oak-ledge.db-" not in path.name
    )


def test_what_is_gone_or_spoilt_is_told_and_mended_where_it_can_be(studio, tmp_path):
    archive = tmp_path / "copy.zip"
    backups.back_up(studio, archive, lambda done, whole: None)
    view = deliveries.view(studio, 1)
    folder = deliveries.folder_of(studio, 1)
    first, second = (folder / there(view.files[n].name) for n in (0, 2))
    was = first.read_bytes(), second.read_bytes()
    first.unlink()
    second.write_bytes(b"x" * len(was[1]))
    spoil(original(studio, 1))
    original(studio, 2).unlink()
    picture = previews.photo_preview(studio, every_photo(studio)[0], 64)
    spoil(picture, picture.read_bytes()[:-9])
    half = studio.deliveries / ".p-1-a.part"
    half.write_bytes(b"half")
    os.utime(half, (SOON - 10**6, SOON - 10**6))
    (studio.originals / "zz").mkdir()
    (studio.originals / "zz" / "stranger.jpg").write_bytes(b"whose?")
    (studio.data / "queue.db").write_bytes(b"no database" * 100)

    looked = check(studio, SOON, mend=False)
    assert not looked.well
    assert [one.done for one in looked.findings[:-1]] == [None] * (len(looked.findings) - 1)
    assert half.exists()
    assert picture.exists()

    found = check(studio, SOON, mend=True)
    told = words(found)
    for part in (
        "original of pole.jpg is damaged", "original of spare.jpg is missing",
        f"deliveries/1/{first.name} is gone", "grounds 1 is broken", "1 file is left half written",
        "1 original is there that no photo", "queue.db is damaged",
    ):  # fmt: skip
        assert part in told
    assert not found.well  # two originals can't be had from nowhere
    assert not half.exists()
    assert not picture.exists()
    workshop.make_what_waits(studio, "1", lambda: NOW)
    assert [file.reason for file in deliveries.view(studio, 1).files] == [None] * 4
    assert (first.read_bytes(), second.read_bytes()) == was

    again = check(studio, SOON, mend=True, backup=archive)
    assert words(again).count("It was put back from") == 2
    assert again.well
    (stranger,) = check(studio, SOON, mend=True).findings  # who may stay
    assert stranger.what.startswith("1 original is there that no photo")
    assert stat.S_IMODE(original(studio, 1).stat().st_mode) == 0o444


def test_a_database_is_looked_through_row_by_row(studio):
    path = studio.sessions.path
    with closing(sqlite3.connect(path)) as file:
        file.execute("UPDATE photo SET facts = '{}' WHERE id = 1")
        file.execute("PRAGMA foreign_keys = OFF")
        file.execute("UPDATE job_photo SET photo_id = 99 WHERE photo_id = 2")
        file.commit()
    found = check(studio, SOON, mend=True)
    assert not found.well
    assert "The database can't read photo 1" in words(found)
    assert "belongs to a photo that is not there" in words(found)


def test_a_copy_made_while_the_folder_changes_is_of_one_moment(studio, tmp_path):
    over, archive = threading.Event(), tmp_path / "copy.zip"

    def busy():
        n = 0
        while not over.is_set():
            n += 1
            ids = [photo.id for photo in every_photo(studio)[:2]]
            job = jobs.start(studio, f"Job {n}", ids, [], ["60x40px", "40x40px"], NOW)
            orders.deliver(studio, job, None, NOW)

    one = threading.Thread(target=busy)
    one.start()
    try:
        done = backups.back_up(studio, archive, lambda done, whole: None)
    finally:
        over.set()
        one.join()
    assert done.missing == ()
    assert stat.S_IMODE(archive.stat().st_mode) == 0o600
    folder = tmp_path / "back"
    backups.put_back(archive, folder)
    again = open_workspace(folder, Limits())
    found = check(again, SOON, mend=False)
    assert (found.photos, found.files, found.findings) == (done.photos, done.files, [])
    assert done.files >= 4
    again.sessions.close()
    with pytest.raises(BackupError, match="there already"):
        backups.back_up(studio, archive, lambda done, whole: None)
    with pytest.raises(BackupError, match=r"put back .* before"):
        backups.put_back(archive, folder)
    assert not list(studio.data.glob(".backup-*"))


@pytest.mark.parametrize("name", ["../out.txt", "/out.txt", "a\\..\\out.txt"])
def test_an_archive_that_lies_leaves_nothing(tmp_path, name):
    archive = tmp_path / "liar.zip"
    with zipfile.ZipFile(archive, "w") as held:
        held.writestr(backups.LIST, json.dumps({name: "0" * 64}))
        held.writestr(backups.DATABASE, "x")
        held.writestr(name, "out")
    with pytest.raises(BackupError, match="no backup of Oak Ledge"):
        backups.put_back(archive, tmp_path / "liar")
    assert [path.name for path in tmp_path.iterdir()] == ["liar.zip"]


def test_an_archive_that_was_changed_is_refused(studio, tmp_path):
    archive, changed = tmp_path / "copy.zip", tmp_path / "changed.zip"
    backups.back_up(studio, archive, lambda done, whole: None)
    with zipfile.ZipFile(archive) as held, zipfile.ZipFile(changed, "w") as other:
        for name in held.namelist():
            other.writestr(name, b"other" if name.endswith(".jpg") else held.read(name))
    for bad, text in (
        (changed, b""),
        (tmp_path / "words.zip", b"words"),
        (tmp_path / "bare.zip", None),
    ):
        if text is None:
            with zipfile.ZipFile(bad, "w"):
                pass
        elif text:
            bad.write_bytes(text)
        with pytest.raises(BackupError, match="damaged"):
            backups.put_back(bad, tmp_path / "other")
        assert not (tmp_path / "other").exists()


DATABASE = (backups.DATABASE, b"x" * 3000)


def archive_of(path, listed, *members, compression=zipfile.ZIP_STORED):
    with zipfile.ZipFile(path, "w", compression) as held:
        held.writestr(backups.LIST, listed if isinstance(listed, str) else json.dumps(listed))
        for name, data in members:
            held.writestr(name, data)
    return path


def spoilt(path, *, at, by):
    """Change bytes of an archive: those behind a mark, wherever it stands."""
    data = bytearray(path.read_bytes())
    for place in [match.start() for match in re.finditer(re.escape(at), bytes(data))]:
        for offset, value in by.items():
            data[place + offset] = value
    path.write_bytes(data)
    return path


LOCAL, CENTRAL = b"PK\x03\x04", b"PK\x01\x02"
LIARS = {
    "a list that is none": lambda path: archive_of(path, "[]", DATABASE),
    "a list of numbers": lambda path: archive_of(path, {"a": 1}, DATABASE),
    "brackets without end": lambda path: archive_of(path, "[" * 200_000, DATABASE),
    "something missing": lambda path: archive_of(path, {"photos/a.jpg": "0" * 64}, DATABASE),
    "no database": lambda path: archive_of(path, {}),
    "encrypted": lambda path: spoilt(spoilt(archive_of(path, {}, DATABASE), at=LOCAL, by={6: 1}), at=CENTRAL, by={8: 1}),
    "an unknown method": lambda path: spoilt(spoilt(archive_of(path, {}, DATABASE), at=LOCAL, by={8: 77}), at=CENTRAL, by={10: 77}),
    "a damaged stream": lambda path: spoilt(archive_of(path, {}, DATABASE, compression=zipfile.ZIP_DEFLATED), at=b"oak-ledge.db", by={12: 255, 13: 255}),
    "a damaged LZMA": lambda path: spoilt(archive_of(path, {}, DATABASE, compression=zipfile.ZIP_LZMA), at=b"oak-ledge.db", by={14: 255, 17: 255, 21: 255}),
    "one that grows": lambda path: archive_of(path, {"a": "0" * 64}, DATABASE, ("a", bytes(9_000_000)), compression=zipfile.ZIP_DEFLATED),
}  # fmt: skip


@pytest.mark.parametrize("liar", LIARS)
def test_an_archive_that_is_none_is_refused_in_one_sentence(tmp_path, liar):
    archive = LIARS[liar](tmp_path / "liar.zip")
    with pytest.raises(BackupError, match="no backup of Oak Ledge, or is damaged"):
        backups.put_back(archive, tmp_path / "liar")
    assert [path.name for path in tmp_path.iterdir()] == ["liar.zip"]


def test_what_nobody_listed_stays_in_its_archive_and_a_killed_restore_leaves_nothing(tmp_path):
    archive = archive_of(tmp_path / "copy.zip", {}, DATABASE, ("unlisted.txt", b"x"))
    ended = subprocess.Popen([sys.executable, "-c", ""])
    ended.wait()
    (tmp_path / f".copy-{ended.pid}.part").mkdir()
    (tmp_path / f".copy-{os.getppid()}.part").mkdir()  # of one that is at work
    backups.put_back(archive, tmp_path / "copy")
    assert [path.name for path in (tmp_path / "copy").iterdir()] == [backups.DATABASE]
    assert [path.name for path in tmp_path.glob(".*")] == [f".copy-{os.getppid()}.part"]


def test_originals_that_no_job_uses_go_when_there_is_no_room_the_oldest_first(studio, bring):
    one = original(studio, 2)
    size = one.stat().st_size
    bring(("newer.jpg", samples.bytes_of(samples.grain(300, 200, seed=9), "JPEG")))
    whole = sum(path.stat().st_size for path in studio.originals.rglob("*.jpg"))
    tight = replace(studio, limits=replace(studio.limits, original_bytes=whole - size // 2))
    keep_within(tight, NOW)  # they are in hand still
    assert one.exists()
    keep_within(tight, NOW + IN_HAND + timedelta(days=1))
    assert not one.exists()
    assert [photo.name for photo in every_photo(studio)] == ["quay.jpg", "pole.jpg", "newer.jpg"]
    none = replace(studio, limits=replace(studio.limits, original_bytes=1))
    keep_within(none, NOW + IN_HAND + timedelta(days=1))
    assert [photo.name for photo in every_photo(studio)] == [
        "quay.jpg",
        "pole.jpg",
    ]  # they are used


def test_pictures_and_grounds_have_budgets_of_their_own(studio):
    for folder, ending in ((studio.previews, "jpg"), (studio.scenes, "npz")):
        (folder / "aa").mkdir(parents=True, exist_ok=True)
        for n in range(4):
            path = folder / "aa" / f"{n}.{ending}"
            path.write_bytes(bytes(100))
            os.utime(path, (n, n))
    for path in studio.previews.rglob("*.jpg"):
        if path.parent.name != "aa":
            path.unlink()
    tight = replace(studio, limits=replace(studio.limits, preview_bytes=250, ground_bytes=400))
    keep_within(tight, NOW)
    assert sorted(path.name for path in studio.previews.rglob("*.jpg")) == ["2.jpg", "3.jpg"]
    assert len(list(studio.scenes.rglob("*.npz"))) == 4


def test_backup_and_check_from_the_command_line(studio, tmp_path, capsys, monkeypatch):
    monkeypatch.chdir(tmp_path)

    def run(*words):
        with pytest.raises(SystemExit) as ended:
            cli.main(list(words))
        told = capsys.readouterr()
        return ended.value.code, told.out, told.err

    data = str(studio.data)
    code, out, err = run("backup", "copy.zip", "--data", data)
    assert (code, err) == (0, "")
    assert out.startswith("copy.zip: 3 photos, 4 finished files, ")
    assert run("backup", "copy.zip", "--data", data)[0] == 1
    assert run("backup", "x.zip", "--data", str(tmp_path / "none"))[2].count("no data folder") == 1
    assert not (tmp_path / "none").exists()
    code, out, _ = run("check", "--data", "copy.zip")
    assert code == 0
    assert out == (
        "copy.zip was put back to copy. From now on use --data copy\n"
        "3 originals and 4 finished files were looked at.\nAll is as it should be.\n"
    )
    assert "put back to copy before" in run("check", "--data", "copy.zip")[2]
    original(studio, 0).unlink()
    code, out, _ = run("check", "--data", data, "--json")
    assert code == 1
    assert json.loads(out)["findings"][0]["what"] == "The original of quay.jpg is missing"
    code, out, _ = run("check", "--data", data, "--backup", "copy.zip")
    assert (code, "put back from copy.zip" in out) == (0, True)
    code, out, err = run("check", "--data", data, "--backup", "none.zip", "--only-look")
    assert (code, err) == (0, "")
