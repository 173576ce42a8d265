"""Figures in lines, for people."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import rounded

if TYPE_CHECKING:
    from oak_ledge.flows.commands.make import MadeFile, Outcome
    from oak_ledge.flows.commands.tell import PhotoFigures
    from oak_ledge.flows.sheets.from_files import SheetOutcome


def report(outcome: Outcome) -> None:
    """Print what was made, what was there already, and what failed."""
    for file in outcome.files:
        measured = file.measured
        ppi = "no ppi" if measured.ppi is None else f"{rounded(measured.ppi, 2)} ppi"
        print(
            f"{file.file}: {measured.width} × {measured.height} px, {ppi}, {bytes_words(measured.bytes)}"
        )
        print("\n".join(f"  {line}" for line in lines_of(file)))
    for skipped in outcome.skipped:
        print(f"{skipped.file}: there already, and measures as asked")
    for failed in outcome.failed:
        print(f"oak-ledge: {failed.photo}: {failed.reason}", file=sys.stderr)


def report_sheets(outcome: SheetOutcome) -> None:
    """Print what sheets were made, what lies on none, and what failed."""
    for sheet in outcome.sheets:
        count = len(sheet.pieces)
        pieces = "1 piece" if count == 1 else f"{count} pieces"
        size = f"{rounded(sheet.width, 3)} × {rounded(sheet.height, 3)}"
        print(f"{sheet.file}, page {sheet.page}: {size}, {pieces}")
        for piece in sheet.pieces:
            at = f"{rounded(piece.x, 3)}, {rounded(piece.y, 3)}"
            print(f"  {piece.photo}, {piece.size}, at {at}{', turned' if piece.turned else ''}")
    for left in outcome.unplaced:
        print(f"oak-ledge: {left.photo} on {left.size}: {left.reason}", file=sys.stderr)
    for failed in outcome.failed:
        print(f"oak-ledge: {failed.photo}: {failed.reason}", file=sys.stderr)


def lines_of(answer: PhotoFigures | MadeFile) -> list[str]:
    """Return the figures and notes of one file, a line each."""
    return [answer.sentence, *(f"{note.level}: {note.text}" for note in answer.notes)]
