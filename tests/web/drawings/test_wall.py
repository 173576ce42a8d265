from __future__ import annotations

import pytest

from oak_ledge.flows.library import sizes
from oak_ledge.flows.library.views import SizeBody
from oak_ledge.web.drawings.wall import LABEL_HEIGHT, LETTER, Nested, WallOutline, wall_of


@pytest.fixture
def views(workspace):
    for text in ("4x6in@300", "8x10in@300", "210x297mm@300", "16x20in@240", "384x160px", "3:1"):
        sizes.add(workspace, SizeBody(text=text, group="print"))
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


@pytest.mark.parametrize(
    ("more", "kinds", "outermost"),  # of 8 × 10 in
    [
        ({"bleed": "1in"}, ["beyond"], (10, 12)),
        ({"frame": {"lip": "1in", "moulding": "3in"}}, ["framed", "seen"], (12, 14)),
        (
            {"frame": {"mat": {"outer": "16x20in", "window": "7x9in"}, "moulding": "1in"}},
            ["framed", "seen"],
            (18, 22),
        ),
    ],
)
def test_a_chosen_frame_stands_on_the_ledge_with_its_print_inside(
    workspace, views, more, kinds, outermost
):
    kept = sizes.add(workspace, SizeBody(text="8x10in@300", name="Framed", **more))
    wall = wall_of([*views, kept], kept.id)
    chosen = next(one for one in wall.outlines if one.chosen)
    nested = {part.kind: part for part in chosen.nested}
    assert list(nested) == kinds
    around = nested[kinds[0]]
    assert around.top + around.height == pytest.approx(wall.foot)
    assert (around.width, around.height) == pytest.approx([e * wall.scale for e in outermost])
    assert chosen.width == pytest.approx(8 * wall.scale)
    boxes: list[WallOutline | Nested] = [chosen, *chosen.nested]
    middles = {round(box.left + box.width / 2, 6) for box in boxes}
    assert len(middles) == 1
    if "seen" in nested:
        inside = (6, 8) if "lip" in more["frame"] else (7, 9)
        assert nested["seen"].width == pytest.approx(inside[0] * wall.scale)
        assert nested["seen"].height == pytest.approx(inside[1] * wall.scale)


@pytest.mark.parametrize("group", ["print", "frame", "marketplace", "screen", "own"])
def test_names_on_the_wall_cover_none_of_the_others(views, workspace, group):
    sizes.add_starters(workspace)
    long = "40 x 60 cm canvas with mirrored sides, for the stair"
    for n in range(3):
        text = f"{500 + 350 * n}x590mm@200"
        sizes.add(workspace, SizeBody(text=text, name=f"{long} {n}", group="print"))
    here = [one for one in sizes.every(workspace) if one.group == group]
    wall = wall_of(here, None)
    boxes = [
        (one.label[0] - LETTER * len(one.size.name), one.label[0], one.label[1])
        for one in wall.outlines
        if one.label
    ]
    assert boxes or not wall.outlines
    for n, (left, right, line) in enumerate(boxes):
        assert left > wall.left
        for other_left, other_right, other_line in boxes[:n]:
            apart = abs(line - other_line) >= LABEL_HEIGHT
            assert apart or right <= other_left or other_right <= left


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
