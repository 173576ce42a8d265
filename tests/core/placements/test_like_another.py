from __future__ import annotations

import pytest
from hypothesis import given, strategies as st

from oak_ledge.core.errors import SizeError
from oak_ledge.core.gestures.apply import apply
from oak_ledge.core.gestures.beyond_photo import Ground
from oak_ledge.core.gestures.level import Turn
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.placements.crop import crop_of, proportions
from oak_ledge.core.placements.fit import fitting_width
from oak_ledge.core.placements.held import held_at
from oak_ledge.core.placements.like_another import laid_like
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.suggestion import laid
from tests import strategies
from tests.core.gestures.test_apply import crop
from tests.core.placements.test_fit import FREE, HELD, PRINT

OTHER = (3000, 2000)


def test_place_tightness_level_and_ground_are_taken_as_shares():
    model = apply(PRINT, HELD, laid(PRINT, HELD), Type(kind="type", left=600, top=400, width=2500))
    model = apply(PRINT, HELD, model, Turn(kind="turn_to", angle=2))
    made = laid_like(PRINT, OTHER, (PRINT, HELD, model))
    assert made.angle == 2
    assert (made.cx / 3000, made.cy / 2000) == pytest.approx((model.cx / 6000, model.cy / 4000))
    assert made.width == pytest.approx(model.width / 2)
    grounded = apply(PRINT, HELD, model, Ground(kind="ground", beyond=True, fill="blur"))
    like = laid_like(PRINT, OTHER, (PRINT, HELD, grounded))
    assert (size_at(PRINT, like).differ, size_at(PRINT, like).ground) == ("extend", "blur")
    with pytest.raises(SizeError, match="fixes a shape"):
        laid_like(FREE, OTHER, (PRINT, HELD, grounded))


@given(strategies.exact_sizes(), strategies.exact_sizes(), st.floats(0.2, 1), st.integers(0, 3))
def test_a_copy_is_as_tight_as_its_model_and_a_copy_of_itself_is_itself(
    asked, other, factor, quarter
):
    model = laid(asked, HELD, quarter=quarter)
    model = apply(asked, HELD, model, Scale(kind="scale", factor=factor))
    again = laid_like(asked, HELD, (asked, HELD, model))
    assert crop(asked, again) == pytest.approx(crop(asked, model), abs=0.01)
    made = laid_like(other, OTHER, (asked, HELD, model))
    held = held_at(other, OTHER, made)
    tight = [
        lying.width / fitting_width(size, extent, proportions(size, extent, lying), 0)
        for size, extent, lying in (
            (asked, held_at(asked, HELD, model), model),
            (other, held, made),
        )
    ]
    assert tight[0] == pytest.approx(tight[1], rel=1e-6)
    assert crop_of(other, held, made).width > 0
