from __future__ import annotations

import json
import re
import socket

import numpy as np
import pytest
from PIL import Image, ImageChops
from pypdf import PdfReader

from oak_ledge.cli import main as cli
from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.demo.fill import NAMES, PHOTOS, fill
from oak_ledge.flows.jobs import jobs
from tests import samples
from tests.conftest import NOW


@pytest.fixture
def run(capsys, monkeypatch, tmp_path):
    """Run the command in a folder with a few photos; give (exit code, output, errors)."""
    monkeypatch.chdir(tmp_path)
    samples.photo(tmp_path / "quay.jpg", 1200, 800, dpi=(300, 300), icc_profile=samples.SRGB)
    samples.photo(tmp_path / "pole.png", 800, 1200)

    def call(*arguments):
        with pytest.raises(SystemExit) as ended:
            cli.main(list(arguments))
        answer = capsys.readouterr()
        return ended.value.code, answer.out, answer.err

    return call


def test_a_file_is_made_and_its_proof_told(run, tmp_path):
    code, out, err = run("make", "quay.jpg", "--size", "4x5in@150", "--out", "prints")
    size = (tmp_path / "prints" / "quay_4x5in@150.jpg").stat().st_size
    assert (code, err) == (0, "")
    assert out == (
        f"prints/quay_4x5in@150.jpg: 750 × 600 px, 150 ppi, {bytes_words(size)}\n"
        "  1200 × 800 px, cut to 1000 × 800 (5:4, turned wide), ×0.75, makes 750 × 600 px: "
        "5 × 4 in at 150 ppi, a JPEG.\n"
    )


def test_json_holds_every_figure_of_the_contract(run):
    code, out, _ = run(
        "make", "quay.jpg", "pole.png", "--size", "4x5in@150", "--size", "300x300px",
        "--format", "png", "--centre", "0.9,0.5", "--json",
    )  # fmt: skip
    answer = json.loads(out)
    assert code == 0
    assert answer["failed"] == []
    assert len(answer["files"]) == 4
    first = answer["files"][0]
    assert first.keys() == {
        "photo", "file", "asked", "measured", "placement", "scale", "real_ppi", "trimmed",
        "trimmed_sides", "uncovered", "kept", "stretch", "copied", "printed", "seen", "sentence", "notes",
    }  # fmt: skip
    assert first["asked"] == {
        "width": 750, "height": 600, "ppi": 150.0, "format": "png", "at_most": None,
    }  # fmt: skip
    assert first["measured"].keys() == {
        "width", "height", "ppi", "bytes", "format", "profile", "bits", "sha256",
    }  # fmt: skip
    assert first["placement"] == {
        "cx": 700.0, "cy": 400.0, "width": 1000.0, "height": 800.0, "angle": 0.0, "corners": None,
    }  # fmt: skip
    assert first["trimmed_sides"]["right"] == 0
    for file in answer["files"]:
        with Image.open(file["file"]) as image:
            assert image.size == (file["asked"]["width"], file["asked"]["height"])
            assert image.size == (file["measured"]["width"], file["measured"]["height"])


def test_a_piece_is_cut_along_an_outline_and_what_is_none_makes_nothing(run, tmp_path):
    code, out, err = run("make", "quay.jpg", "--size", "4x4in@100 outline circle", "--out", "cut")
    assert (code, err) == (0, "")
    assert "4 × 4 in at 100 ppi, cut to a circle, a PNG." in out
    with Image.open(tmp_path / "cut" / "quay_4x4in@100-outline-circle.png") as image:
        assert (image.size, image.mode) == ((400, 400), "RGBA")
        clear = image.getchannel("A")
        assert (clear.getpixel((3, 3)), clear.getpixel((200, 200))) == (0, 255)
    ground = ("--format", "jpeg", "--ground", "#204080", "--out", "cut")
    code, _, _ = run("make", "quay.jpg", "--size", "400x400px outline ellipse", *ground)
    assert code == 0
    with Image.open(tmp_path / "cut" / "quay_400x400px-outline-ellipse.jpg") as image:
        assert image.mode == "RGB"
        corner = [band.getpixel((1, 1)) for band in image.split()]
    assert corner == pytest.approx([0x20, 0x40, 0x80], abs=6)
    before = sorted(tmp_path.rglob("*"))
    for outline, why in (
        ('path "M0 0L1 1"', "one closed path"),
        ('path "M0 0L3 0L0 1Z"', "leaves the square"),
        ("rounded 6", "unit of the corners' radius is missing"),
        ("blob", "which outline is missing"),
        (f'path "M0 0{"L1 1L0 1" * 900}Z"', "too long"),
    ):
        code, out, err = run("make", "quay.jpg", "--size", f"400x400px outline {outline}")
        assert (code, out) == (2, "")
        assert why in err
        assert len(err.splitlines()) == 1
    assert sorted(tmp_path.rglob("*")) == before


