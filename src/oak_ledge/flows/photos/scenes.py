"""Photos with what is painted over on them and continued around them: kept, asked for, made.

What was made lies in the data folder, named by what it is made of; it can be deleted at any time.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Callable, Collection, Sequence
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from oak_ledge.core.photos.continued import Continued
from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.photos.retouches import NO_RETOUCHES, Retouches
from oak_ledge.core.pixels.cache import Arrays, IsSound, Keep
from oak_ledge.core.pixels.kept_arrays import are_look, is_sound_file
from oak_ledge.core.pixels.open.layers import Scene
from oak_ledge.core.pixels.scene_maker import Maker, look_in, of_ground, of_retouch, of_solved
from oak_ledge.core.pixels.tries.ranking import Look
from oak_ledge.flows.errors import NotMadeError, RequestError
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import reading, transaction
from oak_ledge.store.folders import is_fresh, replace_file
from oak_ledge.store.photos import Photo, present
from oak_ledge.store.work import fills
from oak_ledge.store.work.fills import Fill, FillWish

# Turns: what is looked at, and what is made behind it.
FIRST, THEN = 0, 1


# Scenes whose pixels are held: those that were looked at last.
MOST_HELD = 2

_found: dict[str, Path | Scene] = {}


def of_work(work: FillWork) -> str:
    """Return all that a piece of work is made of, besides the photo's file."""
    if work.one is not None:
        return of_retouch(work.retouches, work.one)
    assert work.ground is not None
    of = of_ground if work.full else of_solved
    return of(work.retouches, work.ground)


def named(photo_hash: str, of: str) -> str:
    """Name what is made of a photo."""
    return f"{photo_hash}-{hashlib.sha256(of.encode()).hexdigest()[:32]}"


def path_of(workspace: Workspace, made_of: str) -> Path:
    """Where something made lies."""
    return workspace.scenes / made_of[:2] / f"{made_of}.npz"


def is_made(workspace: Workspace, photo: Photo, work: FillWork) -> bool:
    """Return whether a piece of work is done, and still there."""
    return is_fresh(path_of(workspace, named(photo.hash, of_work(work))))


def kept(workspace: Workspace, photo_hash: str, *, make: bool) -> Keep:
    """Keep what is made of a photo in the data folder; only look there unless it may `make`.

    Raises
    ------
    NotMadeError
        If something is not there, and is not to be made.
    """

    def keep(of: str, make_arrays: Callable[[], Arrays], is_sound: IsSound) -> Arrays:
        path = path_of(workspace, named(photo_hash, of))
        arrays = arrays_in(path)
        if arrays is not None and not is_sound(arrays):
            path.unlink(missing_ok=True)  # so that it is asked for, and made, again
            arrays = None
        if arrays is None:
            if not make:
                raise NotMadeError(path.stem)
            arrays = dict(make_arrays())
            replace_file(path, as_file(arrays))
        return arrays

    return keep


def arrays_in(path: Path) -> dict[str, npt.NDArray[Any]] | None:
    """Read what was kept; None where it is missing, or damaged, and so made again."""
    if not is_fresh(path):
        return None
    with suppress(OSError), path.open("rb") as file:
        if not is_sound_file(file):
            path.unlink(missing_ok=True)
            return None
    damaged = (OSError, ValueError, zipfile.BadZipFile, EOFError, KeyError)
    with (
        suppress(*damaged),
        path.open("rb") as file,
        np.load(file, allow_pickle=False) as file_arrays,
    ):
        return {name: file_arrays[name] for name in file_arrays.files}
    return None


def as_file(arrays: Arrays) -> bytes:
    """Return arrays as the bytes of the file they are kept in."""
    out = io.BytesIO()
    np.savez(out, allow_pickle=False, **arrays)
    return out.getvalue()


def maker_of(
    workspace: Workspace, photo: Photo, retouches: Retouches | None = None, *, make: bool
) -> Maker:
    """Return what makes, or finds, all that is laid over a photo."""
    path = present(workspace.originals, photo)
    chosen = photo.retouches if retouches is None else retouches
    return Maker(path, chosen, kept(workspace, photo.hash, make=make))


