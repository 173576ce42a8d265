"""Wrong calls, hostile files, damaged folders: one plain line and a code, never a traceback."""

from __future__ import annotations

import os
import socket
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest

from oak_ledge.cli import main as cli
from oak_ledge.core.sizes.size import Size
from tests import samples
from tests.waiting import LIMIT
from tests.web.process.test_killing import free_port, serve

HOSTILE = {
    "four-bytes.tif": b"II*\0",
    "no-width.tif": b"II*\0\x08\0\0\0\x01\0\x01\x01\x03\0\x01\0\0\0\x09\0\0\0\0\0\0\0",
    "zeros.jpg": bytes(500),
    "endless.heic": b"\0\0\0\x18ftypheic\0\0\0\0mif1heic" + b"\xff" * 90,
    "nothing.webp": b"RIFF\xff\xff\xff\xffWEBPVP8 ",
}


@pytest.fixture
def run(capsys, monkeypatch, tmp_path):
    monkeypatch.chdir(tmp_path)
    samples.photo(tmp_path / "quay.jpg", 600, 400)

    def call(*arguments):
        with pytest.raises(SystemExit) as ended:
            cli.main([str(one) for one in arguments])
        answer = capsys.readouterr()
        return ended.value.code, answer.out, answer.err

    return call


@pytest.mark.parametrize(
    "said",
    [
        ["--centre", "1e400,0"], ["--centre", "1e9999999,0"], ["--centre", "nan,0"], ["--centre", "9" * 5000 + ",0"],
        ["--corners", "nan,nan,nan,nan,nan,nan,nan,nan"], ["--corners", "1e400,0,9,0,9,9,0,9"],
        ["--corners", "1,2,3"], ["--corners", "9" * 5000], ["--at-most", "9" * 400], ["--at-most", "1e9"],
        ["--size", "9" * 5000 + "px"], ["--size", "1e99in@300"], ["--size", "100%@1e9999999"],
        ["--ground", "transparent"], ["--angle", "nan"], ["--quality", "1" * 400],
    ],
)  # fmt: skip
def test_a_number_that_can_not_be_ends_as_one_line_at_once(run, said):
    code, out, err = run("tally", "quay.jpg", "--size", "4x5in@100", *said)
    if "--angle" in said:
        assert code in (1, 2)
    else:
        assert code == 2
    assert (out, err.count("\n")) == ("", 1)
    assert len(err) < 600


@pytest.mark.parametrize("name", list(HOSTILE))
def test_one_hostile_file_does_not_hold_up_the_others(run, tmp_path, name):
    (tmp_path / name).write_bytes(HOSTILE[name])
    code, out, err = run("make", name, "quay.jpg", "--size", "90x80px", "--out", "out")
    assert code == 1
    assert "out/quay_90x80px.jpg" in out
    assert (err.count("\n"), name in err, "Traceback" in err) == (1, True, False)


def test_a_name_that_is_no_text_is_made_all_the_same(run, tmp_path):
    odd = os.fsdecode(b"quay-\xff\xfe.jpg")
    (tmp_path / "quay.jpg").rename(tmp_path / odd)
    code, out, err = run("make", odd, "--size", "90x80px", "--out", "out", "--json")
    assert (code, err) == (0, "")
    assert '"photo": "quay-??.jpg"' in out
    assert [path.suffix for path in (tmp_path / "out").iterdir()] == [".jpg"]


@pytest.mark.parametrize(
    ("file", "words"),
    [("oak-ledge.db", "is damaged"), ("queue.db", "only holds requests for work")],
)
def test_a_damaged_database_is_named_and_left_as_it_is(run, tmp_path, file, words):
    data = tmp_path / "data"
    data.mkdir()
    damage = b"SQLite format 3\0" + b"\xff" * 5000
    (data / file).write_bytes(damage)
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        port = one.getsockname()[1]
    code, _, err = run("serve", "--data", data, "--port", port)
    assert (code, err.count("\n"), words in err, file in err) == (2, 1, True, True)
    assert (data / file).read_bytes() == damage