def test_a_piece_in_panels_makes_numbered_files_and_a_grid_that_cannot_be_none(run, tmp_path):
    wide = ("make", "quay.jpg", "--size", "200x250px panels 3", "--out", "cut", "--json")
    code, out, _ = run(*wide)
    files = json.loads(out)["files"]
    assert code == 0
    assert [(one["panel"], one["asked"]["width"], one["measured"]["height"]) for one in files] == [
        (1, 200, 250),
        (2, 200, 250),
        (3, 200, 250),
    ]
    names = [f"quay_200x250px-panels-3_{n}.jpg" for n in (1, 2, 3)]
    assert sorted(path.name for path in (tmp_path / "cut").iterdir()) == names
    (tmp_path / "cut" / names[1]).unlink()
    code, out, _ = run(*wide, "--skip-made")
    assert [one["panel"] for one in json.loads(out)["files"]] == [1, 2, 3]
    code, out, _ = run("tally", "quay.jpg", "--size", "200x250px panels 3")
    assert "makes 600 × 250 px, cut in 3 panels of 200 × 250 px side by side" in out
    for panels, why in (("0", "greater than 0"), ("200", "2 to 100"), ("2x", "number of rows")):
        code, out, err = run("make", "quay.jpg", "--size", f"200x250px panels {panels}")
        assert (code, out, len(err.splitlines())) == (2, "", 1)
        assert why in err


@pytest.mark.parametrize("ending", ["pdf", "png", "tiff", "jpg"])
def test_a_sheet_lays_every_photo_on_every_size_at_exactly_its_own(run, tmp_path, ending):
    out = f"sheets/proof.{ending}"
    call = ("sheet", "quay.jpg", "pole.png", "--size", "3x2in@100", "--size", "66x66mm@100")
    code, said, err = run(*call, "--paper", "12x9in@100", "--gap", "0.25in", "--out", out, "--json")
    assert (code, err) == (0, "")
    (sheet,) = json.loads(said)["sheets"]
    assert (sheet["page"], sheet["width"], sheet["height"], sheet["ppi"]) == (1, 12, 9, 100)
    sizes = sorted((one["width"], one["height"]) for one in sheet["pieces"])
    assert sorted(sorted(pair) for pair in sizes) == [[2, 3], [2, 3], *[[2.598425] * 2] * 2]
    for one in sheet["pieces"]:
        assert 0.4 <= one["x"] <= 12 - 0.4 - one["width"]
        assert round(one["x"] * 1000) == pytest.approx(one["x"] * 1000)  # exact decimals
    made = tmp_path / sheet["file"]
    if ending == "pdf":
        (page,) = PdfReader(made).pages
        assert (page.mediabox.width, page.mediabox.height) == (864, 648)
        return
    with Image.open(made) as image:
        assert image.size == (1200, 900)
    code, said, _ = run(*call, "--paper", "12x9in@100", "--out", out)
    assert (
        f"proof-2.{'tif' if ending == 'tiff' else ending}, page 1: 12 × 9, 4 pieces" in said
    )  # never over a file


def test_photos_fill_the_cells_of_a_face_one_each(run, tmp_path):
    face = ("--face", "384x160px", "--cells", "2x1", "--out", "sign.png")
    code, said, _ = run("sheet", "quay.jpg", "pole.png", *face, "--json")
    (sheet,) = json.loads(said)["sheets"]
    assert code == 0
    assert [(one["x"], one["width"], one["height"]) for one in sheet["pieces"]] == [
        (0, 192, 160),
        (192, 192, 160),
    ]
    with Image.open(tmp_path / "sign.png") as image:
        assert image.size == (384, 160)
    code, said, err = run("sheet", "quay.jpg", *face)
    assert (code, said, len(err.splitlines())) == (1, "", 1)
    assert "2 cells take 2 photos, one each; 1 are given" in err


def test_what_lies_on_no_sheet_is_told_and_the_rest_is_made(run, tmp_path):
    (tmp_path / "broken.jpg").write_bytes(b"no photo")
    call = (
        "sheet",
        "quay.jpg",
        "broken.jpg",
        "--size",
        "3x2in@100",
        "--size",
        "40x30in@30",
        "--paper",
        "A4@100",
    )
    code, said, _ = run(*call, "--out", "a.pdf", "--json")
    told = json.loads(said)
    assert code == 1
    assert [one["size"] for one in told["unplaced"]] == ["40x30in@30"]
    assert (
        "larger than 210 × 297 mm at 100 ppi with a margin of 10mm" in told["unplaced"][0]["reason"]
    )
    assert [one["photo"] for one in told["failed"]] == ["broken.jpg", "broken.jpg"]
    assert len(told["sheets"][0]["pieces"]) == 1
    assert (tmp_path / "a.pdf").is_file()


