"""Hypothesis strategies for the core's values."""

from __future__ import annotations

import os
from fractions import Fraction

from hypothesis import settings, strategies as st

from oak_ledge.core.gestures.beyond_photo import Extend, Ground
from oak_ledge.core.gestures.move import Move, Nudge, Slide
from oak_ledge.core.gestures.pixels import Relabel, Resample
from oak_ledge.core.gestures.pull import Draw, Pull
from oak_ledge.core.gestures.square import Square
from oak_ledge.core.gestures.start import StartAgain
from oak_ledge.core.gestures.tighten import Scale
from oak_ledge.core.gestures.turn import Angle, Mirror, Quarter, Turn
from oak_ledge.core.gestures.typed import Type
from oak_ledge.core.measures.lengths import Length, Measure
from oak_ledge.core.sizes.edges.border import Border
from oak_ledge.core.sizes.ground import BLACK
from oak_ledge.core.sizes.shapes.edge import EdgeShape
from oak_ledge.core.sizes.shapes.every import natural_turn
from oak_ledge.core.sizes.shapes.exact import ExactShape
from oak_ledge.core.sizes.shapes.own import OwnShape
from oak_ledge.core.sizes.shapes.percent import PercentShape
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.shapes.window import WindowShape
from oak_ledge.core.sizes.shapes.within import WithinShape
from oak_ledge.core.sizes.size import Size


