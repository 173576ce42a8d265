"""Where a piece of several panels is cut, and what each of its files is (rules, section 6)."""

from __future__ import annotations

from oak_ledge.core.measures.lengths import Pixels
from oak_ledge.core.sizes.edges.panels import PanelBox, Panels
from oak_ledge.core.sizes.geometry import file_edges, overlap_pixels, panel_pixels, written_pixels
from oak_ledge.core.sizes.size import Size


def panels_on(size: Size, output: Pixels) -> tuple[Panels, Pixels]:
    """Return the panels of a size that has some, and the pixels of one, turned as the output is."""
    assert size.panels is not None
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


def panel_boxes(size: Size, output: Pixels) -> tuple[PanelBox, ...]:
    """Return where each file of a piece lies on its one picture of `output` pixels, row by row.

    One that holds all of it for a size without panels.
    """
    if size.panels is None:
        return (PanelBox(0, 0, *output),)
    panels, panel = panels_on(size, output)
    return panels.boxes(panel, overlap_pixels(size))


def file_pixels(size: Size, output: Pixels) -> Pixels:
    """Return the pixels of each file a piece is made as: all of it, one panel, or it with its sides."""
    if size.sides is not None:
        edges = file_edges(size)
        return edges if output == written_pixels(size) else edges[::-1]
    return output if size.panels is None else panels_on(size, output)[1]


def one_panel(size: Size) -> Size:
    """Return the size of each of a piece's files."""
    return size if size.panels is None else size.model_copy(update={"panels": None})


def picture_of(size: Size, file: Pixels) -> Pixels:
    """Return the pixels of the one picture that files of so many pixels are cut from, or hold."""
    if size.sides is not None:
        written = panel_pixels(size)
        return written if file == file_edges(size) else written[::-1]
    if size.panels is None:
        return file
    panels = size.panels if file == panel_pixels(size) else size.panels.turned
    return panels.whole(file, overlap_pixels(size))


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


def _inner(stretches: list[Stretch]) -> list[float]:
    return sorted({at for stretch in stretches for at in stretch} - {0.0, 1.0})
