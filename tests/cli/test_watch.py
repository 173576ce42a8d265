"""`oak-ledge watch` as its own process: ended, killed, started twice, told a wrong folder."""

from __future__ import annotations

import json
import signal
import subprocess
import sys
from pathlib import Path

import pytest

from oak_ledge.cli import main as cli
from tests import samples
from tests.waiting import LIMIT, until

pytestmark = pytest.mark.process


def started(folder):
    command = [str(Path(sys.executable).with_name("oak-ledge")), "watch", str(folder)]
    watch = subprocess.Popen([*command, "--size", "300x200px"], stdout=subprocess.PIPE, text=True)
    assert watch.stdout is not None
    assert watch.stdout.readline().startswith(f"Watching {folder}")
    return watch


def told(photo):
    """What stands beside a photo, once something does."""
    beside = photo.with_name(f"{photo.name}.made.json")
    until(lambda: beside.exists() and "moves" not in json.loads(beside.read_text()))
    return json.loads(beside.read_text())


def test_a_watch_is_killed_begun_anew_and_ended_and_each_photo_is_made_once(tmp_path, capsys):
    photos = [tmp_path / "quay.jpg", tmp_path / "pole.png", tmp_path / "boat.jpg"]
    samples.photo(photos[0], 900, 600)
    first = started(tmp_path)
    said = told(photos[0])
    first.kill()
    first.communicate()
    samples.photo(photos[1], 900, 600)
    photos[2].write_bytes(b"no picture")
    second = started(tmp_path)
    assert told(photos[1])["files"][0]["measured"]["width"] == 300
    assert told(photos[2])["failed"][0]["reason"]
    with pytest.raises(SystemExit) as ended:
        cli.main(["watch", str(tmp_path), "--size", "300x200px"])
    assert (ended.value.code, "is watched already" in capsys.readouterr().err) == (2, True)
    second.send_signal(signal.SIGTERM)
    second.communicate(timeout=LIMIT)
    assert second.returncode == 0
    assert told(photos[0]) == said, "made once"
    made = sorted(path.name for path in (tmp_path / "made").iterdir())
    assert made == ["pole_300x200px.jpg", "quay_300x200px.jpg"]


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["away", "--size", "300x200px"], "away is no folder"),
        ([".", "--size", "300x200px", "--out", "."], "is the watched folder itself"),
        (["."], "--size"),
        ([".", "--size", "8 by nothing"], "8 by nothing"),
    ],
)
def test_a_wrong_call_is_one_line_and_watches_nothing(
    tmp_path, monkeypatch, capsys, arguments, says
):
    monkeypatch.chdir(tmp_path)
    with pytest.raises(SystemExit) as ended:
        cli.main(["watch", *arguments])
    error = capsys.readouterr().err
    assert ended.value.code == 2
    assert says in error
    assert error.count("\n") == 1