@pytest.mark.parametrize(
    ("said", "why"),
    [
        (["--out", "a.gif", "--paper", "A4@300"], "ends in none of .pdf, .png, .tiff and .jpg"),
        (["--out", "a.pdf"], "say one of --paper"),
        (["--out", "a.pdf", "--paper", "A4@300", "--face", "9x9px"], "say one of --paper"),
        (["--out", "a.png", "--face", "384x160px"], "go together"),
        (["--out", "a.png", "--face", "384x160px", "--cells", "0x1"], "Write columns × rows"),
        (
            ["--out", "a.png", "--face", "384x160px", "--cells", "1x1", "--gap", "lots"],
            "not a length",
        ),
        (["--out", "a.pdf", "--paper", "3:2"], "both edges"),
        (["--out", "a.pdf", "--paper", "2x2in@100", "--margin", "0mm"], "larger than 2 × 2 in"),
        (["--out", "a.pdf", "--paper", "A4@300", "--margin", "20cm"], "leaves nothing"),
        (["--out", "a.pdf", "--paper", f"{'9' * 200}x3in@300"], "too long|too many digits"),
    ],
)
def test_a_wrong_call_of_a_sheet_ends_in_one_line_and_makes_nothing(run, tmp_path, said, why):
    before = sorted(tmp_path.iterdir())
    code, out, err = run("sheet", "quay.jpg", "--size", "3x2in@100", *said)
    assert (code in (1, 2), out, len(err.splitlines())) == (True, "", 1)
    assert re.search(why, err)
    assert sorted(tmp_path.iterdir()) == before


def test_tally_tells_the_arithmetic_and_makes_nothing(run, tmp_path):
    before = sorted(tmp_path.iterdir())
    code, out, _ = run("tally", "pole.png", "--size", "4x5in@150")
    assert code == 0
    assert out.startswith("800 × 1200 px, cut to 800 × 1000 (4:5), ×0.75, makes 600 × 750 px")
    code, out, _ = run("tally", "pole.png", "--size", "4x5in@150", "--turn", "wide", "--json")
    answer = json.loads(out)
    assert (answer["asked"]["width"], answer["asked"]["height"]) == (750, 600)
    assert "measured" not in answer
    assert sorted(tmp_path.iterdir()) == before


def corner(path):
    with Image.open(path) as image:
        return image.convert("RGB").getpixel((0, 0))


# what the call says, then: pixels, uncovered, stretch, notes; quay.jpg has 1200 × 800 px
WHEN_SHAPES_DIFFER = [
    (["4x5in@150"], (750, 600), 0, 0, []),
    (["4x5in@150", "--differ", "extend"], (750, 600), 1 / 6, 0, []),
    (["4x5in@150 extend", "--ground", "#1e3a34"], (750, 600), 1 / 6, 0, []),
    (["4x5in@150", "--differ", "inside"], (750, 500), 0, 0, []),
    (["750x600px", "--differ", "stretch"], (750, 600), 0, -1 / 6, ["stretched"]),
    (["600x100px dot 1:4"], (600, 100), 0, 0, []),
    (["window 1300x700px extend"], (1300, 700), 1 / 13, 0, []),
]


@pytest.mark.parametrize(("said", "pixels", "uncovered", "stretch", "codes"), WHEN_SHAPES_DIFFER)
def test_where_shapes_differ_the_photo_lies_as_the_call_says(
    run, said, pixels, uncovered, stretch, codes
):
    code, out, _ = run("make", "quay.jpg", "--size", *said, "--format", "png", "--json")
    answer = json.loads(out)["files"][0]
    assert code == 0
    assert (answer["measured"]["width"], answer["measured"]["height"]) == pixels
    assert answer["uncovered"] == pytest.approx(uncovered)
    assert answer["stretch"] == pytest.approx(stretch)
    assert [note["code"] for note in answer["notes"]] == codes
    again = json.loads(run("tally", "quay.jpg", "--size", *said, "--format", "png", "--json")[1])
    assert again == {key: answer[key] for key in answer if key not in ("file", "measured")}
    if uncovered:
        ground = (30, 58, 52) if "--ground" in said else (255, 255, 255)
        assert corner(answer["file"]) == ground


def test_several_sizes_are_said_at_once_and_a_guess_is_offered_not_made(run, tmp_path):
    code, out, _ = run("make", "quay.jpg", "--size", "4x5in 150dpi, 300 wide", "--json")
    assert code == 0
    assert [(one["asked"]["width"], one["asked"]["ppi"]) for one in json.loads(out)["files"]] == [
        (750, 150), (300, None),
    ]  # fmt: skip
    code, _, err = run("make", "quay.jpg", "--size", "8x10")
    assert (code, err.count("\n")) == (2, 1)
    assert "Perhaps you mean one of these: 8x10in@300, 8x10cm@300, 4:5, 8x10px." in err


def test_a_whole_jpeg_is_relabelled_without_touching_its_pixel_data(run, tmp_path):
    exif = Image.Exif()
    exif[274], exif[0x010F] = 6, "Quay camera"
    samples.photo(tmp_path / "held.jpg", 1200, 800, dpi=(72, 72), exif=exif)
    code, out, _ = run("make", "held.jpg", "--size", "photo@240", "--json")
    answer = json.loads(out)["files"][0]
    assert code == 0
    assert (answer["measured"]["width"], answer["measured"]["height"]) == (800, 1200)
    assert answer["measured"]["ppi"] == 240
    before, after = (tmp_path / "held.jpg").read_bytes(), (tmp_path / answer["file"]).read_bytes()
    scan = before[before.index(b"\xff\xda") :]
    assert after.endswith(scan)
    with Image.open(answer["file"]) as image:
        assert (image.getexif()[274], image.getexif()[0x010F]) == (6, "Quay camera")
    for changes in (["--quality", "60"], ["--profile", "srgb"], ["--at-most", "60kB"]):
        answer = json.loads(run("make", "held.jpg", "--size", "photo@240", *changes, "--json")[1])
        other = (tmp_path / answer["files"][0]["file"]).read_bytes()
        assert not other.endswith(scan)
        assert changes[0] != "--at-most" or len(other) <= 60_000


