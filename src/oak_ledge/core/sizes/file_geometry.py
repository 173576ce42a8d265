"""Where a piece of several panels is cut, and what each of its files is (rules, section 6)."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.edges.border import Widths
from oak_ledge.core.sizes.edges.panels import PanelBox, Panels
from oak_ledge.core.sizes.geometry import (
    between_pixels,
    file_edges,
    panel_pixels,
    print_pixels,
    whole_shape,
    written_pixels,
)
from oak_ledge.core.sizes.shapes.ratio import RatioShape
from oak_ledge.core.sizes.size import Size


def panels_on(size: Size, output: Pixels) -> tuple[Panels, Pixels]:
    """Return the panels of a size that has some, and the pixels of one, turned as the output is."""
    assert size.panels is not None
    shape = whole_shape(size)
    if isinstance(shape, RatioShape):
        across, along = shape.terms
        turned = (across - along) * (output[0] - output[1]) < 0
        panels = size.panels.turned if turned else size.panels
        return panels, (output[0] // panels.columns, output[1] // panels.rows)
    panel = panel_pixels(size)
    return (
        (size.panels, panel)
        if output == written_pixels(size)
        else (size.panels.turned, panel[::-1])
    )


def side_shares(size: Size, output: Pixels) -> tuple[float, float] | None:
    """Return how wide the turned-over sides are, as shares of the face's width and height; None without."""
    if size.sides is None:
        return None
    wide, high = file_pixels(size, output)
    return (wide - output[0]) / 2 / output[0], (high - output[1]) / 2 / output[1]


def border_box(size: Size) -> Widths:
    """Return how far the picture lies from its file's left, top, right and bottom edge: border and bleed.

    All 0 without a border. The sides are as they are seen, whichever way the print is turned.
    """
    if size.border is None:
        return (0, 0, 0, 0)
    left, top, right, bottom = size.border.pixels(size.ppi)
    (wide, high), (across, along) = file_edges(size), print_pixels(size)
    beyond, below = wide - across, high - along  # an odd pixel is at the right and below
    return (
        left + beyond // 2,
        top + below // 2,
        right + beyond - beyond // 2,
        bottom + below - below // 2,
    )


def printed_pixels(size: Size, output: Pixels) -> Pixels:
    """Return the pixels of a print around a picture of `output` pixels, its border counted, its bleed not."""
    if size.border is None:
        return output
    left, top, right, bottom = size.border.pixels(size.ppi)
    return output[0] + left + right, output[1] + top + bottom


# Left, top, width and height as shares.
Shares = tuple[float, float, float, float]


def picture_shares(size: Size, output: Pixels) -> Shares:
    """Return where the picture lies on its print, as shares of that: all of it without a border."""
    if size.border is None:
        return (0.0, 0.0, 1.0, 1.0)
    left, top, _, _ = size.border.pixels(size.ppi)
    wide, high = printed_pixels(size, output)
    return left / wide, top / high, output[0] / wide, output[1] / high


def drawn_pixels(size: Size, output: Pixels) -> Pixels:
    """Return the pixels of a file that weigh something: a border is one colour, and next to nothing."""
    return output if size.border is not None else file_pixels(size, output)


def panel_boxes(size: Size, output: Pixels) -> tuple[PanelBox, ...]:
    """Return where each file of a piece lies on its one picture of `output` pixels, row by row.

    One that holds all of it for a size without panels.
    """
    if size.panels is None:
        return (PanelBox(0, 0, *output),)
    panels, panel = panels_on(size, output)
    return panels.boxes(panel, between_pixels(size))


def file_pixels(size: Size, output: Pixels) -> Pixels:
    """Return the pixels of each file a piece is made as: all of it, one panel, or it with what is around."""
    if size.sides is not None or size.border is not None:
        edges = file_edges(size)
        return edges if output == written_pixels(size) else edges[::-1]
    return output if size.panels is None else panels_on(size, output)[1]


def one_panel(size: Size) -> Size:
    """Return the size of each of a piece's files."""
    return size if size.panels is None else size.model_copy(update={"panels": None})


def picture_of(size: Size, file: Pixels) -> Pixels:
    """Return the pixels of the one picture that files of so many pixels are cut from, or hold."""
    if size.border is not None:
        left, top, right, bottom = border_box(size)
        return file[0] - left - right, file[1] - top - bottom
    if size.sides is not None:
        written = panel_pixels(size)
        return written if file == file_edges(size) else written[::-1]
    if size.panels is None:
        return file
    if isinstance(size.shape, RatioShape):
        across, along = size.shape.terms
        turned = (across - along) * (file[0] - file[1]) < 0
    else:
        turned = file != panel_pixels(size)
    panels = size.panels.turned if turned else size.panels
    return panels.whole(file, between_pixels(size))


# From where to where something reaches along one edge, as shares of the whole picture.
Stretch = tuple[float, float]


def panel_stretches(size: Size, output: Pixels) -> tuple[list[Stretch], list[Stretch]]:
    """Return where panels reach across and down, as shares; one each for a piece that is not cut."""
    boxes = panel_boxes(size, output)
    across = {(box.left / output[0], (box.left + box.width) / output[0]) for box in boxes}
    down = {(box.top / output[1], (box.top + box.height) / output[1]) for box in boxes}
    return sorted(across), sorted(down)


def joints_path(size: Size, output: Pixels) -> str:
    """Draw the joints between panels as SVG path data in the unit square; two lines for an overlap.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> joints_path(read_size("100x80px panels 2"), (200, 80))
    'M0.5 0V1'
    """
    if size.panels is None:
        return ""
    across, down = (_inner(stretches) for stretches in panel_stretches(size, output))
    lines = [f"M{round(x, 6)} 0V1" for x in across] + [f"M0 {round(y, 6)}H1" for y in down]
    return "".join(lines)


def gaps_path(size: Size, output: Pixels) -> str:
    """Draw what lies between panels that hang apart, and is not printed, in the unit square; else empty.

    By the even-odd rule: the whole picture, and each panel in it.

    >>> from oak_ledge.core.sizes.text.read import read_size
    >>> gaps_path(read_size("100x80px panels 2 gap 50px"), (250, 80))
    'M0 0h1v1h-1zM0.0 0.0h0.4v1.0h-0.4zM0.6 0.0h0.4v1.0h-0.4z'
    """
    if size.panels is None or size.panels.gap is None:
        return ""
    wide, high = output
    boxes = (
        [
            round(part, 6)
            for part in (box.left / wide, box.top / high, box.width / wide, box.height / high)
        ]
        for box in panel_boxes(size, output)
    )
    each = (f"M{x} {y}h{across}v{along}h-{across}z" for x, y, across, along in boxes)
    return "M0 0h1v1h-1z" + "".join(each)


def _inner(stretches: list[Stretch]) -> list[float]:
    return sorted({at for stretch in stretches for at in stretch} - {0.0, 1.0})
