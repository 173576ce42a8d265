"""Figures in lines, for people."""

from __future__ import annotations

import sys

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.flows.commands import MadeFile, Outcome, Told


def report(outcome: Outcome) -> None:
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


def lines_of(answer: Told | MadeFile) -> list[str]:
    return [answer.sentence, *(f"{note.level}: {note.text}" for note in answer.notes)]
