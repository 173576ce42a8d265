from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.errors import SizeError, SizeTextError
from oak_ledge.core.sizes.size import size_from
from oak_ledge.core.sizes.text.read import read_marked, read_size
from oak_ledge.core.sizes.text.readings import readings
from oak_ledge.core.sizes.text.sentence import say_parts, say_size
from oak_ledge.core.sizes.text.write import write_size
from tests import strategies
from tests.samples import size

READS = [
    ("8x10in@300", "8x10in@300"),
    ("8 x 10 in @ 300 ppi", "8x10in@300"),
    ("8in × 10in @300", "8x10in@300"),
    ('8"x10"@300', "8x10in@300"),
    ("8″×10″@300", "8x10in@300"),
    ("8 1/2 x 11 in @ 300", "8.5x11in@300"),
    ("8,5x11in@300", "8.5x11in@300"),
    ("1/3x1/2 inch@300", "1/3x0.5in@300"),
    ("20×30 CM@300", "20x30cm@300"),
    ("210x297mm@300", "210x297mm@300"),
    ("20x30cm@118.11 px/cm", "20x30cm@299.9994"),
    ("1200x1600px", "1200x1600px"),
    ("1200 X 1600 px @ 72", "1200x1600px@72"),
    ("1200x1600px suit", "1200x1600px suit"),
    ("8x10in@300 suit", "8x10in@300"),
    ("8x10in@300 FIXED", "8x10in@300 fixed"),
    ("100%", "100%"),
    ("33 1/3 %", "33 1/3%"),
    ("long 12 in @ 220", "long 12in@220"),
    ("SHORT 2000px", "short 2000px"),
    ("width 18,5cm@300", "width 18.5cm@300"),
    ("height 900 px", "height 900px"),
    ("3:1", "3:1"),
    ("1.85 : 1 fixed", "1.85:1 fixed"),
    ("16:9@300", "16:9@300"),
    ("within 2048x2048px", "within 2048x2048px"),
    ("within 20x30cm enlarge @300", "within 20x30cm enlarge@300"),
    ("window 2560 x 1440 px", "window 2560x1440px"),
    ("photo", "photo"),
    ("Photo @ 240", "photo@240"),
    ("384x160px dot 2:1", "384x160px dot 2:1"),
    ("long 400px Dot 4 : 6 SUIT", "long 400px dot 2:3 suit"),
    ("8x10in @300 fixed extend", "8x10in@300 fixed extend"),
    ("8x10in@300 inside suit", "8x10in@300 inside"),
    ("3:1 extend", "3:1 extend"),
    ("2000x2000px stretch", "2000x2000px stretch"),
    ("window 900x900px extend", "window 900x900px extend"),
    ("8x10in@300 trim", "8x10in@300"),
    ("8x10in 300ppi", "8x10in@300"),
    ("8 x 10 inches at 300 dpi", "8x10in@300"),
    ("8 by 10 in at 300", "8x10in@300"),
    ("20x30cm 118.11 px/cm", "20x30cm@299.9994"),
    ("600 wide", "width 600px"),
    ("600px Wide", "width 600px"),
    ("18,5 cm high 300 ppi", "height 18.5cm@300"),
    ("2048px long edge", "long 2048px"),
    ("longest side 12in@220", "long 12in@220"),
    ("2000 pixels short", "short 2000px"),
    ("A4@300", "210x297mm@300"),
    ("a3 300dpi extend", "297x420mm@300 extend"),
    ("Letter at 240", "8.5x11in@240"),
    ("1080p", "1920x1080px"),
    ("full HD", "1920x1080px"),
    ("50 %", "50%"),
]


@pytest.mark.parametrize(("text", "written"), READS)
def test_a_size_is_read_as_people_write_it(text, written):
    assert write_size(read_size(text)) == written


@given(strategies.sizes, strategies.line_settings)
def test_reading_what_was_written_gives_the_size_back(asked, said):
    try:
        asked = size_from(dict(asked) | said)
    except SizeError:
        assume(False)  # a frame on a screen, and other things that cannot be
    assert read_size(write_size(asked)) == asked