def test_a_library_that_lies_is_refused_whole(run, tmp_path):
    for number, text in enumerate(
        (
            "[" * 200_000,
            '{"sizes": ' + "9" * 5000 + "}",
            "name,size\n" + '"' + "x" * 200_000,
            "\0",
            '{"kind": 1}',
        )
    ):
        path = tmp_path / f"{number}.json"
        path.write_text(text)
        code, out, err = run("sizes", "import", path, "--data", tmp_path / "data")
        assert (code, out, err.count("\n")) == (1, "", 1)
    large = tmp_path / "large.json"
    with large.open("wb") as file:
        file.truncate(700_000_000)
    code, _, err = run("sizes", "import", large, "--data", tmp_path / "data")
    assert (code, "larger than 10 MB" in err) == (1, True)


@pytest.mark.thorough
def test_names_that_are_all_alike_are_taken_in_quickly(run, tmp_path):
    size = Size.model_validate(
        {"shape": {"kind": "percent", "percent": "100"}, "turn": "suit", "name": "Same"}
    )
    each = [size.model_copy(update={"sharpen": n % 100, "group": "own"}) for n in range(100)]
    more = [one.model_copy(update={"ground": f"#{n:06x}"}) for n, one in enumerate(each * 30)]
    path = tmp_path / "same.json"
    path.write_text(f'{{"sizes": [{",".join(one.model_dump_json() for one in more)}]}}')
    code, out, _ = run("sizes", "import", path, "--data", tmp_path / "data")
    assert (code, len(out.splitlines())) == (0, 3000)
    assert len(set(out.splitlines())) == 3000


def test_every_address_needs_the_names_it_may_be_asked_under(run):
    code, _, err = run("serve", "--host", "0.0.0.0", "--port", "1")
    assert (code, "OAK_LEDGE_ALLOWED_HOSTS" in err) == (2, True)


@pytest.mark.process
def test_a_second_server_of_a_folder_is_refused(tmp_path):
    from pytest_socket import enable_socket

    enable_socket()
    port, data = free_port(), tmp_path / "data"
    first = serve(data, port)
    try:
        program = str(Path(sys.executable).with_name("oak-ledge"))
        second = subprocess.run(
            [program, "serve", "--data", str(data), "--port", str(free_port())],
            capture_output=True, text=True, timeout=LIMIT, check=False,
        )  # fmt: skip
        assert (second.returncode, "is served already" in second.stderr) == (2, True)
        assert second.stderr.count("\n") == 1
    finally:
        first.terminate()
        first.wait()
    with sqlite3.connect(data / "oak-ledge.db") as there:
        assert there.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    there.close()


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (["serve", "--workers", "65"], "say auto, or a number from 0 to 64"),
        (["serve", "--workers", "many"], "say auto, or a number from 0 to 64"),
        (["serve", "--workers", "9" * 5000], "say auto, or a number from 0 to 64"),
        (["serve", "--queue", "http://x"], "write it as redis://HOST:PORT"),
        (["serve", "--queue", "redis://h:port", "--port", "0"], "--port"),
        (["work", "--server", "http://h:1"], "--server needs --queue"),
        (["work", "--server", "http://h:1", "--queue", "redis://h"], "--server needs --token"),
        (["work", "--server", "http://h:1", "--data", "d"], "either --data"),
        (["work", "--server", "ftp://h", "--queue", "redis://h", "--token", "t" * 30], "no address of a server"),
        (["work", "--server", "h:1", "--queue", "redis://h", "--token", "t" * 30], "no address of a server"),
        (["work", "--server", "http://h:1", "--queue", "redis://h:x", "--token", "t" * 30], "no address of a Redis"),
        (["stand", "7", "--data", "d"], "no standing order 7"),
        (["backup", "b.zip", "--data", "none"], "no data folder"),
        (["check", "--data", "none"], "no data folder"),
        (["check", "--data", "words.zip"], "no backup of Oak Ledge"),
    ],
)  # fmt: skip
def test_a_call_about_machines_and_folders_that_can_not_be_ends_as_one_line(
    run, tmp_path, monkeypatch, said, words
):
    monkeypatch.setenv("OAK_LEDGE_CACHE", str(tmp_path / "cache"))
    monkeypatch.setattr(os, "nice", lambda more: None)  # the tests that follow are not to go behind
    (tmp_path / "words.zip").write_text("words")
    code, out, err = run(*said)
    assert (code in (1, 2), out, err.count("\n")) == (True, "", 1)
    assert words in err