@pytest.mark.parametrize(
    ("said", "format", "ppi"),
    [
        ("photo", "jpeg", 240),
        ("3:1", "tiff", 240),
        ("window 300x200px", "png", 240.0046),
        ("100%", "webp", 240),
        ("3:1@72", "jpeg", 72),
        ("40%", "jpeg", None),
        ("300x200px", "jpeg", None),
    ],
)
def test_the_photos_own_label_stays_where_its_own_pixels_come_out(run, tmp_path, said, format, ppi):
    samples.photo(tmp_path / "labelled.jpg", 1200, 800, dpi=(240, 240))
    samples.photo(tmp_path / "bare.jpg", 1200, 800)
    call = ("--size", said, "--format", format, "--name", "{photo}-{ppi}", "--json")
    code, out, _ = run("make", "labelled.jpg", "bare.jpg", *call)
    labelled, bare = json.loads(out)["files"]
    assert code == 0
    assert labelled["measured"]["ppi"] == pytest.approx(ppi, abs=1e-3)
    assert labelled["asked"]["ppi"] == pytest.approx(ppi, abs=5e-3)
    assert (labelled["real_ppi"] is None) == ("@" not in said)  # a label says nothing of a print
    assert bare["measured"]["ppi"] == (72 if "@" in said else None)


def test_bytes_and_profile_are_kept_as_the_call_says(run, tmp_path):
    said = ("--size", "600x400px", "--at-most", "30kB", "--profile", "p3", "--json")
    code, out, _ = run("make", "quay.jpg", *said)
    measured = json.loads(out)["files"][0]["measured"]
    assert code == 0
    assert measured["bytes"] <= 30_000
    assert "P3" in measured["profile"]
    (tmp_path / "lustre.icc").write_bytes(samples.p3())
    code, out, _ = run(
        "make", "quay.jpg", "--size", "600x400px", "--profile", "lustre.icc", "--json"
    )
    answer = json.loads(out)["files"][0]
    assert (code, "P3" in answer["measured"]["profile"]) == (0, True)
    assert "in lustre" in answer["sentence"]
    for wrong, why in (("lustre", "nor a file"), ("quay.jpg", "not a colour profile")):
        code, _, err = run("make", "quay.jpg", "--size", "600x400px", "--profile", wrong)
        assert (code, why in err, err.count("\n")) == (2, True, 1)
    code, out, _ = run("make", "quay.jpg", "--size", "600x400px", "--at-most", "3kB", "--json")
    assert code == 1
    assert (
        "exceeds the limit of 3 kB. Ask for fewer pixels" in json.loads(out)["failed"][0]["reason"]
    )


def test_more_than_is_set_to_be_made_is_refused(run, monkeypatch):
    monkeypatch.setenv("OAK_LEDGE_MOST_OUTPUT_MEGAPIXELS", "1")
    code, out, err = run("make", "quay.jpg", "--size", "900x600px", "--size", "1500x1000px")
    assert (code, "quay_900x600px" in out) == (1, True)
    assert "1500 × 1000 px is 2 megapixels; at most 1 are made" in err


def test_what_fails_does_not_hold_up_the_others(run):
    code, out, err = run(
        "make", "nowhere.jpg", "quay.jpg", ".", "--size", "300x200px", "--out", "o"
    )
    assert code == 1
    assert "o/quay_300x200px.jpg" in out
    assert "oak-ledge: nowhere.jpg: there is no such file\n" in err
    assert "oak-ledge: .: it is a folder" in err


def test_a_stopped_piece_is_made_only_on_a_persons_word(run, tmp_path):
    code, _, err = run("make", "quay.jpg", "--size", "6x8px")
    assert code == 1
    assert "inches: 6 × 8 in? Write 6x8in@300, or take it as it is with --allow unit-slip\n" in err
    assert not list(tmp_path.glob("*8px*"))
    code, out, _ = run("make", "quay.jpg", "--size", "6x8px", "--allow", "unit-slip")
    assert code == 0
    assert "6 × 8 px" in out


