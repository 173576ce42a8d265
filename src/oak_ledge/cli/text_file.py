"""Text files a command is given, or writes: bounded, and never over another."""

from __future__ import annotations

from pathlib import Path

from oak_ledge.cli.trouble import SOME_FAILED, fail


def read_text(file: Path, most_bytes: int, code: int, more: str = "") -> str:
    """Return a file's text; one that is too large or can't be read ends the command with a line."""
    try:
        if file.stat().st_size > most_bytes:
            fail(code, f"{file} is larger than {most_bytes // 1_000_000} MB{more}")
        return file.read_text(encoding="utf-8", errors="replace")
    except OSError as exc:
        fail(code, f"{file} cannot be read: {exc.strerror or exc}")


def write_new(file: Path, text: str) -> None:
    """Write a file that is not there yet; where it can't be, end the command with a line."""
    try:
        with file.open("x", encoding="utf-8", newline="") as out:
            out.write(text)
    except FileExistsError:
        fail(SOME_FAILED, f"{file} is there already and is not written over. Choose another name")
    except OSError as exc:
        fail(SOME_FAILED, f"{file} cannot be written: {exc.strerror or exc}")
