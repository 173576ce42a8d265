"""What a receiver says of a measured file: every rule, its reason and its fix."""

from __future__ import annotations

import pytest

from oak_ledge.core.files.proof import Measured
from oak_ledge.core.receivers.answer import Parcel, asked_of_receiver
from oak_ledge.core.receivers.starters import STARTERS
from oak_ledge.core.receivers.takes import Takes, is_meant


def parcel(
    width, height, ppi=None, weight=90_000, form="jpeg", profile="sRGB", number=2, plain=None
):
    measured = Measured(
        width=width, height=height, ppi=ppi, bytes=weight, format=form, profile=profile, bits=8
    )
    return Parcel(measured, number, plain)


LAB, STALL, SIGN = (STARTERS[kind].takes for kind in ("lab", "marketplace", "sign"))
PRESS = Takes(profiles=("Press coated", "grey"), formats=("tiff",), ppi=(300, 300))
TALL = Takes(pixels=((160, 384), (320, 96)), long_edge=(None, 300))

# What is taken, the file, and each reason with the fix that is offered (None: there is none).
CASES = [
    (LAB, parcel(2400, 3000, 300), []),
    (LAB, parcel(3000, 2400, 300), []),  # turned
    (LAB, parcel(2401, 3000, 300), []),  # within a pixel
    (LAB, parcel(2402, 3000, 300), [("8.01 × 10 in is none of its sizes", "Lay it on 8x10in")]),
    (LAB, parcel(2471, 3071, 300), []),  # 3 mm on every side
    (LAB, parcel(2435, 3035, 300), [("8.12 × 10.12 in is none", "Lay it on 8x10in")]),
    (LAB, parcel(1240, 1748, 300, profile=None), []),  # A6 with its bleed; no profile is sRGB
    (LAB, parcel(800, 640, 80), [("it has 80 ppi; 150 to 720", "Make it at 150 ppi")]),
    (LAB, parcel(3000, 2400), [("says no resolution, so", "Lay it on 10x8in")]),
    (LAB, parcel(3000, 2400, 300, form="webp"), [("it is a WebP; JPEG or TIFF", "Make it a JPEG")]),
    (LAB, parcel(3000, 2400, 300, profile="Press coated"), [("its profile is Press", "to sRGB")]),
    (STALL, parcel(1600, 1200), []),
    (STALL, parcel(1200, 1500), [("longer edge has 1500 px; 1600", "Make it 1280x1600px")]),
    (STALL, parcel(2000, 900, weight=6_000_000), [("it has 6 MB", "Make it at most 5 MB")]),
    (STALL, parcel(2000, 900, weight=6_000_000, form="png"), [("6 MB", "Make it a JPEG of at most")]),
    (STALL, parcel(2000, 900, number=13), [("it is file 13; 12 are taken", None)]),
    (STALL, parcel(2000, 900, number=1, plain=False), [("on a plain ground", "Cut the thing out")]),
    (STALL, parcel(2000, 900, number=1, plain=True), []),
    (STALL, parcel(2000, 900, number=2, plain=False), []),
    (SIGN, parcel(384, 160, form="png"), []),
    (SIGN, parcel(160, 384), [("42 % of its 384 × 160 would be used", "Lay it on 384x160px")]),
    (SIGN, parcel(768, 320, weight=160_000, form="webp"),
     [("it is a WebP; PNG or JPEG", "Make it a JPEG"), ("it is 768 × 320 px; 384 × 160 px", "Lay it on"),
      ("it has 160 kB", "Make it a JPEG of at most 150 kB")]),
    (PRESS, parcel(900, 900, 300, form="tiff", profile="Press coated v2"), []),
    (PRESS, parcel(900, 900, 300, form="tiff", profile="Gray gamma 2.2"), []),
    (PRESS, parcel(900, 900, 72.009, form="tiff", profile=None),
     [("it has 72.01 ppi; 300 ppi", "Make it at 300 ppi"), ("its profile is sRGB; Press", "to grey")]),
    (TALL, parcel(160, 384), [("longer edge has 384 px; 300 px at most", "Make it 125x300px")]),
    (TALL, parcel(640, 192), [("it is 640 × 192 px; 160 × 384 or 320 × 96 px", "320x96"), ("has 640 px", "300x90px")]),
    (Takes(at_most=1000, formats=("png",)), parcel(9, 9, form="png", weight=1001), [("1 kB", None)]),
    (Takes(), parcel(1, 1, form="avif", weight=10**9, profile="Any"), []),
]  # fmt: skip


@pytest.mark.parametrize(("takes", "file", "reasons"), CASES)
def test_each_rule_says_why_and_what_would_fix_it(takes, file, reasons):
    answer = asked_of_receiver(takes, file)
    assert answer.accepted is (not reasons)
    assert len(answer.reasons) == len(reasons), answer.words
    for reason, (words, fix) in zip(answer.reasons, reasons, strict=True):
        assert words in reason.text
        assert (reason.fix is None) is (fix is None)
        assert reason.fix is None or fix in reason.fix.words


def test_the_size_is_fixed_before_what_stands_on_it():
    answer = asked_of_receiver(SIGN, parcel(768, 320, weight=160_000, form="webp"))
    assert [fix.wish.lay_on for fix in answer.fixes] == ["384x160px", None, None]


@pytest.mark.parametrize(
    ("takes", "groups"),
    [
        (LAB, {"print", "frame", "own"}),
        (SIGN, {"screen", "own"}),
        (STALL, {"marketplace", "own"}),
        (Takes(formats=("jpeg",)), {"print", "frame", "marketplace", "screen", "own"}),
    ],
)
def test_who_nobody_named_gets_what_is_of_its_kind(takes, groups):
    every = ("print", "frame", "marketplace", "screen", "own")
    assert {group for group in every if is_meant(takes, group)} == groups
