"""The library of saved sizes: read, kept, changed, deleted, brought back, exchanged."""

from __future__ import annotations

from collections.abc import Set
from datetime import datetime, timedelta
from itertools import count
from pathlib import PurePath
from typing import Literal

from pydantic import BaseModel

from oak_ledge.core.errors import SizeError
from oak_ledge.core.measures.numbers import clipped
from oak_ledge.core.sizes.choices import Group
from oak_ledge.core.sizes.fields import LONGEST_NAME
from oak_ledge.core.sizes.size import Size, changed_size, like_photo, size_from
from oak_ledge.core.sizes.starters import STARTERS
from oak_ledge.core.sizes.text.exchange import read_file, write_csv, write_json
from oak_ledge.core.sizes.text.read import read_size
from oak_ledge.core.sizes.text.sentence import say_size
from oak_ledge.core.sizes.text.write import shape_label, size_facts, size_name, write_size
from oak_ledge.core.sizes.variants import twin_of
from oak_ledge.flows.errors import ChangedMeanwhileError, NotFoundError
from oak_ledge.flows.library.views import (
    SavedSizeView,
    SizeBody,
    SizeChange,
    SizesTakenIn,
    said_over,
    size_view,
    view_of,
    with_text,
)
from oak_ledge.flows.photos.photos import find_photo
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.library import sizes
from oak_ledge.store.library.sizes import SavedSize


def every(workspace: Workspace) -> list[SavedSizeView]:
    """Return all saved sizes, in the library's order."""
    with reading(workspace.sessions) as session:
        used = sizes.uses(session)
        return [view_of(saved, used) for saved in sizes.every(session)]


class Choice(BaseModel):
    """A saved size, as short as it is needed to be chosen."""

    id: int
    name: str
    label: str
    facts: str
    """its resolution and pixels"""
    sentence: str
    group: Group


def choices(workspace: Workspace) -> list[Choice]:
    """Return saved sizes to choose from: those that jobs took first, the one taken last before all."""
    with reading(workspace.sessions) as session:
        saved = by_last_use(session)
    return [_choice(size_id, size) for size_id, size in saved.items()]


def by_last_use(session: Session) -> dict[int, Size]:
    """Return saved sizes by their ids: what was saved since, then what jobs took, the last first."""
    saved = {saved.id: saved.size for saved in sizes.every(session)}
    used = [size_id for size_id in sizes.last_used(session) if size_id in saved]
    before = max([len(STARTERS), *used])
    since = sorted((size_id for size_id in saved if size_id > before), reverse=True)
    return {id_: saved[id_] for id_ in dict.fromkeys([*since, *used, *saved])}


def _choice(size_id: int, size: Size) -> Choice:
    return Choice(
        id=size_id,
        name=size_name(size),
        label=shape_label(size),
        facts=size_facts(size),
        sentence=say_size(size),
        group=size.group,
    )


