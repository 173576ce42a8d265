"""The sign on the quay: exactly its dots, and so light that it can be read; too heavy a file hangs it."""

from __future__ import annotations

from oak_ledge.core.files.wishes import Wish
from oak_ledge.desks.desk import Answer, Fix, Parcel

WIDE, HIGH = 384, 160
MOST_BYTES = 150_000
# Bytes from which it does not refuse but stands still.
HANGS = 1_000_000
FORMATS = ("png", "jpeg")


class Sign:
    """A sign of 384 × 160 dots."""

    name, title = "sign", "Sign on the quay"
    wants = f"{WIDE} × {HIGH} px, PNG or JPEG, at most 150 kB"

    def is_for(self, parcel: Parcel) -> bool:
        """Return whether such a file is meant for this desk at all."""
        return parcel.group == "screen"

    def check(self, parcel: Parcel) -> Answer:
        """Return what it would answer to a file."""
        measured, reasons, fixes = parcel.measured, [], []
        if (measured.width, measured.height) != (WIDE, HIGH):
            used = min(measured.width / WIDE, 1) * min(measured.height / HIGH, 1)
            face = f"; {used * 100:.0f} % of its face would be used" if used < 1 else ""
            reasons.append(f"it is {measured.width} × {measured.height} px{face}")
            fixes.append(Fix(f"Lay it on {WIDE}x{HIGH}px", Wish(lay_on=f"{WIDE}x{HIGH}px")))
        if measured.format not in FORMATS:
            reasons.append(f"it is {measured.format.upper()}; the sign reads PNG and JPEG")
            fixes.append(Fix("Make it a JPEG", Wish(format="jpeg")))
        if measured.bytes > MOST_BYTES:
            reasons.append(f"it has {measured.bytes / 1e3:.1f} kB; at most 150 kB are read")
            fixes.append(
                Fix("Make it a JPEG of at most 150kB", Wish(format="jpeg", at_most=MOST_BYTES))
            )
        return Answer(tuple(reasons), tuple(fixes), hangs=measured.bytes > HANGS)
