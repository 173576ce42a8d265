"""Asked against measured: what a file shall be, what it is, and in which figures they differ."""

from __future__ import annotations

from fractions import Fraction

from pydantic import BaseModel, ConfigDict, Field

from oak_ledge.core.files.density import holdable_ppi, jfif_density, written_ppi
from oak_ledge.core.measures.bytes import bytes_words, limit_words
from oak_ledge.core.measures.lengths import Pixels, length_words
from oak_ledge.core.measures.numbers import rounded
from oak_ledge.core.reports.sentence import measured_lengths, output_lengths
from oak_ledge.core.sizes.file.formats import FileKind, format_of
from oak_ledge.core.sizes.file_geometry import file_pixels, one_panel
from oak_ledge.core.sizes.geometry import whole_margin
from oak_ledge.core.sizes.hidden_edges import printed_inches
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.sizes.text.sentence import profile_words

# Readers hand densities on as floats.
HAIR_PPI = 0.001


class Asked(BaseModel):
    """What a file shall be: pixels, resolution label, format, greatest bytes."""

    model_config = ConfigDict(frozen=True)

    width: int
    height: int
    ppi: float | None
    format: FileKind
    at_most: int | None = None
    bits: int | None = Field(default=None, exclude_if=lambda bits: bits is None)
    """of each band; None: as the photo has it"""
    pages: int | None = Field(default=None, exclude_if=lambda pages: pages is None)
    """of a PDF, whose pixels are those of a page at the paper's resolution"""


class Measured(BaseModel):
    """What a file on disk is."""

    model_config = ConfigDict(frozen=True)

    width: int
    height: int
    ppi: float | None
    bytes: int
    format: FileKind
    profile: str | None
    bits: int
    sha256: str | None = None
    """of the whole file; None of files that were measured before hashes were kept"""
    pages: int | None = Field(default=None, exclude_if=lambda pages: pages is None)
    images: int | None = Field(default=None, exclude_if=lambda images: images is None)
    """in a PDF, each counted once"""


class ProofLine(BaseModel):
    """One figure: asked against measured, in words. `same` is None where nothing was asked."""

    model_config = ConfigDict(frozen=True)

    what: str
    asked: str
    measured: str
    same: bool | None


def asked_of(size: Size, pixels: Pixels, label: float | None = None) -> Asked:
    """Return what each file of a size shall be, given its output pixels and the photo's label in ppi."""
    ppi, pixels = written_ppi(size, label), file_pixels(size, pixels)
    return Asked(
        width=pixels[0],
        height=pixels[1],
        ppi=None if ppi is None else float(ppi),
        format=size.file.format,
        at_most=size.file.at_most,
        bits=size.file.bits,
    )


def prove(size: Size, asked: Asked, measured: Measured) -> tuple[ProofLine, ...]:
    """Set every figure of a file against what was asked, after its format's own rounding.

    `size` is the piece's; where it has panels, a file is one of them.
    """
    if asked.format == "pdf":
        return _prove_sheet(size, asked, measured)
    size = one_panel(size)
    ppi = None if asked.ppi is None else holdable_ppi(Fraction(asked.ppi), asked.format)
    if asked.ppi is None or ppi is None or measured.ppi is None:
        same_ppi = ppi is measured.ppi
    else:  # some readers of a JPEG see only what its JFIF block rounds to
        unit, density = jfif_density(Fraction(asked.ppi))
        seen = {ppi, density * (2.54 if unit == 2 else 1)} if asked.format == "jpeg" else {ppi}
        same_ppi = any(abs(part - measured.ppi) <= HAIR_PPI for part in seen)
    lines = [
        ProofLine(
            what="pixels",
            asked=f"{asked.width} × {asked.height}",
            measured=f"{measured.width} × {measured.height}",
            same=(asked.width, asked.height) == (measured.width, measured.height),
        ),
        ProofLine(
            what="resolution",
            asked=_ppi_words(asked.ppi),
            measured=_ppi_words(measured.ppi),
            same=same_ppi,
        ),
        *_lengths(size, asked, measured),
        ProofLine(
            what="kind",
            asked=format_of(asked.format).words
            + ("" if asked.bits is None else f", {asked.bits} bit"),
            measured=f"{format_of(measured.format).words}, {measured.bits} bit",
            same=asked.format == measured.format and asked.bits in (None, measured.bits),
        ),
        ProofLine(
            what="profile",
            asked=profile_words(size.file),
            measured=measured.profile or "none",
            same=None,
        ),
        ProofLine(
            what="bytes",
            asked="any" if asked.at_most is None else f"at most {limit_words(asked.at_most)}",
            measured=bytes_words(measured.bytes),
            same=None if asked.at_most is None else measured.bytes <= asked.at_most,
        ),
    ]
    return tuple(lines)


def _prove_sheet(size: Size, asked: Asked, measured: Measured) -> tuple[ProofLine, ...]:
    """Set the pages of a PDF against the paper that was asked for."""
    unit = size.shape.measured_in or "in"
    lengths = measured_lengths(measured.width, measured.height, asked.ppi or 1, unit)
    same = (asked.width, asked.height) == (measured.width, measured.height)
    pages = measured.pages == asked.pages
    return (
        ProofLine(what="page", asked=size.shape.label, measured=lengths, same=same),
        ProofLine(
            what="pages", asked=str(asked.pages), measured=str(measured.pages), same=pages
        ),
        ProofLine(
            what="kind", asked="PDF", measured=format_of(measured.format).words,
            same=measured.format == "pdf",
        ),
        ProofLine(what="images", asked="their own", measured=str(measured.images), same=None),
        ProofLine(what="bytes", asked="any", measured=bytes_words(measured.bytes), same=None),
    )  # fmt: skip


def _ppi_words(ppi: float | None) -> str:
    return "none" if ppi is None else f"{rounded(ppi, 3)} ppi"


def _lengths(size: Size, asked: Asked, measured: Measured) -> tuple[ProofLine, ...]:
    """Set physical sizes side by side; whole pixels meet a length to within one of them."""
    pixels = (asked.width, asked.height)
    printed = printed_inches(size, pixels)
    unit = (size.shape.measured_in or "px") if size.shape.both_edges else "px"
    if printed is None or unit == "px" or asked.ppi is None:
        return ()
    if measured.ppi is None:
        return (ProofLine(what="physical size", asked="", measured="unknown", same=False),)
    more = 2 * whole_margin(size)
    wanted = [float(edge + more) for edge in printed]
    lengths = (measured.width / measured.ppi, measured.height / measured.ppi)
    return (
        ProofLine(
            what="physical size",
            asked=_with_margin(size, pixels),
            measured=measured_lengths(measured.width, measured.height, measured.ppi, unit),
            same=all(
                abs(a - b) <= 1 / asked.ppi + a * abs(asked.ppi / measured.ppi - 1)
                for a, b in zip(wanted, lengths, strict=True)
            ),
        ),
    )


def _with_margin(size: Size, pixels: Pixels) -> str:
    """Return the print's lengths in words, and what the file holds beyond them on every side."""
    beyond = [length_words(length) for length in (size.bleed, size.wrap) if length is not None]
    return " + ".join([output_lengths(size, pixels) or "", *beyond])


def differences(size: Size, asked: Asked, measured: Measured) -> tuple[str, ...]:
    """Name every figure in which a file is not as asked."""
    return tuple(
        f"{line.what}: asked {line.asked}, measured {line.measured}"
        for line in prove(size, asked, measured)
        if line.same is False
    )
