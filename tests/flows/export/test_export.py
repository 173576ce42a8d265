"""Where finished files go: whole, as proven, sorted on wish, never over what lies there."""

from __future__ import annotations

import hashlib
import shutil
import subprocess
from dataclasses import replace
from io import BytesIO
from pathlib import Path
from zipfile import ZipFile

import pytest

from oak_ledge.core.errors import FileError
from oak_ledge.core.pixels.prove import measure
from oak_ledge.flows.delivery import deliveries, orders
from oak_ledge.flows.errors import RequestError
from oak_ledge.flows.export import export as handing_out
from oak_ledge.flows.jobs import jobs
from oak_ledge.store import folders
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def delivered(workspace, bring, tmp_path):
    """Two photos on two sizes, made; and the workspace with a folder of one's own."""
    folder = tmp_path / "studio"
    folder.mkdir()
    taken = bring(
        ("quay.jpg", samples.photo(tmp_path / "quay.jpg", 400, 300)),
        ("boat.jpg", samples.photo(tmp_path / "boat.jpg", 300, 400)),
    ).photos
    ids = [photo.id for photo in taken]
    job_id = jobs.start(workspace, "Quay: summer", ids, [], ["90x80px", "120x120px"], NOW)
    answer = orders.deliver(workspace, job_id, None, NOW)
    return replace(workspace, folder=folder), answer, folder / "Quay-summer-2026-11-24"


SORTED = {
    "none": {"quay_90x80px.jpg", "quay_120x120px.jpg", "boat_90x80px.jpg", "boat_120x120px.jpg"},
    "size": {
        "90-x-80-px/quay_90x80px.jpg",
        "120-x-120-px/quay_120x120px.jpg",
        "90-x-80-px/boat_90x80px.jpg",
        "120-x-120-px/boat_120x120px.jpg",
    },
    "photo": {
        "quay/quay_90x80px.jpg",
        "quay/quay_120x120px.jpg",
        "boat/boat_90x80px.jpg",
        "boat/boat_120x120px.jpg",
    },
}


@pytest.mark.parametrize("by", list(SORTED))
def test_folder_and_archive_hold_the_proven_bytes_sorted_alike(delivered, by):
    workspace, answer, folder = delivered
    put = handing_out.put_into_folder(workspace, answer.id, by)
    there = {str(path.relative_to(folder)) for path in folder.rglob("*") if path.is_file()}
    assert there == SORTED[by]
    hashes = {file.name: file.measured.sha256 for file in answer.files}
    for one in put.files:
        assert hashlib.sha256(Path(one.path).read_bytes()).hexdigest() == hashes[one.name]
    zipped = BytesIO(b"".join(handing_out.archive(workspace, answer.id, by)))
    with ZipFile(zipped) as archive:
        assert set(archive.namelist()) == SORTED[by] | {"proof.csv"}


def test_another_tool_unpacks_the_archive_to_the_proven_bytes(delivered, tmp_path):
    program = shutil.which("unzip")
    if program is None:
        pytest.skip("unzip is not installed here: apt-get install unzip")
    workspace, answer, _ = delivered
    zipped = tmp_path / "all.zip"
    zipped.write_bytes(b"".join(handing_out.archive(workspace, answer.id, "photo")))
    subprocess.run([program, "-q", zipped, "-d", tmp_path / "out"], check=True)
    hashes = {file.name: file.measured.sha256 for file in answer.files}
    unpacked = {path.name: path for path in (tmp_path / "out").glob("*/*.jpg")}
    assert {name: measure.file_hash(path) for name, path in unpacked.items()} == hashes


def test_what_lies_in_the_folder_stays_and_is_not_put_twice(delivered):
    workspace, answer, folder = delivered
    folder.mkdir()
    (folder / "quay_90x80px.jpg").write_bytes(b"somebody's own")
    put = handing_out.put_into_folder(workspace, answer.id)
    assert put.words.startswith("4 of 4 files put into ")
    assert (folder / "quay_90x80px.jpg").read_bytes() == b"somebody's own"
    assert (folder / "quay_90x80px-2.jpg").is_file()
    again = handing_out.put_into_folder(workspace, answer.id)
    assert [one.state for one in again.files] == ["there"] * 4
    assert "4 lay there already" in again.words
    assert len(list(folder.iterdir())) == 5


def test_a_file_that_is_no_longer_as_proven_is_marked_and_handed_to_nobody(delivered):
    workspace, answer, folder = delivered
    gone, spoilt = (
        deliveries.folder_of(workspace, answer.id) / file.name for file in answer.files[:2]
    )
    gone.unlink()
    data = bytearray(spoilt.read_bytes())
    data[-40] ^= 1  # of the same length, and still a picture
    spoilt.write_bytes(data)
    put = handing_out.put_into_folder(workspace, answer.id)
    assert [one.state for one in put.files] == ["failed", "failed", "put", "put"]
    assert "gone from disk" in put.files[0].why
    assert "not as it was when it was measured" in put.files[1].why
    assert len(list(folder.iterdir())) == 2
    assert deliveries.view(workspace, answer.id).counts == {"failed": 2, "made": 2}
    with ZipFile(BytesIO(b"".join(handing_out.archive(workspace, answer.id)))) as archive:
        assert len(archive.namelist()) == 3
        assert b"gone from disk" in archive.read("proof.csv")
    orders.again(workspace, answer.id, answer.files[0].id, NOW)
    assert handing_out.single(workspace, answer.id, gone.name).is_file()
    last = handing_out.single(workspace, answer.id, answer.files[2].name)
    last.write_bytes(b"")
    with pytest.raises(FileError, match="not as it was"):
        handing_out.single(workspace, answer.id, answer.files[2].name)


def test_a_folder_that_is_away_or_full_is_said_file_by_file(delivered, monkeypatch):
    workspace, answer, folder = delivered
    away = replace(workspace, folder=folder / "drive")
    put = handing_out.put_into_folder(away, answer.id)
    assert all("is not there" in one.why for one in put.files)
    assert not (folder / "drive").exists()
    with pytest.raises(RequestError, match="OAK_LEDGE_FOLDER"):
        handing_out.put_into_folder(replace(workspace, folder=None), answer.id)
    real = folders.write_new

    def full(folder, stem, ending, parts):
        if stem.startswith("quay"):
            raise OSError(28, "No space left on device")
        return real(folder, stem, ending, parts)

    monkeypatch.setattr(folders, "write_new", full)
    put = handing_out.put_into_folder(workspace, answer.id)
    assert {one.name[:4]: one.state for one in put.files} == {"quay": "failed", "boat": "put"}
    assert "No space left on device. Make room" in put.files[0].why
    assert {path.name for path in folder.iterdir()} == {"boat_90x80px.jpg", "boat_120x120px.jpg"}
