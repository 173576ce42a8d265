from __future__ import annotations

from itertools import pairwise

import pytest

from oak_ledge.flows import sizes
from oak_ledge.flows.sizes import SizeAsked
from oak_ledge.web.walls import wall_of


@pytest.fixture
def views(workspace):
    for text in ("4x6in@300", "8x10in@300", "210x297mm@300", "16x20in@240", "384x160px", "3:1"):
        sizes.add(workspace, SizeAsked(text=text, group="print"))
    return sizes.every(workspace)


def test_prints_stand_at_one_true_scale_and_both_rulers_agree(views):
    wall = wall_of(views, None)
    assert len(wall.outlines) == 4  # neither the sign's pixels nor the ratio
    for one in wall.outlines:
        assert one.size.outline is not None
        assert one.width == pytest.approx(one.size.outline[0] * wall.scale)
        assert one.height == pytest.approx(one.size.outline[1] * wall.scale)
        assert one.top + one.height == pytest.approx(wall.foot)
    inches, centimetres = wall.along
    assert (inches.unit, centimetres.unit) == ("in", "cm")
    assert next(t.at for t in inches.ticks if t.figure == "10") == pytest.approx(10 * wall.scale)
    assert next(t.at for t in centimetres.ticks if t.figure == "20") == pytest.approx(
        20 / 2.54 * wall.scale
    )


def test_names_on_the_wall_cover_none_of_the_others(views):
    spots = sorted(one.label[::-1] for one in wall_of(views, None).outlines if one.label)
    assert len(spots) == 4
    for (y, x), (below, across) in pairwise(spots):
        assert below - y >= 16 or abs(across - x) >= 190


def test_a_chosen_pixel_size_brings_the_pixel_ruler(views):
    sign = next(view for view in views if view.text == "384x160px")
    wall = wall_of(views, sign.id)
    assert [one.size.id for one in wall.outlines if one.chosen] == [sign.id]
    assert [ruler.unit for ruler in wall.along] == ["px"]
    assert wall_of([], None).outlines == []


def test_the_page_works_with_nothing_in_the_program(client):
    page = client.get("/sizes").text
    assert "A4 print" in page
    assert "outlines of" in page.lower()
    drawn = client.get("/sizes/wall/screen?chosen=12").text
    assert drawn.count("<rect class=") >= 2
    assert client.get("/sizes/wall/nowhere").status_code == 422