def test_names_follow_the_pattern_and_never_meet(run, tmp_path):
    for _ in range(2):
        run("make", "quay.jpg", "--size", "300x200px", "--name", "{photo}-{width}")
    assert (tmp_path / "quay-300.jpg").exists()
    assert (tmp_path / "quay-300-2.jpg").exists()
    run("make", "quay.jpg", "--size", "100%", "--name", "{photo}")
    with Image.open(tmp_path / "quay.jpg") as image:
        assert image.size == (1200, 800)
    assert (tmp_path / "quay-2.jpg").exists()


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["make", "quay.jpg", "--size", "8x"], "the height is missing at the end. Write it like"),
        (["make", "quay.jpg", "--size", "0x10in"], "the width must be greater than 0"),
        (["make", "quay.jpg", "--size", "8x10in@0"], "the resolution must be greater than 0"),
        (["make", "quay.jpg", "--size", "1e9x2px"], "“e9x2px” is not understood"),
        (["tally", "quay.jpg", "--size", "8x10in"], "needs its resolution"),
        (["make", "quay.jpg"], "no size was asked for. Say --size 8x10in@300"),
        (["make", "--size", "8x10in@300"], "Missing argument"),
        (["make", "quay.jpg", "--size", "100%", "--centre", "middle"], "like --centre 0.5,0.4"),
        (["make", "quay.jpg", "--size", "100%", "--centre", "2,0"], "outside the photo"),
        (["make", "quay.jpg", "--size", "100%", "--quality", "0"], "--quality"),
        (["make", "quay.jpg", "--size", "100%", "--format", "bmp"], "--format"),
        (["make", "quay.jpg", "--size", "100%", "--colour", "red"], "No such option: --colour"),
        (
            ["make", "quay.jpg", "--size", "100%", "--differ", "extend"],
            "“extend” needs a size that",
        ),
        (["make", "quay.jpg", "--size", "3:1", "--ground", "plaid"], "“plaid” is not a colour"),
        (["make", "quay.jpg", "--size", "3:1", "--at-most", "lots"], "Write it like 500kB or 4MB"),
        (["tally", "quay.jpg", "--size", "3:1", "--size", "2:1"], "one size. Ask once for each"),
        (
            ["tally", "quay.jpg", "--size", "3:1", "--differ", "x"],
            "'--differ': 'x' is not one of 't",
        ),
        (["tally", "quay.jpg", "--size", "3:1", "--corners", "1,2,3"], "are not four points"),
        (["tally", "quay.jpg", "--size", "3:1", "--corners", "0,0,9,9,9,0,0,9"], "bend inward"),
        (["tally", "quay.jpg", "--size", "3:1", "--fit-corners"], "Say them with --corners"),
        (["tally", "quay.jpg", "--size", "3:1", "--quarter", "4"], "--quarter"),
        (["fly"], "No such command 'fly'"),
    ],
)
def test_a_wrong_call_ends_with_2_and_one_line_that_says_how(run, arguments, words):
    code, out, err = run(*arguments)
    assert (code, out) == (2, "")
    assert words in err
    assert err.startswith("oak-ledge: ")
    assert err.count("\n") == 1


@pytest.mark.parametrize("name", list(samples.wrong_files()))
def test_a_wrong_file_ends_with_1_and_its_reason(run, tmp_path, name):
    data, words = samples.wrong_files()[name]
    (tmp_path / name).write_bytes(data)
    code, _, err = run("make", name, "--size", "100%", "--out", "made")
    assert code == 1
    assert words in err
    assert not list(tmp_path.glob("made/*"))


def test_the_library_is_kept_from_the_command_line(run, tmp_path):
    code, out, _ = run("sizes", "add", "4x5in@100", "--name", "Wall", "--group", "print")
    assert (code, out) == (0, "print: Wall: 4x5in@100\n")
    assert "print: Wall: 4x5in@100\n" in run("sizes", "list")[1]
    assert run("sizes", "export", "sizes.csv")[0] == 0
    code, _, err = run("sizes", "export", "sizes.csv")
    assert (code, "not written over" in err) == (1, True)
    assert run("sizes", "remove", "Wall")[1] == "deleted Wall: 4x5in@100\n"
    assert run("sizes", "remove", "Wall")[0] == 1
    assert "new: Wall\n" in run("sizes", "import", "sizes.csv", "--only-tell")[1]
    assert "Wall" not in run("sizes", "list")[1]
    assert "new: Wall\n" in run("sizes", "import", "sizes.csv")[1]
    (tmp_path / "broken.csv").write_text("name,size\na,8x")
    code, _, err = run("sizes", "import", "broken.csv")
    assert (code, "row 2: “8x” is not a size" in err) == (1, True)
    answer = json.loads(run("sizes", "list", "--json")[1])
    assert answer[-1]["name"] == "Wall"


def test_a_file_is_made_on_a_saved_size_and_like_another_photo(run):
    run("sizes", "add", "4x5in@100", "--name", "Wall")
    code, out, _ = run(
        "make", "pole.png", "--size-name", "Wall", "--like", "quay.jpg", "--out", "o", "--json"
    )
    answer = json.loads(out)["files"]
    assert code == 0
    assert [
        (f["measured"]["width"], f["measured"]["height"], f["measured"]["ppi"]) for f in answer
    ] == [
        (400, 500, 100),
        (1200, 800, 300),
    ]
    assert answer[0]["file"] == "o/pole_Wall.jpg"
    code, _, err = run("make", "pole.png", "--size-name", "Hall")
    assert (code, "there is no size “Hall”; there are 4 × 6 in print" in err) == (2, True)
    assert run("make", "pole.png", "--like", "nowhere.jpg")[0] == 2


