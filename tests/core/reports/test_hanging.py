from __future__ import annotations

import pytest

from oak_ledge.core.reports.hanging import hung
from oak_ledge.core.sizes.size import size_from
from tests.samples import size

PRINT = dict(size("8x10in@300"))


@pytest.mark.parametrize(
    ("frame", "asked", "outer", "sight", "window"),
    [
        # a lip of ½ in over an opening of 8 × 10 in, an inch of moulding from its sight edge on
        ({"lip": "1/2in", "moulding": "1in"}, (2400, 3000), (9, 11), (7, 9), None),
        ({"lip": "1/2in", "moulding": "1in"}, (3000, 2400), (11, 9), (9, 7), None),
        (
            {"moulding": "1in", "mat": {"outer": "12x16in", "window": "7x9in"}},
            (3000, 2400), (18, 14), (16, 12), (9, 7),
        ),
    ],
)  # fmt: skip
def test_moulding_sight_and_window_stand_at_scale_about_the_print(
    frame, asked, outer, sight, window
):
    found = hung(size_from(PRINT | {"frame": frame}), asked)
    assert found is not None
    wide, high = asked[0] / 300, asked[1] / 300
    shares = {"frame": outer, "sight": sight, "window": window}
    for name, lengths in shares.items():
        expected = None if lengths is None else (lengths[0] / wide, lengths[1] / high)
        assert getattr(found, name) == (expected and pytest.approx(expected))
    assert found.words.startswith(f"hangs {outer[0]} × {outer[1]} in")


def test_without_a_frame_nothing_hangs_around_and_bleed_is_counted_in():
    assert hung(size("8x10in@300"), (2400, 3000)) is None
    bled = size_from(PRINT | {"frame": {"lip": "1/2in"}, "bleed": "1in"})
    found = hung(bled, (3000, 3600))
    assert found is not None
    assert found.sight == pytest.approx((7 / 10, 9 / 12))