def often(examples: int) -> settings:
    """Settings for a property that is worth many examples: all of them where it is explored."""
    return settings(max_examples=examples if os.environ.get("EXPLORE") else examples // 4)


extents = st.tuples(st.integers(1, 12_000), st.integers(1, 12_000))
resolutions = st.fractions(min_value=1, max_value=2400, max_denominator=1000)
lengths = st.fractions(min_value=Fraction(1, 10), max_value=100, max_denominator=64)


differs = st.sampled_from(["trim", "extend", "inside", "stretch"])
dots = st.just(Fraction(1)) | st.fractions(Fraction(1, 4), 4, max_denominator=9)
margins = st.none() | st.builds(Length, st.fractions(0, 4, max_denominator=8), st.just("mm"))


trims = st.just("trim")


@st.composite
def exact_sizes(draw, differ=trims) -> Size:
    unit = draw(st.sampled_from(["in", "cm", "mm", "px"]))
    edge = st.integers(1, 30_000).map(Fraction) if unit == "px" else lengths
    shape = ExactShape(width=draw(edge), height=draw(edge), unit=unit)
    ppi = draw(st.none() | resolutions) if unit == "px" else draw(resolutions)
    answer = {"turn": draw(st.sampled_from([natural_turn(shape), "suit", "fixed"]))}
    answer["differ"] = draw(differ)
    if unit == "px":
        answer["dot"] = draw(dots)
    elif answer["differ"] != "inside":
        answer |= {"bleed": draw(margins), "wrap": draw(margins)}
    if answer["differ"] != "inside" and answer.get("wrap") is None and draw(st.booleans()):
        answer["border"] = draw(borders(min(shape.width, shape.height), unit))
    return Size(shape=shape, ppi=ppi, **answer)


@st.composite
def borders(draw, edge, unit) -> Border | None:
    """A border that leaves most of so short an edge."""
    shares = [draw(st.integers(0, 4)) for _ in range(4)]
    sides = [edge * share / 20 for share in shares]
    sides = [Measure(Fraction(int(side)) if unit == "px" else side, unit) for side in sides]
    if not any(side.amount for side in sides):
        return None
    return Border(**dict(zip(("top", "right", "bottom", "left"), sides, strict=True)))


# What a line says beside shape, resolution, turn and what differs.
line_settings = st.fixed_dictionaries(
    {},
    optional={
        "ground": st.sampled_from(["#000000", "#f3efe6", "blur", "mirror", "edge", "continued"]),
        "frame": st.sampled_from([
            {"lip": "5mm"}, {"opening": "20x30cm", "moulding": "30mm"}, {},
            {"mat": {"outer": "40x50cm", "window": "8x9cm"}, "lip": "1/8in"},
            {"mat": {"outer": "40x50cm", "window": "8x9cm round"}},
        ]),
        "method": st.sampled_from(["mitchell", "bicubic", "lanczos", "nearest"]),
        "sharpen_for": st.sampled_from(["screen", "smooth", "rough"]),
        "file": st.fixed_dictionaries({}, optional={
            "format": st.sampled_from(["jpeg", "png", "tiff", "webp", "avif"]),
            "bits": st.sampled_from([8, 16]),
            "quality": st.integers(1, 100),
            "at_most": st.integers(1, 10**12),
            "profile": st.sampled_from(["srgb", "p3", "grey"]),
            "metadata": st.sampled_from(["copyright", "none"]),
            "location": st.just(False),
            "pattern": st.sampled_from(["{photo}", "{job}/{number} ×2", "at most 3"]),
        }),
    },
)  # fmt: skip


px = st.integers(1, 9000)
turns = st.sampled_from(["suit", "fixed"])


def amounts(unit):
    return px.map(Fraction) if unit == "px" else lengths


@st.composite
def open_sizes(draw) -> Size:
    """A size of any shape that is not exact."""
    unit = draw(st.sampled_from(["in", "cm", "mm", "px"]))
    terms = st.integers(1, 100) | st.fractions(1, 9, max_denominator=50)
    shape = draw(
        st.one_of(
            st.builds(
                EdgeShape,
                edge=st.sampled_from(["width", "height", "long", "short"]),
                length=amounts(unit),
                unit=st.just(unit),
            ),
            st.builds(RatioShape, across=terms, along=terms),
            st.builds(PercentShape, percent=st.fractions(1, 400, max_denominator=20)),
            st.just(PercentShape(percent=Fraction(100))),
            st.builds(
                WithinShape,
                width=amounts(unit),
                height=amounts(unit),
                unit=st.just(unit),
                enlarge=st.booleans(),
            ),
            st.just(OwnShape()),
        )
    )
    needs = shape.measured_in not in (None, "px")
    ppi = draw(resolutions.filter(lambda ppi: ppi >= 20) if needs else st.none() | resolutions)
    answer = {"turn": draw(turns)}
    if shape.measured_in == "px":
        answer["dot"] = draw(dots)
    if isinstance(shape, RatioShape):
        answer["differ"] = draw(st.sampled_from(["trim", "extend"]))
    return Size(shape=shape, ppi=ppi, **answer)


windows = st.builds(
    lambda width, height, turn: Size(shape=WindowShape(width=width, height=height), turn=turn),
    px,
    px,
    turns,
)
laid_sizes = (
    exact_sizes(differs)
    | open_sizes()
    | windows.map(lambda size: size.model_copy(update={"differ": "extend"}))
)
"""Sizes that can be laid on any photo; a window that isn't extended may be too large for it."""
sizes = laid_sizes | windows

far = st.floats(-20_000, 20_000)
shares = st.floats(0, 1)
gestures = st.one_of(
    st.builds(Move, kind=st.just("move"), dx=far, dy=far),
    st.builds(Slide, kind=st.just("slide"), dx=far, dy=far),
    st.builds(
        Pull,
        kind=st.just("pull"),
        at=st.sampled_from(["nw", "n", "ne", "e", "se", "s", "sw", "w"]),
        x=far,
        y=far,
        centre=st.booleans(),
        hold_ratio=st.booleans(),
    ),
    st.builds(
        Draw,
        kind=st.just("draw"),
        x0=far,
        y0=far,
        x1=far,
        y1=far,
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
        height=st.none() | st.floats(0.1, 20_000),
    ),
    st.just(Turn(kind="turn")),
    st.just(StartAgain(kind="start_again")),
)
levels = st.one_of(
    st.builds(Angle, kind=st.just("angle"), angle=st.floats(-45, 45)),
    st.builds(Quarter, kind=st.just("quarter"), by=st.sampled_from([-1, 1])),
    st.just(Mirror(kind="mirror")),
)
grounds = st.one_of(
    st.builds(
        Ground, kind=st.just("ground"), beyond=st.booleans(), fill=st.none() | st.just(BLACK)
    ),
    st.builds(Ground, kind=st.just("ground"), ratio=st.sampled_from(["1:1", "3:1", "4:5"])),
    st.builds(Ground, kind=st.just("ground"), sit=st.tuples(shares, shares)),
    st.builds(
        Extend,
        kind=st.just("extend"),
        side=st.sampled_from(["left", "top", "right", "bottom"]),
        by=st.floats(0, 3000),
    ),
)


@st.composite
def squares(draw, held) -> Square:
    """Four corners of a tilted rectangle on a photo, or none any more."""
    part = st.floats(0.02, 0.4)
    (a, b), (c, d), (e, f), (g, h) = (draw(st.tuples(part, part)) for _ in range(4))
    shares = [(a, b), (1 - c, d), (1 - e, 1 - f), (g, 1 - h)]
    corners = tuple((x * held[0], y * held[1]) for x, y in shares)
    corners = draw(st.sampled_from([corners, corners, None]))
    return Square(kind="square", corners=corners, fit=draw(st.booleans()))


some_ppi = st.fractions(40, 900, max_denominator=30)
relabels = st.one_of(
    st.builds(Relabel, kind=st.just("relabel"), ppi=some_ppi),
    st.builds(
        Relabel,
        kind=st.just("relabel"),
        width=st.builds(Length, st.fractions(1, 90, max_denominator=16), st.just("cm")),
    ),
)
resamples = st.builds(Resample, kind=st.just("resample"), ppi=some_ppi)