def scene_if_made(
    workspace: Workspace, photo: Photo, ground: Continued | None = None
) -> Path | Scene | None:
    """Return a photo with what is laid over it; None where that is not made yet, and is asked for."""
    if not photo.retouches.shown and ground is None:
        return present(workspace.originals, photo)
    of = f"{photo.hash} {photo.retouches.model_dump_json()} {ground and ground.model_dump_json()}"
    scene = _found.get(of)
    if scene is None:
        try:
            scene = maker_of(workspace, photo, make=False).scene(ground)
        except NotMadeError:
            ask(workspace, photo, missing(workspace, photo, ground), asker=f"photo {photo.id}")
            return None
        _found[of] = scene
        while len(_found) > MOST_HELD:
            _found.pop(next(iter(_found)), None)
    return scene


def missing(workspace: Workspace, photo: Photo, ground: Continued | None = None) -> list[FillWork]:
    """Return the work that is to be done before a photo can be seen as it is retouched and continued."""
    retouches = photo.retouches
    works = [FillWork(retouches=retouches, one=retouch) for retouch in retouches.shown]
    if ground is not None:
        works.append(FillWork(retouches=retouches, ground=ground, full=True))
    return [work for work in works if not is_made(workspace, photo, work)]


def asked_of(photo: Photo, work: FillWork, asker: str) -> FillWish:
    """Return a piece of work as it is asked for."""
    wide, high = photo.facts.upright
    canvas = work.ground.edges if work.ground is not None else (wide, high)
    pixels = wide * high + canvas[0] * canvas[1]
    turn = THEN if work.full else FIRST
    return FillWish(named(photo.hash, of_work(work)), photo.id, work, pixels, turn, asker)


def ask(
    workspace: Workspace,
    photo: Photo,
    works: Sequence[FillWork],
    asker: str,
    *,
    again: bool = False,
) -> None:
    """Ask the workers for work that nobody has asked for yet; what failed only `again`, on a person's wish."""
    if not works:
        return
    wishs = [asked_of(photo, work, asker) for work in works]
    with reading(workspace.sessions) as session:
        known = fills.find_many(session, [wish.made_of for wish in wishs])
    failed = [name for name, fill in known.items() if again and fill.state == "failed"]
    wishs = [wish for wish in wishs if wish.made_of not in known or wish.made_of in failed]
    if not wishs:
        return
    with transaction(workspace.sessions) as session:
        fills.forget(session, failed)
        for wish in wishs:
            fills.ask(session, wish)
    if workspace.ask is not None:
        workspace.ask(len(wishs))


def bare(photo: Photo) -> Photo:
    """Return a photo as it came, without its retouches."""
    return replace(photo, retouches=NO_RETOUCHES)


def uncut(photo: Photo) -> Photo:
    """Return a photo with all its retouches but what is cut out of it."""
    kept = [retouch for retouch in photo.retouches.retouches if retouch.kind != "cut_out"]
    return replace(photo, retouches=photo.retouches.model_copy(update={"retouches": tuple(kept)}))


def not_made(workspace: Workspace, photo: Photo, works: Sequence[FillWork]) -> list[Fill | None]:
    """Return how far pieces of work are that are asked for; None where nobody asked."""
    names = names_of(photo, works)
    with reading(workspace.sessions) as session:
        known = fills.find_many(session, names)
    return [known.get(name) for name in names]


def refuse_failed(workspace: Workspace, photo: Photo, work: FillWork) -> None:
    """Refuse to look at something that could not be made, with the reason.

    Raises
    ------
    RequestError
        With the reason.
    """
    (fill,) = not_made(workspace, photo, [work])
    if fill is not None and fill.state == "failed":
        raise RequestError(fill.reason or "It could not be made.")


def look_at(workspace: Workspace, photo: Photo, work: FillWork) -> Look | None:
    """Return what orders a try among others; None where it isn't made."""
    arrays = arrays_in(path_of(workspace, named(photo.hash, of_work(work))))
    return look_in(arrays) if arrays is not None and are_look(arrays) else None


def drop(workspace: Workspace, asker: str, but: Collection[str] = ()) -> None:
    """Want no more what was asked for something, but for some by name."""
    with reading(workspace.sessions) as session:
        over = fills.of_asker(session, asker).difference(but)
    if over or not but:
        with transaction(workspace.sessions) as session:
            fills.drop(session, asker, but)


def names_of(photo: Photo, works: Sequence[FillWork]) -> list[str]:
    """Name pieces of work as they are asked for and kept."""
    return [named(photo.hash, of_work(work)) for work in works]