def test_without_a_command_help_is_shown(run):
    code, out, _ = run()
    assert code == 0
    assert all(command in out for command in ("demo", "serve", "make", "tally"))


def test_a_taken_port_and_a_wrong_setting_are_told(run, monkeypatch):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        code, _, err = run("serve", "--data", "d", "--port", port)
    assert code == 2
    assert f"cannot listen on 127.0.0.1:{port}" in err
    monkeypatch.setenv("OAK_LEDGE_MOST_MEGAPIXELS", "many")
    code, _, err = run("make", "quay.jpg", "--size", "100%")
    assert code == 2
    assert "OAK_LEDGE_MOST_MEGAPIXELS=many" in err


@pytest.mark.thorough
def test_the_demo_shows_work_half_done_and_fills_only_an_empty_folder(workspace):
    assert fill(workspace, NOW)
    every = jobs.every(workspace).jobs
    counts: dict[str, int] = {}
    for job in every:
        for name, count in jobs.view(workspace, job.id).counts.items():
            counts[name] = counts.get(name, 0) + count
    assert {"made", "approved", "new", "to look at"} <= counts.keys()
    assert not fill(workspace, NOW)
    assert jobs.every(workspace).jobs == every


def test_the_demo_has_its_kinds_of_photos():
    held = {}
    for name in NAMES:
        with Image.open(PHOTOS / f"{name}.jpg") as image:
            held[name] = (image.size, image.getexif().get(274, 1))
    assert len(held) >= 8
    assert any(size[0] >= 2 * size[1] for size, _ in held.values())
    assert any(size[0] < size[1] for size, _ in held.values())
    assert any(tag > 1 for _, tag in held.values())


def test_a_turned_crop_is_made_and_its_figures_told(run):
    said = ("--size", "4x5in@100", "--angle", "3.7", "--format", "png", "--json")
    code, out, _ = run("make", "quay.jpg", *said)
    answer = json.loads(out)["files"][0]
    assert code == 0
    assert (answer["measured"]["width"], answer["measured"]["height"]) == (500, 400)
    assert answer["placement"]["angle"] == 3.7
    assert answer["placement"]["width"] < 1000
    assert (answer["uncovered"], answer["trimmed"] > 0.2) == (0, True)
    assert answer["sentence"].startswith("1200 × 800 px, turned 3.7°, cut to ")
    assert run("make", "quay.jpg", "--size", "100%", "--angle", "200")[0] == 2


def test_a_photo_is_turned_mirrored_and_squared_up(run):
    said = ("--size", "4x5in@100", "--format", "png", "--json")
    answer = json.loads(run("make", "quay.jpg", *said, "--quarter", "1", "--mirror")[1])["files"][0]
    assert (answer["measured"]["width"], answer["measured"]["height"]) == (400, 500)
    corners = "100,80,1100,150,1150,700,60,760"
    answer = json.loads(run("make", "quay.jpg", *said, "--corners", corners)[1])["files"][0]
    assert (answer["measured"]["width"], answer["measured"]["height"]) == (500, 400)
    assert answer["placement"]["corners"] == [[100, 80], [1100, 150], [1150, 700], [60, 760]]
    assert answer["uncovered"] == 0
    assert answer["sentence"].startswith("four corners squared up to ")
    free = json.loads(run("tally", "quay.jpg", "--size", "100%", "--corners", corners, "--json")[1])
    assert free["asked"]["width"] / free["asked"]["height"] != pytest.approx(1.25, abs=0.01)


def test_files_that_are_there_and_measure_as_asked_are_skipped(run, tmp_path):
    call = ("make", "quay.jpg", "pole.png", "--size", "4x5in@100", "--size", "300x200px")
    assert run(*call, "--out", "prints")[0] == 0
    made = {path: path.stat().st_mtime_ns for path in (tmp_path / "prints").iterdir()}
    assert len(made) == 4
    first, second, *_ = sorted(made)
    first.unlink()
    second.write_bytes(first.name.encode())  # damaged since
    code, out, _ = run(*call, "--out", "prints", "--skip-made", "--json")
    answer = json.loads(out)
    assert code == 0
    assert (len(answer["skipped"]), len(answer["files"])) == (2, 2)
    assert first.exists()
    again = {path: path.stat().st_mtime_ns for path in made if path not in (first, second)}
    assert all(made[path] == when for path, when in again.items())
    assert "there already" in run(*call, "--out", "prints", "--skip-made")[1]


def test_files_are_sorted_into_sub_folders_and_found_there_again(run, tmp_path):
    call = (
        "make",
        "quay.jpg",
        "pole.png",
        "--size",
        "4x5in@100",
        "--out",
        "prints",
        "--by",
        "photo",
    )
    assert run(*call)[0] == 0
    made = {str(path.relative_to(tmp_path / "prints")) for path in tmp_path.glob("prints/*/*")}
    assert made == {"quay/quay_4x5in@100.jpg", "pole/pole_4x5in@100.jpg"}
    assert len(json.loads(run(*call, "--skip-made", "--json")[1])["skipped"]) == 2
    assert run(*call[:-1], "weather")[0] == 2