LINES = [
    ("8x10in@300 jpeg, quality 85, at most 300kB, no location", "8x10in@300 quality 85 at most 300kB no location"),
    ("5x7in, tall, 300 dpi", "5x7in@300 fixed"),
    ("5x7in@300 WIDE bleed 3mm", "7x5in@300 fixed bleed 3mm"),
    ("16:9 tall", "9:16 fixed"),
    ("1200x1600px extend on blur png", "1200x1600px extend on blur png"),
    ("3:2 on Black", "3:2 on black"),
    ("30x40cm@240 mat 40x50cm window 28x38cm lip 5mm", "30x40cm@240 lip 5mm mat 40x50cm window 28x38cm"),
    ("20x30cm@240 opening 20x30cm, moulding 1/2 in", "20x30cm@240 opening 20x30cm moulding 0.5in"),
    ("12x16in@150 wrap 38mm sides mirrored", "12x16in@150 wrap 38mm sides mirrored"),
    ("12x16in@150 wrap 1 1/2in sides #f3efe6", "12x16in@150 wrap 1.5in sides #f3efe6"),
    ("long 2000px jpg at most 1,5MB srgb", "long 2000px at most 1.5MB srgb"),
    ("long 2000px, sharpen screen, crisp", "long 2000px crisp sharpen screen"),
    ("8x10in@300 sharpen rough 40 metadata copyright", "8x10in@300 metadata copyright sharpen rough 40"),
    ('100% tif named "{photo}-{number}"', '100% tiff named "{photo}-{number}"'),
    ("900x900px outline circle", "900x900px outline circle"),
    ("900x900px outline circle jpeg", "900x900px outline circle jpeg"),
    ("4x5in@200 panels 3 overlap 5mm, grey", "4x5in@200 panels 3 overlap 5mm grey"),
    ("free", "100%"), ("no size", "100%"), ("Crop, png", "100% png"), ("16 by 9", "16:9"), ("3 by 2 png", "3:2 png"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "written"), LINES)
def test_one_line_says_all_of_a_size(text, written):
    asked = read_size(text)
    assert write_size(asked) == written
    assert read_size(written) == asked


@pytest.mark.parametrize(
    ("text", "at", "says"),
    [
        ("8x10in@300 blead 3mm", 11, "“blead 3mm” isn't understood here; the nearest known word is bleed"),
        ("8x10in@300 jpgs", 11, "the nearest known words are jpg, jpeg"),
        ("8x10in@300 zzzz", 11, "“zzzz” isn't understood here. Write"),
        ("8x10in@300 bleed", 16, "the length of “bleed” is missing, with its unit. Write it like bleed 3mm."),
        ("8x10in@300 png jpeg", 15, "“jpeg” says it a second time"),
        ("8x10in@300 300ppi", 11, "“the resolution” says it a second time"),
        ("8x10in@300 quality 101", 19, "a quality is a whole number from 1 to 100"),
        ("8x10in@300 at most", 18, "how many bytes is missing"),
        ("8x10in@300 on velvet", 14, "what the ground is stands behind “on”"),
        ("8x10in@300 mat 30x40cm", 22, "a mat has a window. Write it like mat 40x50cm window 28x38cm."),
        ("8x10in@300 named photo", 17, "the pattern of names is missing, in quotes"),
        ("8x10in@300 metadata some", 20, "metadata all, metadata copyright or metadata none"),
        ("8x10in@300 sharpen it", 19, "what it is sharpened for is missing"),
        ("long 900px tall", 0, "“tall” needs two edges"),
        ("1200x900px bleed 3mm", 0, "frame, bleed and wrap go with a print"),
    ],
)  # fmt: skip
def test_what_a_line_can_not_say_is_told_with_the_nearest_it_can(text, at, says):
    with pytest.raises(SizeTextError) as told:
        read_size(text)
    assert says in str(told.value)
    assert told.value.at == at


def test_what_a_line_says_is_read_back_in_its_sentence():
    asked = "8x10in@300 bleed 3mm png gentle no location"
    said = {part.part: part.words for part in say_parts(read_size(asked)) if part.part}
    assert said["edges"] == "3 mm bleed all round"
    assert (said["pixels"], said["file"]) == ("resampled gentle", "no location")
    marked = {span.part: asked[span.start : span.end] for span in read_marked(asked)[1]}
    assert (marked["edges"], marked["pixels"]) == ("bleed 3mm", "gentle")


