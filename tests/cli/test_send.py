"""`oak-ledge send` and `stand-in` as their own processes: killed, begun anew, refused, told wrong things."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from contextlib import contextmanager
from pathlib import Path

import pytest

from tests import samples
from tests.waiting import until

pytestmark = pytest.mark.process
COMMAND = str(Path(sys.executable).with_name("oak-ledge"))


@contextmanager
def standing_in(kind, into, *more):
    """A stand-in as its own program; give what it printed."""
    command = [COMMAND, "stand-in", kind, "--port", "0", "--into", str(into), *more]
    env = {**os.environ, "OAK_LEDGE_STAND_IN_SECRET": "lantern"}
    process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=env)
    assert process.stdout is not None
    lines = [process.stdout.readline() for _ in range(4 if kind == "lab" else 3)]
    try:
        yield dict(line.strip().split(": ", 1) for line in lines)
    finally:
        process.send_signal(signal.SIGTERM)
        process.communicate(timeout=60)
        assert process.returncode == 0


def called(*words, code=0, **more):
    env = {**os.environ, "QUAY_SECRET": "lantern"}
    done = subprocess.run(
        [COMMAND, *map(str, words)], capture_output=True, text=True, env=env, check=False, **more
    )
    assert done.returncode == code, done.stderr + done.stdout
    return done


def receiver(path, way, **takes):
    content = {"receiver_version": 1, "name": "Pier", "takes": takes, "way": way}
    path.write_text(json.dumps(content))
    return path


def test_a_sender_is_killed_and_each_file_arrives_once_and_whole(tmp_path):
    files = [
        samples.photo(tmp_path / f"p{n}.jpg", 1200, 1800 + n, dpi=(300, 300)) for n in range(4)
    ]
    data, there = tmp_path / "data", tmp_path / "there"
    with standing_in("lab", there, "--fault", "slow", "--takes", _anything(tmp_path)) as told:
        assert told["password"] == "lantern"
        way = {"kind": "sftp", "url": told["address"], "secret": "env:QUAY_SECRET",
               "host_key": told["host key"]}  # fmt: skip
        called("receivers", "add", receiver(tmp_path / "pier.json", way), "--data", data)
        command = [COMMAND, "send", *map(str, files), "--to", "pier", "--data", str(data)]
        env = {**os.environ, "QUAY_SECRET": "lantern"}
        first = subprocess.Popen(command, stdout=subprocess.PIPE, text=True, env=env)
        until(lambda: any(there.glob("*.jpg")))
        first.kill()
        first.communicate()
        again = json.loads(called(*command[1:], "--json").stdout)["files"]
        assert [set(file) for file in again] == [
            {"file", "state", "reasons", "fixes", "tries", "receipt"}
        ] * 4
        assert [file["state"] for file in again] == ["accepted"] * 4
        arrived = {path.name: path.read_bytes() for path in there.glob("*.jpg*")}
        assert arrived == {path.name: path.read_bytes() for path in files}
        written = {path.name: path.stat().st_mtime_ns for path in there.glob("*.jpg")}
        called(*command[1:])  # nothing goes a second time
        assert {path.name: path.stat().st_mtime_ns for path in there.glob("*.jpg")} == written


def _anything(folder):
    return str(receiver(folder / "anything.json", {"kind": "folder", "path": "/"}))


def test_what_is_refused_ends_with_1_and_a_wrong_call_with_2_in_one_line(tmp_path):
    data, good = tmp_path / "data", samples.photo(tmp_path / "sign.jpg", 384, 160)
    wrong = samples.photo(tmp_path / "board.jpg", 200, 160)
    listed = json.loads(called("receivers", "list", "--json", "--data", data).stdout)
    assert [each["name"] for each in listed] == [
        "Harbour print lab", "Stall marketplace", "Sign on the quay",
    ]  # fmt: skip
    checked = called("receivers", "check", "sign", good, wrong, "--json", "--data", data, code=1)
    files = json.loads(checked.stdout)["files"]
    assert [file["state"] for file in files] == ["accepted", "refused"]
    assert files[1]["fixes"] == ["Lay it on 384x160px"]
    assert (
        "board.jpg: refused: "
        in called("send", wrong, "--to", "quay", "--data", data, code=1).stdout
    )
    gone = called("send", tmp_path / "gone.jpg", "--to", "quay", "--data", data, code=1)
    assert "gone.jpg: failed: There is no such file." in gone.stdout
    way = {"kind": "sftp", "url": "sftp://a@127.0.0.1:9/in", "secret": "swordfish"}
    for words, why in (
        (["send", good, "--to", "bakery"], "There is no receiver “bakery”"),
        (["send", good, good, "--to", "sign"], "two of these files are called sign.jpg"),
        (["receivers", "add", receiver(tmp_path / "a.json", way)], "name the secret as env:NAME"),
        (["receivers", "add", tmp_path / "none.json"], "cannot be read"),
        (["receivers", "remove", "bakery"], "There is no receiver"),
        (["stand-in", "lab", "--into", good], "cannot be used"),
        (["stand-in", "bakery", "--into", tmp_path / "b"], "bakery"),
    ):  # fmt: skip
        more = [] if words[0] == "stand-in" else ["--data", data]
        refused = called(*words, *more, code=2)
        assert why in refused.stderr
        assert refused.stderr.count("\n") == 1
        assert "swordfish" not in refused.stderr
    out = tmp_path / "all.json"
    called("receivers", "export", out, "--data", data)
    assert json.loads(out.read_text()) == listed
    called("receivers", "export", out, "--data", data, code=1)
    called("receivers", "add", out, "--data", data, code=2)
    called("receivers", "add", out, "--replace", "--data", data)
    called("receivers", "remove", "stall", "--data", data)
    assert len(json.loads(called("receivers", "list", "--json", "--data", data).stdout)) == 2