def test_a_ground_is_continued_by_the_try_asked_for_and_the_same_call_gives_the_same(run, tmp_path):
    samples.photo(tmp_path / "small.png", 150, 100)
    call = ["make", "small.png", "--size", "16:9 extend", "--ground", "continued", "--json"]
    call += ["--format", "png"]
    answers = [json.loads(run(*call, "--try", n, "--out", n)[1]) for n in ("1", "2", "1")]
    first, second, again = (one["files"][0] for one in answers)
    note = next(note for note in first["notes"] if note["code"] == "continued")
    said = "28 % of this piece is not in the photo: over a quarter is invented."
    assert (note["level"], said in note["text"]) == ("look", True)
    assert (
        first["measured"]["sha256"] == again["measured"]["sha256"] != second["measured"]["sha256"]
    )
    with Image.open(first["file"]) as made, Image.open("small.png") as photo:
        inside = made.crop((21, 4, 171, 104))  # of 192 × 108
        assert inside.tobytes() == photo.convert(made.mode).tobytes()


def test_what_a_mask_says_is_painted_over_and_nothing_else(run, tmp_path):
    samples.photo(tmp_path / "small.png", 150, 100)
    mask = Image.new("L", (150, 100), 0)
    mask.paste(255, (60, 40, 80, 55))
    mask.save(tmp_path / "mask.png")
    call = ("make", "small.png", "--size", "100%", "--format", "png", "--paint-over", "mask.png")
    code, out, _ = run(*call, "--size", "96x64px", "--json")
    whole, less = json.loads(out)["files"]
    assert (code, less["measured"]["width"]) == (0, 96)
    with Image.open(whole["file"]) as made, Image.open("small.png") as photo:
        differ = ImageChops.difference(made.convert("RGB"), photo.convert("RGB"))
        left, top, right, bottom = differ.getbbox() or (0, 0, 0, 0)
    assert (left, top) >= (60, 40)
    assert (right <= 80, bottom <= 55, right - left > 10) == (True, True, True)
    Image.new("L", (150, 100), 0).save(tmp_path / "mask.png")
    code, _, err = run(*call)
    assert (code, "nothing is painted over" in err) == (2, True)
    Image.new("L", (15, 10), 255).save(tmp_path / "mask.png")
    code, _, err = run(*call)
    assert (code, "the mask is 15 × 10 px" in err, err.count("\n")) == (2, True, 1)
    mask.save(tmp_path / "whole.png")
    (tmp_path / "cut.png").write_bytes((tmp_path / "whole.png").read_bytes()[:-40])
    (tmp_path / "words.png").write_text("light and dark")
    before = sorted(tmp_path.iterdir())
    for name in ("cut.png", "words.png", "nowhere.png"):
        for command in ("make", "tally"):
            code, said, err = run(command, "small.png", "--size", "100%", "--paint-over", name)
            assert (code, said, err.count("\n"), name in err) == (2, "", 1, True)
    assert sorted(tmp_path.iterdir()) == before


def test_a_thing_is_cut_out_by_a_mask_or_as_it_is_found(run, tmp_path):
    y, x = np.mgrid[0:200, 0:300]
    photo = np.full((200, 300, 3), (214, 212, 206), np.uint8)
    thing = (x - 150) ** 2 + (y - 100) ** 2 < 50**2
    photo[thing] = (30, 60, 40)
    Image.fromarray(photo).save(tmp_path / "ball.png")
    Image.fromarray((255 * thing).astype(np.uint8)).save(tmp_path / "mask.png")
    call = ("make", "ball.png", "--size", "300x200px png", "--json", "--cut-out")
    for how, more in (("mask.png", ()), ("found", ()), ("found", ("--keep-zone", "95,45,110,110"))):
        for ground, corner in (("clear", (255, 255, 255, 0)), ("#3060a0", (48, 96, 160))):
            code, out, _ = run(*call, how, *more, "--ground", ground)
            assert code == 0
            with Image.open(tmp_path / json.loads(out)["files"][0]["file"]) as made:
                assert made.getpixel((3, 3)) == corner
                assert tuple(np.asarray(made)[100, 150, :3]) == (30, 60, 40)
    Image.new("L", (300, 200), 0).save(tmp_path / "dark.png")
    Image.new("L", (30, 20), 255).save(tmp_path / "small.png")
    for wrong, why in (
        ("dark.png", "dark all over"),
        ("small.png", "30 × 20 px"),
        ("none.png", "there is no mask"),
    ):
        for command in ("make", "tally"):
            code, _, err = run(command, "ball.png", "--size", "300x200px", "--cut-out", wrong)
            assert (code, why in err, err.count("\n")) == (2, True, 1)


