"""Outlines from SVG files: one closed path is taken as it is drawn, hostile files are refused."""

from __future__ import annotations

import numpy as np
import pytest

from oak_ledge.core.errors import SizeError
from oak_ledge.core.sizes.edges.outline import outline_on
from oak_ledge.core.sizes.edges.svg_file import outline_in

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="{}">'
STAR = "M50 5L61 39H97L68 61L79 95L50 74L21 95L32 61L3 39H39Z"


def svg(inside, view="0 0 100 100", before=""):
    return f"{before}{HEAD.format(view)}{inside}</svg>".encode()


def test_a_path_is_drawn_out_from_its_view_box_to_the_piece():
    found = outline_on(outline_in(svg(f'<path d="{STAR}"/>')), (1000, 500), None)
    assert np.allclose(found[0], (500, 25))
    assert np.allclose(found[4], (790, 475))
    moved = outline_in(svg('<path d="M-10 20h20v40h-20z"/>', view="-10 20 20 40"))
    corners = {tuple(point) for point in outline_on(moved, (300, 300), None)}
    assert corners == {(0, 0), (300, 0), (300, 300), (0, 300)}


@pytest.mark.parametrize(
    "inside",
    [
        f'<g><path fill="red" d="{STAR}"/></g>',
        f'<title>A star</title><desc>by hand</desc><path d="{STAR}"/>',
        '<path d="M50 0C80 0 100 30 100 60S70 100 50 100A50 40 0 0 1 0 60Q0 0 50 0Z"/>',
    ],
)
def test_what_else_a_plain_drawing_says_does_no_harm(inside):
    sized = svg(inside).replace(b' viewBox="0 0 100 100"', b' width="100px" height="100px"')
    assert outline_in(sized) == outline_in(svg(inside))


BOMB = '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>'
FETCH = '<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>'


@pytest.mark.parametrize(
    ("data", "why"),
    [
        (b"", "no SVG that can be read"),
        (b"\x89PNG\r\n", "no SVG that can be read"),
        (b"<html></html>", "the file is a <html>"),
        (svg(""), "has 0 paths"),
        (svg(f'<path d="{STAR}"/><path d="{STAR}"/>'), "has 2 paths"),
        (svg(f'<path d="{STAR}"/><text>hello</text>'), "has a <text>"),
        (svg(f'<path d="{STAR}"/><image href="http://x/y.png"/>'), "has a <image>"),
        (svg(f'<use href="#a"/><path d="{STAR}"/>'), "has a <use>"),
        (svg(f'<g transform="scale(2)"><path d="{STAR}"/></g>'), "moved by a transform"),
        (svg('<path d="M0 0L10 10L0 10"/>'), "one closed path"),
        (svg('<path d="M0 0L500 10L0 10Z"/>'), "leaves the square"),
        (svg('<path d="hello"/>'), "can't be read|one closed path"),
        (svg("<path/>"), "can't be read|one closed path"),
        (svg(f'<path d="{STAR}"/>', view="0 0 0 0"), "says no view box"),
        (svg(f'<path d="{STAR}"/>', before=BOMB), "document type or entities"),
        (
            svg(f'<path d="{STAR}"/><title>&x;</title>', before=FETCH),
            "document type or entities|no SVG",
        ),
        (svg(f'<path d="M0 0{"L1 1L0 1" * 3000}Z"/>'), "make it simpler"),
        (b"<svg>" + b" " * 300_000 + b"</svg>", "more than 200 kB"),
    ],
)
def test_what_is_no_outline_or_hostile_is_refused_in_one_sentence(data, why):
    with pytest.raises(SizeError, match=why) as caught:
        outline_in(data)
    assert "\n" not in str(caught.value)
    assert "root:" not in str(caught.value)
