from __future__ import annotations

import pytest

from oak_ledge.core.errors import FaceError
from oak_ledge.core.heads.face_points import (
    FaceFound,
    FacePoints,
    Faces,
    face_at,
    on_photo,
    read_face,
)
from oak_ledge.core.heads.head_zones import MOST_TOLD, head_zones

FACE = read_face("410,520,590,520,500,760,500,300")


def test_a_face_knows_its_height_its_eyes_and_how_far_they_lean():
    assert (FACE.eyes, FACE.height, FACE.tilt) == ((500, 520), 460, 0)
    assert read_face("0,0,100,100,-200,400,150,-150").tilt == pytest.approx(45)


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("410,520,590,520,500,760,500", "four points"),
        ("a,b,c,d,e,f,g,h", "four points"),
        ("410,520,410,520,500,760,500,300", "one point"),
        ("590,520,410,520,500,760,500,300", "chin lies above"),
        ("410,520,590,520,500,760,500,515", "crown does not lie above"),
        ("nan,520,590,520,500,760,500,300", "finite"),
        (f"{'9' * 5000},520,590,520,500,760,500,300", "four points|less than"),
    ],
)
def test_points_that_are_no_face_are_refused_in_words(text, why):
    with pytest.raises(FaceError, match=why):
        read_face(text)


@pytest.mark.parametrize("shift", [(-500, 0), (600, 0), (0, 300), (0, -1100), (1e8, 1e8)])
def test_a_face_beyond_its_photo_is_refused(shift):
    assert on_photo(FACE, (1000, 1000)) == FACE
    points = tuple((x + shift[0], y + shift[1]) for x, y in FACE.points)
    with pytest.raises(FaceError, match="beyond the photo"):
        on_photo(face_at(points), (1000, 1000))


def found(number=0):
    points = [(x + 900 * number, y) for x, y in FACE.points]
    how = FaceFound(sure=0.9, chin_within=10, crown_within=12, crown_seen=True)
    return face_at(tuple(points)).model_copy(update={"found": how})


def test_nothing_found_is_taken_for_sure_and_of_several_one_is_chosen():
    one, two = found(), found(1)
    assert (Faces().meant, Faces().asks) == (None, False)
    assert (Faces(found=(one,)).meant, Faces(found=(one,)).asks) == (one, True)
    assert Faces(found=(one, two)).meant is None
    assert Faces(found=(one, two), picked=1).meant == two
    assert (Faces(found=(one, two), set=FACE).meant, Faces(found=(one,), set=FACE).asks) == (
        FACE,
        False,
    )
    with pytest.raises(ValueError, match="no face 2"):
        Faces(found=(one, two), picked=2)
    kept = Faces(found=(one, two), picked=0)
    assert Faces.model_validate_json(kept.model_dump_json()) == kept
    assert "found" not in FacePoints.model_validate_json(FACE.model_dump_json()).model_dump()


def test_of_a_group_the_outermost_heads_stay_whole_with_room_above_them():
    upright = (900 * 12, 1200)
    several = head_zones([found(n) for n in range(3)], upright)
    assert len(several) == 3
    for n, zone in enumerate(several):
        assert zone.top < 300
        assert zone.top + zone.height > 760
        assert zone.left < 410 + 900 * n < 590 + 900 * n < zone.left + zone.width
    group = head_zones([found(n) for n in range(MOST_TOLD + 5)], upright)
    assert {round(zone.left) for zone in group} == {
        round(500 + 900 * n - 0.4 * 460) for n in (0, 10)
    }