def test_a_photo_stands_behind_where_the_ground_is(run, tmp_path):
    Image.new("RGB", (90, 60), (40, 120, 200)).save(tmp_path / "behind.png")
    call = (
        "make",
        "quay.jpg",
        "--size",
        "300x900px png extend",
        "--json",
    )
    code, out, _ = run(*call, "--ground", "picture:behind.png")
    assert code == 0
    with Image.open(tmp_path / json.loads(out)["files"][0]["file"]) as made:
        assert [made.getpixel(at) for at in ((5, 5), (290, 890))] == [(40, 120, 200)] * 2
    for wrong in ("picture:", "picture:none.png", "picture:."):
        code, _, err = run(*call, "--ground", wrong)
        assert (code, err.count("\n")) == (2, 1)


def test_no_subject_is_looked_for_where_that_is_switched_off(run, monkeypatch):
    found, _, _ = run("make", "quay.jpg", "--size", "400x400px fills 80%", "--cut-out", "found")
    monkeypatch.setenv("OAK_LEDGE_FIND_SUBJECTS", "false")
    code, _, err = run("make", "quay.jpg", "--size", "400x400px", "--cut-out", "found")
    assert (found, code, "not looked for" in err) == (0, 1, True)
    code, _, _ = run(
        "make",
        "quay.jpg",
        "--size",
        "400x400px",
        "--cut-out",
        "found",
        "--keep-zone",
        "300,200,400,300",
    )
    assert code == 0


def test_a_mark_is_laid_over_every_piece_and_told_where_it_covers(run, tmp_path):
    Image.new("RGBA", (40, 20), (255, 0, 0, 255)).save(tmp_path / "mark.png")
    asked = ("--size", "400x400px png", "--mark", "mark.png", "--mark-at", "top-right", "--mark-width", "80px", "--mark-margin", "10px")  # fmt: skip
    code, out, _ = run(
        "make", "quay.jpg", "pole.png", *asked, "--json", "--keep-zone", "600,0,150,150"
    )
    quay, pole = json.loads(out)["files"]
    assert code == 0
    for answer in (quay, pole):
        pixels = Image.open(tmp_path / answer["file"]).convert("RGB")
        assert {pixels.getpixel(at) for at in ((310, 10), (389, 49))} == {(255, 0, 0)}
        assert (255, 0, 0) not in {pixels.getpixel(at) for at in ((309, 10), (390, 49), (389, 50))}
    covered = [
        "mark-covers" in [note["code"] for note in answer["notes"]] for answer in (quay, pole)
    ]
    assert covered == [False, True]
    half, _, _ = run("make", "quay.jpg", *asked, "--mark-opacity", "50%", "--name", "half")
    plain, _, _ = run("make", "quay.jpg", *asked[:2], "--name", "plain")
    assert (half, plain) == (0, 0)
    before, after = (
        Image.open(tmp_path / f"{name}.png").convert("RGB") for name in ("plain", "half")
    )
    there = ImageChops.difference(before, after).getbbox()
    assert there == (310, 10, 390, 50)
    red, was = (np.asarray(picture)[30, 350].astype(float) for picture in (after, before))
    assert np.abs(red - (was + np.array((255, 0, 0))) / 2).max() <= 1


@pytest.mark.parametrize(
    ("options", "why"),
    [
        (("--mark", "none.png"), "cannot be opened"),
        (("--mark", "quay.jpg"), "a PNG, a WebP or an SVG"),
        (("--mark", "pole.png", "--mark-width", "x"), "Write --mark-width 20%"),
        (("--mark", "pole.png", "--mark-opacity", "0%"), "Write --mark-width 20%"),
        (("--mark", "pole.png", "--mark-at", "nowhere"), "nowhere"),
        (("--keep-zone", "1,2,3"), "Write four numbers"),
        (("--keep-zone", "1,2,nan,4"), "Write four numbers"),
        (("--ground", "clear", "--format", "jpeg"), "holds nothing clear"),
    ],
)
def test_a_mark_or_zone_that_can_not_be_is_a_wrong_call(run, options, why):
    code, out, err = run("make", "quay.jpg", "--size", "400x400px", *options)
    assert (code, out) == (2, "")
    assert why in err


def test_what_fills_a_piece_and_what_is_clear_come_out_of_the_command(run, tmp_path):
    code, out, _ = run(
        "make", "quay.jpg", "--size", "400x400px extend fills 50%", "--keep-zone", "500,300,200,100",
        "--ground", "clear", "--json",
    )  # fmt: skip
    (answer,) = json.loads(out)["files"]
    assert code == 0
    assert (answer["placement"]["cx"], answer["placement"]["width"]) == (600, 400)
    assert answer["measured"]["format"] == "png"
    code, out, _ = run("make", "quay.jpg", "--size", "400x400px on clear extend", "--json")
    (answer,) = json.loads(out)["files"]
    pixels = Image.open(tmp_path / answer["file"])
    alpha = pixels.getchannel("A")
    seen = (pixels.mode, alpha.getpixel((5, 5)), alpha.getpixel((200, 200)))
    assert seen == ("RGBA", 0, 255)
    code, out, err = run(
        "make", "quay.jpg", "--size", "40x40px", "--mark", "pole.png", "--mark-width", "90%"
    )
    assert code == 1
    assert "make it smaller" in err
