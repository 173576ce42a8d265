"""`sheet`: photos on sizes, several on one paper or face."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Annotated, get_args

import typer

from oak_ledge.cli.app import app
from oak_ledge.cli.folder import config_of
from oak_ledge.cli.options import Allow, Data, Json, Names, Photos, Sizes
from oak_ledge.cli.report import report_sheets
from oak_ledge.cli.size_options import read_or_fail, typed_sizes, way_of
from oak_ledge.cli.trouble import CALL_IS_WRONG, SOME_FAILED, fail, or_fail
from oak_ledge.core.sheets.sheet import Kind, Layout
from oak_ledge.core.sizes.file.formats import format_of

# What a sheet is made as, by the ending of its file.
KINDS: dict[str, Kind] = {
    ending: kind
    for kind in get_args(Kind)
    for ending in (format_of(kind).ending, *format_of(kind).endings)
}


def kind_of(out: Path) -> Kind:
    """Return what a sheet is made as; any other ending is a wrong call."""
    kind = KINDS.get(out.suffix.lower())
    if kind is None:
        fail(CALL_IS_WRONG, f"--out {out} ends in none of .pdf, .png, .tiff and .jpg")
    return kind


@dataclass(frozen=True)
class _Canvas:
    """The paper or divided face of a call, as it was typed."""

    paper: str | None
    face: str | None
    cells: str | None
    margin: str | None
    gap: str | None

    def layout(self, kind: Kind, *, marks: bool, names: bool) -> Layout:
        """Read it; what does not go together is a wrong call."""
        from oak_ledge.core.sheets.cells import read_cells
        from oak_ledge.core.sheets.sheet import layout_from, usual_spaces

        if (self.paper is None) == (self.face is None):
            fail(CALL_IS_WRONG, "say one of --paper, such as 17x22in@300, and --face with --cells")
        if (self.face is None) != (self.cells is None):
            fail(CALL_IS_WRONG, "--face and --cells go together: --face 384x160px --cells 2x1")
        canvas = read_or_fail(self.paper or self.face or "")
        cells = self.cells
        divided = None if cells is None else or_fail(lambda: read_cells(cells), CALL_IS_WRONG)
        usual = usual_spaces(canvas) if self.face is None else ("0", "0")
        return or_fail(
            lambda: layout_from(
                canvas=canvas,
                margin=self.margin or usual[0],
                gap=self.gap or usual[1],
                marks=marks and self.face is None,
                names=names,
                kind=kind,
                cells=divided,
            ),
            CALL_IS_WRONG,
        )


@app.command()
def sheet(
    photos: Photos,
    out: Annotated[Path, typer.Option(metavar="FILE", help="where to: .pdf, .png, .tiff or .jpg")],
    size: Sizes = [],  # noqa: B006 - typer copies it
    size_name: Names = [],  # noqa: B006
    paper: Annotated[
        str | None, typer.Option(metavar="EXPR", help="the paper: 17x22in@300, A3@300")
    ] = None,
    face: Annotated[
        str | None, typer.Option(metavar="EXPR", help="a face or paper that is divided: 384x160px")
    ] = None,
    cells: Annotated[
        str | None, typer.Option(metavar="CxR", help="columns × rows of cells on the face: 2x1")
    ] = None,
    margin: Annotated[
        str | None,
        typer.Option(
            metavar="LEN", help="kept free all round [10mm, or 0.4in on a paper in inches]"
        ),
    ] = None,
    gap: Annotated[
        str | None,
        typer.Option(
            metavar="LEN",
            help="between two pieces [5mm, or 0.2in on a paper in inches; 0 in cells]",
        ),
    ] = None,
    no_marks: Annotated[bool, typer.Option("--no-marks", help="no trim marks")] = False,
    names: Annotated[bool, typer.Option("--names", help="photo and size below each piece")] = False,
    allow: Allow = [],  # noqa: B006
    data: Data = None,
    as_json: Json = False,
) -> None:
    """Lay photos on sizes, all of them on sheets of a paper; or one photo to each cell of a face.

    For example: oak-ledge sheet quay.jpg boat.jpg --size 5x7in@300 --paper 17x22in@300 --out sheet.pdf
    """
    from oak_ledge.flows.sheets.from_files import make_sheets

    canvas = _Canvas(paper, face, cells, margin, gap)
    way = way_of(None, None, finds=config_of().find_subjects)
    layout = canvas.layout(kind_of(out), marks=not no_marks, names=names)
    sizes = typed_sizes(size, size_name, [], data) if face is None else []
    outcome = or_fail(
        lambda: make_sheets(photos, sizes, layout, way, out, config_of().limits, frozenset(allow))
    )
    if as_json:
        print(outcome.model_dump_json(indent=2))
    else:
        report_sheets(outcome)
    if outcome.failed or outcome.unplaced:
        raise typer.Exit(SOME_FAILED)
