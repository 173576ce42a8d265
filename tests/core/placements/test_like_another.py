from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.placements.fit import fitting_width
from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import laid
from oak_ledge.core.sizes.text.read import read_size
from tests import strategies
from tests.core.gestures.test_apply import crop
from tests.core.placements.test_fit import FREE, PHOTO, PRINT

OTHER = (3000, 2000)


def test_place_tightness_level_and_ground_are_taken_as_shares():
    model = apply(
        PRINT, PHOTO, laid(PRINT, PHOTO), Type(kind="type", left=600, top=400, width=2500)
    )
    model = apply(PRINT, PHOTO, model, Angle(kind="angle", angle=2))
    made = laid_like(PRINT, OTHER, lying_on(PRINT, PHOTO, model))
    assert made.angle == 2
    assert (made.cx / 3000, made.cy / 2000) == pytest.approx((model.cx / 6000, model.cy / 4000))
    assert made.width == pytest.approx(model.width / 2)
    grounded = apply(PRINT, PHOTO, model, Ground(kind="ground", beyond=True, fill="blur"))
    like = laid_like(PRINT, OTHER, lying_on(PRINT, PHOTO, grounded))
    assert (size_at(PRINT, like).differ, size_at(PRINT, like).ground) == ("extend", "blur")
    free = laid_like(FREE, OTHER, lying_on(PRINT, PHOTO, grounded))
    assert (size_at(FREE, free).differ, free.free) == ("extend", (3068, 2454))


@given(strategies.exact_sizes(), strategies.exact_sizes(), st.floats(0.2, 1), st.integers(0, 3))
def test_a_copy_is_as_tight_as_its_model_and_a_copy_of_itself_is_itself(
    asked, other, factor, quarter
):
    model = laid(asked, PHOTO, quarter=quarter)
    model = apply(asked, PHOTO, model, Scale(kind="scale", factor=factor))
    again = laid_like(asked, PHOTO, lying_on(asked, PHOTO, model))
    assert crop(asked, again) == pytest.approx(crop(asked, model), abs=0.01)
    made = laid_like(other, OTHER, lying_on(asked, PHOTO, model))
    tight = [
        one.placement.width / fitting_width(one.size, one.extent, one.proportions, 0)
        for one in (lying_on(asked, PHOTO, model), lying_on(other, OTHER, made))
    ]
    assert tight[0] == pytest.approx(tight[1], rel=1e-6)
    assert lying_on(other, OTHER, made).crop.width > 0


@given(
    st.sampled_from(["100%", "40%", "long 1200px", "width 10in@300", "within 900x900px"]),
    st.integers(0, 4000), st.integers(0, 3000), st.integers(300, 2000), st.integers(300, 1000),
)  # fmt: skip
def test_between_free_sizes_the_rectangle_is_copied(text, left, top, width, height):
    other = read_size(text)
    typed = Type(kind="type", left=left, top=top, width=width, height=height)
    model = lying_on(FREE, PHOTO, apply(FREE, PHOTO, laid(FREE, PHOTO), typed))
    assert laid_like(FREE, PHOTO, model) == model.placement  # bit for bit
    made = lying_on(other, OTHER, laid_like(other, OTHER, model))
    off = max(2, 1 / float(other.shape.share or 1), 2500 / min(made.asked))  # of its own rounding
    assert [2 * edge for edge in made.crop.box] == pytest.approx(model.crop.box, abs=2 * off)
