"""Notes on colour: assumed, wrong for the receiver, flattened."""

from __future__ import annotations

from oak_ledge.core.notes.note import Note
from oak_ledge.core.photos.facts import PhotoFacts
from oak_ledge.core.sizes.size import Size


def profile_assumed(photo: PhotoFacts) -> Note | None:
    """Note that a photo without a profile was taken as sRGB."""
    if photo.profile is not None:
        return None
    what = "plain grey" if photo.channels == "grey" else "sRGB"
    return Note(
        level="fine",
        code="profile-assumed",
        text=f"The photo carries no colour profile; {what} is assumed.",
    )


def wrong_profile(size: Size, photo: PhotoFacts) -> Note | None:
    """Look where a file will not say its colours as its receiver reads them.

    A photo's profile that is for other colours than its pixels is not followed; and screens and
    marketplaces often take every file as sRGB, whatever profile it keeps.
    """
    if photo.profile is None:
        return None
    text = None
    if not photo.profile_fits:
        text = (
            f"The photo's profile, {photo.profile}, is not for {photo.channels} pixels; it is left "
            "out, and sRGB assumed. Give the photo its right profile where it was made."
        )
    elif (
        (size.group in ("screen", "marketplace") and size.file.profile == "keep")
        and (photo.channels != "CMYK" and "srgb" not in photo.profile.lower())
        and photo.channels != "grey"
    ):
        text = (
            f"The file keeps {photo.profile}; many {size.group}s take every file as sRGB, and "
            "show its colours wrong. Give the size the profile sRGB."
        )
    return None if text is None else Note(level="look", code="wrong-profile", text=text)


def flattened(size: Size, photo: PhotoFacts) -> Note | None:
    """Note that transparent parts become white in a format without transparency."""
    if not photo.alpha or size.file.format != "jpeg":
        return None
    return Note(
        level="fine",
        code="flattened",
        text="JPEG has no transparency: transparent parts become white. PNG and TIFF keep them.",
    )


def deeper(size: Size, photo: PhotoFacts) -> Note | None:
    """Note that a file is asked for with more bits than its photo has, which hold no more of it."""
    bits = size.file.bits
    if bits is None or bits <= photo.bits:
        return None
    text = f"The photo has {photo.bits} bits a channel; {bits} in the file hold no more of it."
    return Note(level="fine", code="more-bits", text=text)
