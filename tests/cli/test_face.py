"""Portraits on the command line: laid by their heads, and told as they come out."""

from __future__ import annotations

import json
import shutil

import pytest
from PIL import Image

from oak_ledge.demo.fill import PHOTOS
from tests.carriers import CARRIERS
from tests.cli.test_cli import run

__all__ = ["run"]  # the fixture

IDENTITY = ("--size", "35x45mm@600 head 32-36mm eyes 50-60%")
FACE = ",".join(f"{edge:.1f}" for point in CARRIERS[1].points for edge in point)


@pytest.fixture
def carrier(tmp_path):
    shutil.copy(PHOTOS / "carrier-2.jpg", tmp_path / "carrier.jpg")


@pytest.mark.usefixtures("carrier")
def test_a_portrait_is_made_by_the_points_of_the_call_or_by_those_found(run):
    code, out, _ = run("make", "carrier.jpg", *IDENTITY, "--face", FACE, "--json", "--out", "set")
    (file,) = json.loads(out)["files"]
    face = file["face"]
    assert (code, face["found"], face["head_mm"], face["head_px"]) == (0, False, 34.0, 803.15)
    assert (face["eye_line"], face["tilt"]) == (0.55, 0.0)
    assert face["crown"] == pytest.approx(CARRIERS[1].points[3], abs=0.1)
    assert (file["measured"]["width"], file["measured"]["height"]) == (827, 1063)
    assert "face-found" not in {note["code"] for note in file["notes"]}
    with Image.open(
        file["file"]
    ) as image:  # its pupils lie on one line, at the height that was asked
        grey = image.convert("L")
        pupils = [
            min((grey.getpixel((x, y)), y) for y in range(380, 580) for x in xs)
            for xs in (range(240, 330), range(500, 590))
        ]
    assert all(abs(y - 1063 * 0.45) < 12 for _, y in pupils)
    code, out, _ = run("tally", "carrier.jpg", *IDENTITY, "--json")
    looked_for = json.loads(out)
    assert (code, looked_for["face"]["found"], looked_for["face"]["head_mm"]) == (0, True, 34.0)
    assert looked_for["face"]["chin"] == pytest.approx(CARRIERS[1].points[2], abs=18)
    assert "face-found" in {note["code"] for note in looked_for["notes"]}


@pytest.mark.usefixtures("carrier")
def test_a_sheet_holds_eight_of_one_portrait(run, tmp_path):
    code, out, err = run(
        "sheet", *["carrier.jpg"] * 8, *IDENTITY, "--paper", "10x15cm@600", "--margin", "2mm", "--gap", "2mm", "--no-marks", "--out", "eight.pdf", "--json",
    )  # fmt: skip
    sheet = json.loads(out)["sheets"]
    assert (code, err, len(sheet), len(sheet[0]["pieces"])) == (0, "", 1, 8)


def test_without_a_face_nothing_is_made_unless_it_is_allowed(run, monkeypatch, tmp_path):
    code, out, _ = run("make", "quay.jpg", *IDENTITY, "--json")
    (failed,) = json.loads(out)["failed"]
    assert (code, failed["reason"].startswith("No face was found.")) == (1, True)
    code, out, _ = run("make", "quay.jpg", *IDENTITY, "--allow", "head", "--json")
    assert (code, "face" in json.loads(out)["files"][0]) == (0, False)
    shutil.copy(PHOTOS / "carrier-1.jpg", tmp_path / "carrier.jpg")
    monkeypatch.setenv("OAK_LEDGE_FIND_SUBJECTS", "false")
    for command in (("tally", "carrier.jpg", "--json"), ("make", "carrier.jpg", "--json")):
        assert "No face was found." in run(*command, *IDENTITY)[1]
    code, _, err = run("sheet", "carrier.jpg", *IDENTITY, "--paper", "A4@600", "--out", "a.pdf")
    assert (code, "No face was found." in err) == (1, True)


@pytest.mark.parametrize(
    ("points", "why"),
    [
        ("1,2,3", "four points"),
        ("1,2,3,2,2,0,2,9", "chin lies above"),
        ("1,2,1,2,2,9,2,0", "one point"),
    ],
)
def test_points_that_are_no_face_are_a_wrong_call(run, points, why):
    code, out, err = run("tally", "quay.jpg", *IDENTITY, "--face", points)
    assert (code, out, why in err, err.count("\n")) == (2, "", True, 1)
