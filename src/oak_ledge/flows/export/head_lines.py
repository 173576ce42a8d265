"""Where the lines of a head lie on a file that was made, for the contact sheet of a series."""

from __future__ import annotations

from oak_ledge.core.placements.lying import lying_on
from oak_ledge.core.placements.placement import size_at
from oak_ledge.core.placements.zones.head import head_on_piece
from oak_ledge.core.sizes.file_geometry import file_pixels, picture_shares, printed_pixels
from oak_ledge.store import photos
from oak_ledge.store.database import Session
from oak_ledge.store.work.deliveries import DeliveryFile


def head_lines(session: Session, file: DeliveryFile) -> tuple[float, ...]:
    """Return crown, eyes and chin as shares of a file's height from its top; none where its size asks for no head."""
    if file.sheet is not None or size_at(file.size, file.placement).head is None:
        return ()
    photo = photos.find(session, file.photo_id)
    if photo is None or photo.face is None:
        return ()
    lying = lying_on(file.size, photo.facts.upright, file.placement)
    head = head_on_piece(lying, photo.face)
    if head is None:
        return ()
    left, right, chin, crown = (down for _, down in head.points)
    _, top, _, high = picture_shares(lying.size, lying.asked)
    printed, whole = (
        printed_pixels(lying.size, lying.asked)[1],
        file_pixels(lying.size, lying.asked)[1],
    )
    around = (whole - printed) / 2  # bleed or wrap, above as below

    def on_file(down: float) -> float:
        return (around + (top + down * high) * printed) / whole

    return on_file(crown), on_file((left + right) / 2), on_file(chin)