# text, where reading stops, what the sentence must hold
WRONG = [
    ("", 0, "nothing to read"),
    ("8x", 2, "the height is missing at the end"),
    ("8", 1, "the height is missing"),
    ("x10in@300", 0, "the width is missing before “x10in@300”"),
    ("0x10in", 0, "the width must be greater than 0"),
    ("8x0in@300", 2, "the height must be greater than 0"),
    ("8x10in@0", 7, "the resolution must be greater than 0"),
    ("8x10in@", 7, "the resolution is missing"),
    ("8x10in", 6, "needs its resolution. Write it behind an @, like 8x10in@300."),
    ("8x10", 4, "the unit is missing. Say in, cm, mm or px"),
    ("1e9x2px", 1, "“e9x2px” is not understood"),
    ("8x10ft@300", 4, "“ft@300” is not understood"),
    ("8inx10cm@300", 6, "width in in and height in cm cannot be mixed"),
    ("8x10in@300 please", 11, "“please” isn't understood here"),
    ("8/0x10in@300", 0, "divides by zero"),
    ("8 10in@300", 2, "stands where × and the height should"),
    ("-8x10in@300", 0, "the width is missing"),
    ("9" * 40 + "x1px", 0, "too many digits"),
    ("999999999x3px", 0, "more than the 300000 px"),
    ("x" * 600, 0, "too long"),
    ("long", 4, "the length of the edge is missing"),
    ("long 12", 7, "Say in, cm, mm or px: long 12in@300 or long 12px."),
    ("short 20cm", 10, "Write it behind an @, like short 20cm@300."),
    ("3:", 2, "the second half of the ratio is missing"),
    ("1000:1", 0, "must lie between 1:100 and 100:1"),
    ("window 8x10in", 6, "whole photo pixels. Write it like window 2560x1440px."),
    ("within 8x10in", 13, "like within 8x10in@300."),
    ("0%", 0, "the width must be greater than 0"),
    (
        "photograph",
        0,
        "no size is called “photograph”. Write one, as 8x10in 300ppi. The nearest known word is photo.",
    ),
    ("100% extend", 0, "“extend” needs a size that fixes a shape"),
    ("long 900px inside", 0, "“inside” needs a size that fixes a shape"),
    ("3:1 stretch", 0, "“stretch” scales the photo, and a ratio does not"),
    ("8x10in@300 dot 2:1", 0, "a dot belongs to a screen"),
    ("384x160px dot 2", 15, "as its width to its height. Write it like dot 2:1."),
    ("384x160px dot 20:1", 0, "must lie between 1:10 and 10:1"),
    ("384x160px suit fixed", 15, "“fixed” says it a second time"),
    ("384x160px extend trim", 17, "“trim” says it a second time"),
    ("60 wide", 2, "the unit is missing. Say in, cm, mm or px: width 60in@300 or width 60px."),
    ("A12@300", 0, "there is no paper A12. They go from A0 to A10."),
]


# a text that could mean several things, and what is offered, the likeliest first
MEANT = [
    ("8x10", "8x10in@300 | 8x10cm@300 | 4:5 | 8x10px"),
    ("8x10 at 240 dpi", "8x10in@240 | 8x10cm@240 | 4:5 | 8x10px@240"),
    ("210x297", "210x297px | 210x297mm@300 | 70:99"),
    ('8"x10"', "8x10in@300 | 8x10in@240"),
    ("8x10in 300", "8x10in@300"),
    ("A4 ", "210x297mm@300 | 210x297mm@240"),
    ("60 wide", "width 60in@300 | width 60cm@300 | width 60px"),
    ("long 12", "long 12in@300 | long 12cm@300 | long 12px"),
    ("600", "long 600px | width 600px | height 600px"),
    ("16/9", "16:9"),
    ("4K", "3840x2160px | 4096x2160px"),
    ("8x10ft", ""),
    ("lighthouse", ""),
    ("9" * 300, ""),
]


@pytest.mark.parametrize(("text", "offered"), MEANT)
def test_where_it_must_be_guessed_readings_are_offered(text, offered):
    assert " | ".join(write_size(one) for one in readings(text)) == offered


@pytest.mark.parametrize(("text", "at", "words"), WRONG)
def test_what_is_not_a_size_is_told_where_why_and_how(text, at, words):
    with pytest.raises(SizeTextError) as answer:
        read_size(text)
    assert words in str(answer.value)
    assert answer.value.at == at
    assert str(answer.value).endswith(".")


