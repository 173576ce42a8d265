from __future__ import annotations

import csv
import io
import json

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.file.profile_file import receiver_profile
from oak_ledge.core.sizes.geometry import inches
from oak_ledge.core.sizes.text.exchange import COLUMNS, read_file, write_csv, write_json
from tests import samples, strategies
from tests.samples import size

names = st.text(st.characters(blacklist_categories=["Cs", "Cc"]), max_size=60)
files = st.fixed_dictionaries(
    {
        "format": st.sampled_from(["jpeg", "png", "tiff", "webp", "avif"]),
        "quality": st.integers(1, 100),
        "at_most": st.none() | st.integers(1, 10**9),
        "metadata": st.sampled_from(["keep", "copyright", "none"]),
        "location": st.booleans(),
        "fine_colour": st.booleans(),
        "compression": st.sampled_from(["lzw", "deflate"]),
    }
)
profiles = st.sampled_from(["keep", "srgb", "p3", "grey"]).map(lambda word: {"profile": word})
supplied = {"profile": "receiver", "icc": receiver_profile("lab", samples.SRGB).model_dump()}
mats = {"outer": "20x24in", "window": "7.5x9 1/2in"}
frames = st.sampled_from(
    [None, {}, {"opening": "30x40cm", "lip": "1mm"}, {"mat": mats, "moulding": "1 1/8in"}]
)


@st.composite
def libraries(draw):
    found = []
    for one in draw(st.lists(strategies.sizes, max_size=6)):
        low = draw(st.none() | st.integers(1, 600))
        said = {
            "name": draw(names),
            "group": draw(st.sampled_from(["print", "frame", "marketplace", "screen", "own"])),
            "receiver": None
            if low is None
            else {"low": low, "high": low + draw(st.integers(0, 300))},
            "file": draw(files) | draw(profiles | st.just(supplied)),
            "ground": draw(st.sampled_from(["white", "black", "#f3efe6"])),
        }
        if one.shape.kind != "window":
            said["method"] = draw(st.sampled_from(["auto", "mitchell", "nearest"]))
            said["sharpen_for"] = draw(st.sampled_from(["off", "screen", "rough"]))
            said["sharpen"] = draw(st.none() | st.integers(0, 100))
        if one.differ != "inside" and min(inches(one) or (0,)) > 1:
            said["frame"] = draw(frames)
        found.append(type(one).model_validate(one.model_dump() | said))
    return tuple(found)


@given(libraries())
def test_a_library_comes_back_from_json_and_csv_as_it_was(library):
    assert read_file(write_json(library)) == library
    assert read_file(write_csv(library)) == library


@pytest.mark.parametrize(
    ("text", "changes"),
    [
        ("8x10in@300 outline rounded 6mm", {"bleed": "3mm"}),
        ('900x600px outline path "M0.5 0L1 1L0 1Z"', {}),
        ("20x30cm@200 extend panels 2x2 overlap 10mm", {}),
        ("35x45mm@600 head 32-36mm eyes 50-60%", {}),
        ("40x60cm@200", {"wrap": "4cm", "sides": {"ground": "mirror", "marks": True}}),
        ("40x60cm@200", {"wrap": "4cm", "sides": "#1e3a34"}),
        ("40x60cm@200", {"wrap": "4cm", "sides": "continued"}),
        ("384x160px", {"goes_to": "=Sign, on the quay"}),
    ],
)
def test_pieces_of_more_than_one_rectangle_come_back_too(text, changes):
    one = size(text, name="one", **changes)
    assert read_file(write_json([one])) == (one,)
    assert read_file(write_csv([one])) == (one,)


def test_a_spreadsheet_runs_nothing_of_a_library():
    text = write_csv([size("8x10in@300", name="=HYPERLINK(1)"), size("100%", name="@now")])
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [row["name"] for row in rows] == ["'=HYPERLINK(1)", "'@now"]
    assert tuple(rows[0]) == COLUMNS


def damaged(change):
    answer = json.loads(write_json([size("8x10in@300", name="a"), size("100%", name="b")]))
    change(answer["sizes"][1])
    return json.dumps(answer)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "no column “name”"),
        ("name,colour\na,b", "no column “size”; its first row must be: name, group"),
        ("name,size\na,8x10in@300\nb,8x", "row 3: “8x” is not a size"),
        ("name,size,lowest ppi\na,100%,many", "row 2: invalid literal"),
        ("name,size,format\na,100%,bmp", "row 2: file.format: Input should be"),
        (write_json([size("100%")])[:-20], "damaged at line"),
        ('{"kind": "something else", "sizes": []}', "kind: Input should be 'oak-ledge sizes'"),
        (damaged(lambda one: one.update(colour="red")), "sizes.1.colour: Extra inputs"),
        (damaged(lambda one: one.update(size_version=2)), "sizes.1.size_version"),
        (damaged(lambda one: one["shape"].update(percent="0")), "percent=0 must be above 0"),
        (damaged(lambda one: one["shape"].pop("kind")), "sizes.1.shape"),
        ("[1, 2]", "the file: "),
        ("{" + " " * 10_000_001, "larger than 10 MB"),
    ],
)
def test_a_damaged_library_is_refused_by_what_is_wrong(text, words):
    with pytest.raises(SizeError) as answer:
        read_file(text)
    assert words in str(answer.value)
