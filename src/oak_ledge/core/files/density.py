"""What resolution each format can hold."""

from __future__ import annotations

from fractions import Fraction

from oak_ledge.core.measures.lengths import CM_PER_INCH, MM_PER_INCH
from oak_ledge.core.measures.numbers import halves_up
from oak_ledge.core.sizes.file.formats import FileKind
from oak_ledge.core.sizes.file.ppi_range import MOST_PPI
from oak_ledge.core.sizes.size import Size

# JFIF 1.02: 16 bits.
MOST_DENSITY = 65_535


def written_ppi(size: Size, label: float | None) -> Fraction | None:
    """Return the resolution that is written into a file; None for none.

    It is the size's. Where a size has none and lets the photo's own pixels out, it is the photo's
    `label`, in ppi, unless that is none a size could ask for.
    """
    if size.ppi is not None or label is None or not size.shape.keeps_pixels:
        return size.ppi
    ppi = Fraction(label).limit_denominator(10_000)
    return ppi if 0 < ppi <= MOST_PPI else None


def holdable_ppi(ppi: Fraction, file_format: FileKind) -> float:
    """Return the resolution a format can really hold for one asked for.

    PNG's density is in whole pixels per metre (PNG, 11.3.5.3); TIFF's is a ratio, as is that of EXIF
    in JPEG, WebP and AVIF. What JFIF holds beside it is `jfif_density`.

    >>> holdable_ppi(Fraction(300), "png")
    299.9994
    """
    if file_format == "png":
        return per_metre(ppi) * float(MM_PER_INCH) / 1000
    return float(ppi)


def jfif_density(ppi: Fraction) -> tuple[int, int]:
    """Return the unit and density a JFIF block holds for a resolution (JFIF 1.02).

    Unit 1 is whole dots per inch, 2 is whole dots per centimetre: whichever is exact, else the
    nearest dots per inch. What has more than 16 bits is told per centimetre.

    >>> jfif_density(Fraction(300)), jfif_density(Fraction(1524, 5)), jfif_density(Fraction(481, 2))
    ((1, 300), (2, 120), (1, 241))
    """
    per_cm = ppi / CM_PER_INCH
    if (per_cm.denominator == 1 and ppi.denominator != 1) or ppi > MOST_DENSITY:
        return 2, halves_up(per_cm)
    return 1, max(1, halves_up(ppi))


def per_metre(ppi: Fraction) -> int:
    """Return whole pixels per metre for a resolution in ppi."""
    return max(1, halves_up(ppi * 1000 / MM_PER_INCH))