def view(workspace: Workspace, size_id: int) -> SavedSizeView:
    """Return a saved size; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return view_of(_find(session, size_id), sizes.uses(session))


def add(workspace: Workspace, body: SizeBody) -> SavedSizeView:
    """Keep a new size; a name that is taken gets a number behind it."""
    if not body.text:
        msg = "A size begins with its text, such as 8x10in@300."
        raise SizeError(msg)
    with transaction(workspace.sessions) as session:
        size = said_over(read_size(body.text), body)
        return view_of(sizes.add(session, named_anew(session, size)), {})


def change(workspace: Workspace, size_id: int, body: SizeChange) -> SavedSizeView:
    """Change a saved size. Jobs that took it keep their copy as it was.

    Raises
    ------
    ChangedMeanwhileError
        If it stands at another version than the one that was read.
    """
    with transaction(workspace.sessions) as session:
        saved = _find(session, size_id)
        newest = saved.version == body.version
        if newest:
            saved = sizes.change(session, size_id, _changed(saved.size, body))
        answer = view_of(saved, sizes.uses(session))
    if not newest:
        msg = (
            f"“{size_name(saved.size)}” was changed meanwhile (version {saved.version}, "
            f"yours was {body.version}). Look at it again, then change it."
        )
        raise ChangedMeanwhileError(msg, answer)
    return answer


def _changed(saved: Size, body: SizeChange) -> Size:
    """Put what was sent back over a saved size: first as a whole, then field by field."""
    size = saved
    if body.size is not None:
        size = body.size
        # name and group stand beside the size too: the one that was changed is meant
        for name in ("name", "group"):
            if getattr(body, name) is not None and getattr(size, name) == getattr(saved, name):
                size = changed_size(size, **{name: getattr(body, name)})
        size_change = body.model_copy(update={"name": None, "group": None})
        return said_over(size, size_change)
    if body.text:
        size = with_text(size, body.text)
    return said_over(size, body)


def delete(workspace: Workspace, size_id: int, now: datetime) -> SavedSizeView:
    """Delete a size; jobs keep their copies, and it can be brought back."""
    with transaction(workspace.sessions) as session:
        answer = view_of(_find(session, size_id), sizes.uses(session))
        sizes.delete(session, size_id, now)
        return answer


def delete_named(workspace: Workspace, name: str, now: datetime) -> SavedSizeView:
    """Delete the size of a name."""
    with transaction(workspace.sessions) as session:
        saved = _named_one(session, name)
        answer = view_of(saved, sizes.uses(session))
        sizes.delete(session, saved.id, now)
        return answer


def restore(workspace: Workspace, size_id: int) -> SavedSizeView:
    """Bring a deleted size back; one whose name was taken meanwhile is named anew."""
    with transaction(workspace.sessions) as session:
        saved = sizes.restore(session, size_id)
        if saved is None:
            raise NotFoundError(_no_size(size_id))
        return view_of(saved, sizes.uses(session))


# How long a deleted size is listed, to be brought back.
KEPT = timedelta(days=30)


class DeletedSize(BaseModel):
    """A size that was deleted, and until when it can be brought back."""

    id: int
    name: str
    text: str
    until: datetime


def deleted(workspace: Workspace, now: datetime) -> list[DeletedSize]:
    """Sizes that can still be brought back, the one deleted last first."""
    with reading(workspace.sessions) as session:
        rows = sizes.deleted(session, now - KEPT)
    return [
        DeletedSize(
            id=saved.id, name=size_name(saved.size), text=write_size(saved.size), until=at + KEPT
        )
        for saved, at in rows
    ]


def keep_like(workspace: Workspace, photo_id: int) -> SavedSizeView:
    """Keep the size of a photo in the library: its pixels, its resolution label, so its shape."""
    photo = find_photo(workspace, photo_id)
    size = like_photo(f"like {PurePath(photo.name).stem}", photo.facts.upright, photo.facts.ppi)
    with transaction(workspace.sessions) as session:
        return view_of(sizes.add(session, named_anew(session, size)), {})


def copy(workspace: Workspace, size_id: int, *, twin: bool) -> SavedSizeView:
    """Keep a copy of a size, or its twin with width and height traded."""
    with transaction(workspace.sessions) as session:
        size = _find(session, size_id).size
        name = size_name(size)
        copied = changed_size(size, name=with_tail(name, ", copy"))
        if twin:
            copied = changed_size(twin_of(size), name=with_tail(name, ", twin"))
        return view_of(sizes.add(session, named_anew(session, copied)), {})


def named(workspace: Workspace, name: str) -> Size:
    """Find a saved size by its name."""
    with reading(workspace.sessions) as session:
        return _named_one(session, name).size


def _named_one(session: Session, name: str) -> SavedSize:
    saved = sizes.find_by_name(session, name)
    if saved is None:
        names = [size_name(saved.size) for saved in sizes.every(session)]
        msg = f"there is no size “{clipped(name)}”; there are {', '.join(names) or 'none yet'}"
        raise SizeError(msg)
    return saved


def export(workspace: Workspace, kind: Literal["json", "csv"]) -> str:
    """Return the library as the text of a file of one kind."""
    with reading(workspace.sessions) as session:
        library = [saved.size for saved in sizes.every(session)]
    return write_csv(library) if kind == "csv" else write_json(library)


def take_in(workspace: Workspace, text: str, *, only_tell: bool = False) -> SizesTakenIn:
    """Take a library in from JSON or CSV: all of it or nothing.

    A size that is here already, equal in every field, is passed over; one whose name is taken
    by another size is kept under a new name. `only_tell` reports and keeps nothing.
    """
    answer = SizesTakenIn(added=[], same=[], renamed=[])
    incoming, tails = read_file(text), dict[str, int]()
    with transaction(workspace.sessions) as session:
        here = {saved.size for saved in sizes.every(session)}
        taken = {size.name for size in here}
        for size in incoming:
            if size in here:
                answer.same.append(size_name(size))
                continue
            kept = _with_free_name(size, taken, tails)
            here.add(kept)
            taken.add(kept.name)
            if kept.name == size.name:
                answer.added.append(kept.name)
            else:
                answer.renamed.append((size.name, kept.name))
            if not only_tell:
                sizes.add(session, kept)
    return answer


def add_starters(workspace: Workspace) -> None:
    """Put the first sizes into a library that never held any."""
    with transaction(workspace.sessions) as session:
        if sizes.count(session):
            return
        for name, group, text, receiver, more in STARTERS:
            fields = {"name": name, "group": group, "receiver": receiver} | more
            sizes.add(session, size_from(dict(read_size(text)) | fields))


def named_anew(session: Session, size: Size) -> Size:
    """Return a size under a name that is free, the same where it is."""
    return _with_free_name(size, {saved.size.name for saved in sizes.every(session)})


def _with_free_name(size: Size, taken: Set[str], tails: dict[str, int] | None = None) -> Size:
    """Name a size as no other is named; `tails` remember how far each was counted."""
    wanted = (size.name.strip() or size_view(size).label)[:LONGEST_NAME]
    name = wanted
    if name in taken:
        tails = {} if tails is None else tails
        for number in count(tails.get(wanted, 2)):
            name = with_tail(wanted, f" {number}")
            if name not in taken:
                tails[wanted] = number + 1
                break
    return changed_size(size, name=name)


def with_tail(name: str, tail: str) -> str:
    """Put a tail to a name, which is cut for it where it would become too long."""
    return name[: LONGEST_NAME - len(tail)].rstrip() + tail


def _find(session: Session, size_id: int) -> SavedSize:
    saved = sizes.find(session, size_id)
    if saved is None:
        raise NotFoundError(_no_size(size_id))
    return saved


def _no_size(size_id: int) -> str:
    return f"There is no size {size_id}."
