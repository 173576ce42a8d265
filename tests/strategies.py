"""Hypothesis strategies for the core's values."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import strategies as st

from oak_ledge.core.placements import (
    Corner,
    Move,
    Nudge,
    Scale,
    Slide,
    StartAgain,
    TurnOver,
    Type,
)
from oak_ledge.core.sizes import ExactShape, PercentShape, Size, natural_turn

held = st.tuples(st.integers(1, 12_000), st.integers(1, 12_000))
resolutions = st.fractions(min_value=1, max_value=2400, max_denominator=1000)
lengths = st.fractions(min_value=Fraction(1, 10), max_value=100, max_denominator=64)


@st.composite
def exact_sizes(draw) -> Size:
    unit = draw(st.sampled_from(["in", "cm", "mm", "px"]))
    edge = st.integers(1, 30_000).map(Fraction) if unit == "px" else lengths
    shape = ExactShape(width=draw(edge), height=draw(edge), unit=unit)
    ppi = draw(st.none() | resolutions) if unit == "px" else draw(resolutions)
    turn = draw(st.sampled_from([natural_turn(shape), "suit", "fixed"]))
    return Size(shape=shape, ppi=ppi, turn=turn)


@st.composite
def free_sizes(draw) -> Size:
    percent = draw(st.just(Fraction(100)) | st.fractions(1, 400, max_denominator=20))
    shape = PercentShape(percent=percent)
    return Size(shape=shape, ppi=draw(st.none() | resolutions), turn="suit")


sizes = exact_sizes() | free_sizes()

far = st.floats(-20_000, 20_000)
shares = st.floats(0, 1)
gestures = st.one_of(
    st.builds(Move, kind=st.just("move"), dx=far, dy=far),
    st.builds(Slide, kind=st.just("slide"), dx=far, dy=far),
    st.builds(
        Corner,
        kind=st.just("corner"),
        corner=st.sampled_from(["nw", "ne", "se", "sw"]),
        x=far,
        y=far,
        centre=st.booleans(),
        hold_ratio=st.booleans(),
    ),
    st.builds(Scale, kind=st.just("scale"), factor=st.floats(0.01, 100), u=shares, v=shares),
    st.builds(Nudge, kind=st.just("nudge"), dx=st.integers(-50, 50), dy=st.integers(-50, 50)),
    st.builds(
        Type,
        kind=st.just("type"),
        left=st.none() | far,
        top=st.none() | far,
        width=st.none() | st.floats(0.1, 20_000),
    ),
    st.just(TurnOver(kind="turn")),
    st.just(StartAgain(kind="start_again")),
)