# each part of the sentence, and the part of the text it stands for
@pytest.mark.parametrize(
    ("text", "parts"),
    [
        (" 8x10in @300", {"8x10in": "8 × 10 in", "@300": " at 300 ppi"}),
        (
            "384x160px@72  dot 2:1 fixed inside",
            {
                "384x160px": "384 × 160 px",
                "@72": " at 72 ppi",
                "dot 2:1": "dots 2 to 1 in shape",
                "fixed": "as written",
                "inside": "fitted inside, so that one edge may come out shorter",
            },
        ),
        ("long 12in@220", {"long 12in": "Long edge 12 in", "@220": " at 220 ppi"}),
        ("3:1 extend", {"3:1": "A crop of 3:1 with its pixels as they are", "extend": "extended with white"}),
    ],
)  # fmt: skip
def test_each_part_of_the_text_has_its_part_of_the_sentence(text, parts):
    asked, spans = read_marked(text)
    said = {answer.part: answer.words for answer in say_parts(asked)}
    assert {text[span.start : span.end]: said[span.part] for span in spans} == parts


@given(strategies.sizes)
def test_the_parts_of_text_and_sentence_are_whole(asked):
    text = write_size(asked)
    spans = read_marked(text)[1]
    rest = text
    for span in reversed(spans):
        rest = rest[: span.start] + rest[span.end :]
    assert not rest.strip()
    said = say_parts(asked)
    assert "".join(answer.words for answer in said) == say_size(asked)
    assert {span.part for span in spans} <= {answer.part for answer in said}


@given(st.text(alphabet='0123456789 x×.,/@%incmpxfixedsuitdotwheaghlr:"″', max_size=24))
def test_any_text_is_a_size_or_a_plain_no(text):
    asked = at = None
    try:
        asked = read_size(text)
    except SizeTextError as exc:
        at = exc.at
    assert (asked is None) != (at is None)
    if asked is not None:
        assert read_size(write_size(asked)) == asked
    if at is not None:
        assert 0 <= at <= len(text)
        assert all(read_size(write_size(one)) == one for one in readings(text))


@pytest.mark.parametrize(
    ("text", "sentence"),
    [
        (
            "8x10in@300",
            "8 × 10 in at 300 ppi: 2400 × 3000 px, turned to suit each photo, trimmed to fill.",
        ),
        ("384x160px", "384 × 160 px; no resolution is written, as written, trimmed to fill."),
        (
            "1200x1600px@72 suit",
            "1200 × 1600 px at 72 ppi, turned to suit each photo, trimmed to fill.",
        ),
        ("100%", "A free crop with its pixels as they are; the photo's resolution label stays."),
        ("40%", "40 % of a free crop's pixels; no resolution is written."),
        ("long 12in@220", "Long edge 12 in at 220 ppi: 2640 px; the other follows the crop."),
        ("height 900px", "Height 900 px; the other follows the crop; no resolution is written."),
        (
            "3:1@240",
            "A crop of 3:1 with its pixels as they are at 240 ppi, turned to suit each photo.",
        ),
        (
            "photo",
            "A crop in the photo's own shape with its pixels as they are; the photo's resolution label stays.",
        ),
        (
            "within 2048x2048px",
            "Fitted within 2048 × 2048 px; smaller crops are left as they are; no resolution is written.",
        ),
        (
            "window 2560x1440px",
            "A window of 2560 × 1440 photo pixels, not one value changed; "
            "the photo's resolution label stays, as written.",
        ),
    ],
)
def test_a_size_is_said_as_a_sentence(text, sentence):
    assert say_size(read_size(text)) == sentence


def test_what_is_not_as_usual_is_said_too():
    asked = size(
        "8x10in@300 extend",
        ground="#f3efe6",
        bleed="3mm",
        frame={"lip": "6mm"},
        file={"format": "tiff", "profile": "p3", "at_most": 4_000_000},
    )
    assert say_size(asked) == (
        "8 × 10 in at 300 ppi: 2471 × 3071 px, turned to suit each photo, extended with #f3efe6; "
        "3 mm bleed all round; 7.53 × 9.53 in seen inside the frame's lip; a TIFF; in Display P3; "
        "at most 4 MB."
    )


def test_a_resolution_per_centimetre_is_kept_exact():
    assert read_size("1x1cm@100px/cm").ppi == Fraction(254)
