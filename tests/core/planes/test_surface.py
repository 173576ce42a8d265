"""A squared plane with what surrounds it: crops reach as far as the photo does, and no farther."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, strategies as st

from oak_ledge.core.errors import PlacementError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.photos.keep_zones import Keeps, Zone
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.suggestion import laid
from oak_ledge.core.placements.zones.on_surface import zones_on
from oak_ledge.core.planes.matrices import at
from oak_ledge.core.planes.points import rectangle
from oak_ledge.core.planes.polygons import area, overlap
from oak_ledge.core.planes.roomiest import roomiest, slid_inside
from oak_ledge.core.planes.surface import Squared
from oak_ledge.core.reports.tally import tally
from tests import strategies
from tests.core.placements.test_fit import FREE, PHOTO, PRINT

FACADE = ((2000.0, 1400.0), (4000.0, 1000.0), (4100.0, 3100.0), (1900.0, 2800.0))
corner = st.tuples(st.floats(0.05, 0.4), st.floats(0.05, 0.4))


@st.composite
def quads(draw):
    (a, b), (c, d), (e, f), (g, h) = (draw(corner) for _ in range(4))
    shares = [(a, b), (1 - c, d), (1 - e, 1 - f), (g, 1 - h)]
    return tuple((x * PHOTO[0], y * PHOTO[1]) for x, y in shares)


def squared(size, corners):
    square = Square(kind="square", corners=corners, fit=True)
    return apply(size, PHOTO, laid(size, PHOTO), square)


def plane_of(size, lying):
    extent = lying_on(size, PHOTO, lying).surface
    assert isinstance(extent, Squared)
    return extent


def test_a_crop_takes_in_what_surrounds_the_corners():
    lying = squared(PRINT, FACADE)
    plane = plane_of(PRINT, lying)
    inside = tally(lying_on(PRINT, PHOTO, lying))
    assert inside.crop[2:] == pytest.approx(plane.extent, abs=1)
    wider = apply(PRINT, PHOTO, lying, Scale(kind="scale", factor=1.4))
    found = tally(lying_on(PRINT, PHOTO, wider))
    assert found.crop[2] == pytest.approx(1.4 * inside.crop[2])
    assert found.uncovered == 0
    assert found.trimmed < inside.trimmed
    assert "with what is around it" in found.sentence
    # of the photo, not of the plane: the corners' own area, by the shoelace formula
    assert inside.trimmed == pytest.approx(1 - area(FACADE) / (PHOTO[0] * PHOTO[1]), abs=0.002)
    quad = [
        tuple(point)
        for point in at(plane.onto, np.array(lying_on(PRINT, PHOTO, wider).crop.corners()))
    ]
    assert found.trimmed == pytest.approx(
        1 - overlap(rectangle(*PHOTO), quad) / (PHOTO[0] * PHOTO[1])
    )


@given(
    quads(), strategies.exact_sizes() | st.just(FREE),
    st.lists(strategies.gestures | strategies.levels, max_size=5),
)  # fmt: skip
def test_whatever_is_done_a_squared_crop_stays_on_the_photo_and_its_ratio_exact(
    corners, size, gestures
):
    try:
        lying = squared(size, corners)
        for gesture in gestures:
            lying = apply(size, PHOTO, lying, gesture)
    except PlacementError:
        assume(False)
    lain = lying_on(size, PHOTO, lying)
    plane, found = lain.surface, tally(lain)
    if size.differ != "extend":
        assert found.uncovered < 1e-6
    across, along = lain.proportions
    assert found.crop[3] == pytest.approx(found.crop[2] * along / across)
    if isinstance(plane, Squared):  # nowhere does the plane vanish under the crop
        depths = [float(plane.onto[2] @ (*point, 1)) for point in lain.crop.corners()]
        assert min(depths) > 0


@given(
    quads(),
    st.floats(0.3, 3),
    st.floats(-45, 45),
    st.tuples(st.floats(-9e3, 9e3), st.floats(-9e3, 9e3)),
)
def test_the_roomiest_crop_touches_and_a_slide_is_the_shortest(region, ratio, angle, centre):
    shape = (ratio, 1.0)
    width, middle = roomiest(region, shape, angle)
    assert slid_inside(region, middle, width * 2, shape, angle)[0] == pytest.approx(width)
    small, slid = slid_inside(region, centre, width / 3, shape, angle)
    assert small == width / 3
    again = slid_inside(region, slid, small, shape, angle)[1]
    assert again == pytest.approx(slid, abs=1e-6)
    # any point nearer to where the hand wanted it is not inside
    nearer = tuple(a + (b - a) * 0.02 for a, b in zip(slid, centre, strict=True))
    back = slid_inside(region, nearer, small, shape, angle)[1]
    assert np.hypot(*np.subtract(back, centre)) >= np.hypot(*np.subtract(slid, centre)) - 1e-6


def test_zones_beside_the_corners_are_known_on_the_plane_and_a_turn_stays_inside():
    lying = squared(PRINT, FACADE)
    plane = plane_of(PRINT, lying)
    keeps = Keeps(zones=(Zone(left=100, top=100, width=300, height=200),))
    ((_, points),) = zones_on(plane, keeps)
    assert [tuple(p) for p in at(plane.onto, np.array(points))] == [
        pytest.approx(p) for p in ((100, 100), (400, 100), (400, 300), (100, 300))
    ]
    # what lies behind where the plane vanishes is cut off, not thrown to the other side
    steep = plane_of(PRINT, squared(PRINT, ((2700, 300), (3300, 300), (5200, 3500), (800, 3500))))
    ys = [y for _, y in steep.from_photo(rectangle(*PHOTO))]
    assert max(ys) - min(ys) < 40 * steep.extent[1]
    turned = apply(PRINT, PHOTO, lying, Angle(kind="angle", angle=30))
    assert tally(lying_on(PRINT, PHOTO, turned)).uncovered == 0
