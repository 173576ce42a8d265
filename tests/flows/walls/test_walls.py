"""Foreign files read within walls: as without, and a decoder that is misled is that file's refusal alone."""

from __future__ import annotations

import contextlib
import socket
import subprocess
import sys
import threading
from dataclasses import replace

import pytest
from pytest_socket import enable_socket

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.files.limits import Limits
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.flows.commands.tell import LyingOptions
from oak_ledge.flows.photos import photos
from oak_ledge.flows.photos.photos import Incoming
from oak_ledge.flows.walls.readers import Readers, read_here
from oak_ledge.flows.watch.folder import Watched, made_of, seal_of
from tests import samples
from tests.conftest import NOW
from tests.waiting import LIMIT

pytestmark = [
    pytest.mark.process,
    pytest.mark.skipif(sys.platform != "linux", reason="walls of this kind are Linux's"),
]


def held(facts):
    return contextlib.nullcontext()


@pytest.fixture(scope="module")
def readers():
    enable_socket()
    made = Readers()
    yield made
    made.close()


@pytest.fixture(scope="module", params=[LIMIT])
def misled(request):
    enable_socket()
    made = Readers(patience=request.param, module="tests.flows.walls.hostile")
    yield made
    made.close()


def test_what_comes_over_the_walls_is_what_is_read_without_them(readers, tmp_path, caplog):
    enable_socket()
    for name, (data, words) in samples.wrong_files().items():
        path = tmp_path / name
        path.write_bytes(data)
        with pytest.raises(PhotoError, match=words):
            readers.read(path, Limits(), 512, held)
    for path in (
        samples.photo(tmp_path / "quay.jpg", 900, 600),
        samples.save(tmp_path / "grain.png", samples.grain(300, 200)),
    ):
        assert readers.read(path, Limits(), 512, held) == read_here(path, Limits(), 512, held)
    assert "fewer walls" not in caplog.text, "here all of them stand"


DONE = "ended the program"


@pytest.mark.parametrize("word", ["crash", "remember", "run", "fork", "lie"])
def test_a_decoder_that_is_misled_ends_as_this_files_refusal(misled, tmp_path, word):
    enable_socket()
    path = tmp_path / "evil.jpg"
    path.write_text(word)
    words = "more memory" if word == "remember" else DONE
    with pytest.raises(PhotoError, match=words):
        misled.read(path, Limits(), 512, held)


@pytest.mark.parametrize("misled", [3], indirect=True)
@pytest.mark.parametrize("word", ["hang", "work"])
def test_a_decoder_that_never_ends_is_waited_for_no_longer_than_is_said(misled, tmp_path, word):
    enable_socket()
    path = tmp_path / "evil.jpg"
    path.write_text(word)
    with pytest.raises(PhotoError, match="took too long"):  # it itself never ends
        misled.read(path, Limits(), 512, held)


@pytest.mark.parametrize("word", ["look", "write", "remove", "rename", "list"])
def test_a_decoder_reaches_no_other_file(misled, tmp_path, word):
    enable_socket()
    path, other = tmp_path / "evil.jpg", tmp_path / "studio" / "oak-ledge.db"
    other.parent.mkdir()
    other.write_bytes(b"all of a studio")
    path.write_text(f"{word} {other.parent if word == 'list' else other}")
    with pytest.raises(PhotoError, match=DONE):
        misled.read(path, Limits(), 512, held)
    assert [one.name for one in other.parent.iterdir()] == ["oak-ledge.db"]
    assert other.read_bytes() == b"all of a studio"


def test_a_decoder_reaches_no_network_and_no_other_process(misled, tmp_path):
    enable_socket()
    path = tmp_path / "evil.jpg"
    other = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    with socket.create_server(("127.0.0.1", 0)) as server:
        server.settimeout(0.5)
        for words in (f"connect {server.getsockname()[1]}", f"kill {other.pid}"):
            path.write_text(words)
            with pytest.raises(PhotoError, match=DONE):
                misled.read(path, Limits(), 512, held)
        with pytest.raises(TimeoutError):
            server.accept()
    assert other.poll() is None
    other.kill()
    other.wait()


def test_a_reader_that_is_killed_is_begun_anew_and_many_read_at_once(readers, tmp_path):
    enable_socket()
    path = samples.photo(tmp_path / "quay.jpg", 900, 600)
    first = readers.read(path, Limits(), 256, held)
    readers._process.kill()
    readers._process.wait()
    assert readers.read(path, Limits(), 256, held) == first
    answers = []
    threads = [
        threading.Thread(target=lambda: answers.append(readers.read(path, Limits(), 256, held)))
        for _ in range(12)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [first] * 12


def test_photos_come_in_over_the_walls_and_a_bad_one_does_not_hold_up_the_others(
    readers, workspace, tmp_path
):
    enable_socket()
    good = samples.photo(tmp_path / "quay.jpg", 900, 600)
    walled = replace(workspace, read=readers.read)
    with good.open("rb") as one, good.open("rb") as two:
        cut = tmp_path / "cut.jpg"
        cut.write_bytes(two.read()[:-3000])
        with cut.open("rb") as bad:
            taken = photos.take_in(
                walled, [Incoming("cut.jpg", bad), Incoming("quay.jpg", one)], NOW
            )
    assert [photo.name for photo in taken.photos] == ["quay.jpg"]
    assert "cut short" in taken.refused[0].reason


def test_a_watched_folder_goes_on_where_a_photo_ends_its_decoder(misled, tmp_path):
    enable_socket()
    (tmp_path / "quay").mkdir()
    photo = tmp_path / "quay" / "evil.jpg"
    photo.write_text("crash")
    sizes = [read_size("100x80px"), read_size("120x80px")]
    watched = Watched(
        photo.parent, tmp_path / "made", sizes, LyingOptions(), Limits(), read=misled.read
    )
    outcome = made_of(watched, photo, NOW, seal_of(watched))
    assert outcome is not None
    assert [DONE in failed.reason for failed in outcome.failed] == [True, True]
