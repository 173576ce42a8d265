"""What a worker elsewhere is handed: all that its files are made from, sealed by the token's key."""

from __future__ import annotations

import hashlib
import hmac

from pydantic import ValidationError

from oak_ledge.core.errors import PhotoError
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import Retouches
from oak_ledge.core.placements.placement import Placement
from oak_ledge.core.sheets.print_order import SheetOrder
from oak_ledge.core.sizes.size import Size
from oak_ledge.core.values import Value
from oak_ledge.flows.errors import ForeignError


class PhotoSent(Value):
    """A photo: its original is fetched by its hash."""

    hash: str
    name: str
    facts: PhotoFacts


class FileSent(Value):
    """A file, as it was frozen when it was asked for."""

    id: int
    placement_id: int
    photo_hash: str
    panel: int | None
    size: Size
    placement: Placement
    retouches: Retouches
    name: str
    sheet: SheetOrder | None = None


class Message(Value):
    """Files of one photo, or of one sheet's; or a fill of a photo."""

    ticket: str
    output_pixels: int
    """the most that a file may have, as the server is set"""
    photos: tuple[PhotoSent, ...]
    files: tuple[FileSent, ...] = ()
    fill: FillWork | None = None

    def photo(self, digest: str) -> PhotoSent:
        """Return one of its photos by its hash.

        Raises
        ------
        PhotoError
            If it was taken away before the message was sent.
        """
        for sent in self.photos:
            if sent.hash == digest:
                return sent
        msg = "Its photo was taken away meanwhile."
        raise PhotoError(msg)


def sealed(message: Message, key: bytes) -> tuple[str, str]:
    """Return a message as text, and the seal that says whose it is (HMAC-SHA-256, RFC 2104)."""
    text = message.model_dump_json()
    return text, _seal(text, key)


def opened(text: str, seal: str, key: bytes) -> Message:
    """Return a message whose seal is right.

    Raises
    ------
    ForeignError
        If it is another's, was changed on its way, or is none.
    """
    if not hmac.compare_digest(_seal(text, key).encode(), seal.encode()):
        msg = "its seal is not that of this token"
        raise ForeignError(msg)
    try:
        return Message.model_validate_json(text)
    except ValidationError as exc:
        msg = "it says what this version does not know"
        raise ForeignError(msg) from exc


def _seal(text: str, key: bytes) -> str:
    return hmac.new(key, text.encode(), hashlib.sha256).hexdigest()
