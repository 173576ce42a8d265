"""Jobs: photos and sizes brought together; every photo is laid on every size at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from datetime import datetime, timedelta
from functools import partial
from pathlib import PurePath
from typing import Literal, TypeVar

from oak_ledge.core.sizes.size import Size
from oak_ledge.flows.errors import NotFoundError, RequestError
from oak_ledge.flows.jobs.job_views import JobBrief, JobChange, JobPhoto, Jobs, JobSize, JobView
from oak_ledge.flows.jobs.quick import FileBody, sized
from oak_ledge.flows.library.entry import meant_in
from oak_ledge.flows.library.views import size_view
from oak_ledge.flows.photos.photos import first_on, forget_unused, photo_in
from oak_ledge.flows.photos.previews import look_of
from oak_ledge.flows.photos.subjects import looked_at
from oak_ledge.flows.pieces.pieces import counted, piece_of, standing
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store import jobs, photos, placements
from oak_ledge.store.database import Session, reading, transaction
from oak_ledge.store.errors import DamagedError
from oak_ledge.store.jobs import Job, Laying, Member, Taken
from oak_ledge.store.library import sizes
from oak_ledge.store.photos import Photo
from oak_ledge.store.placements import Placed

T = TypeVar("T")

# A deleted job can be brought back so long.
KEPT = timedelta(days=30)


def start(
    workspace: Workspace,
    name: str,
    photo_ids: Sequence[int],
    size_ids: Sequence[int],
    size_texts: Sequence[str],
    now: datetime,
    file: FileBody | None = None,
) -> int:
    """Start a job; give its id. The job keeps copies of its sizes, `file` put over them.

    Photos and sizes may come later. Without a name it is called by its photos.

    Raises
    ------
    NotFoundError
        If a photo or size is not here.
    SizeTextError
        If a text is not a size.
    """
    taken = _photos(workspace, photo_ids)
    with transaction(workspace.sessions) as session:
        sizes_taken = sized(_sizes(session, size_ids, size_texts), file or FileBody())
        job = jobs.add(session, name.strip() or called_by(taken), now)
        _add(session, job.id, taken, sizes_taken)
    return job.id


def called_by(taken: Sequence[Photo]) -> str:
    """Call a job by its photos: “harbour-wall and 11 more”."""
    if not taken:
        return "New job"
    first, more = PurePath(taken[0].name).stem[:100], len(taken) - 1
    return f"{first} and {more} more" if more else first


def add(
    workspace: Workspace,
    job_id: int,
    photo_ids: Sequence[int],
    size_ids: Sequence[int],
    size_texts: Sequence[str],
    now: datetime,
    file: FileBody | None = None,
) -> JobView:
    """Add photos and sizes to a job, `file` put over them.

    What was taken out of it comes back as it was left.
    """
    taken = _photos(workspace, photo_ids)
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        sizes_taken = sized(_sizes(session, size_ids, size_texts), file or FileBody())
        _add(session, job_id, taken, sizes_taken)
        jobs.change(session, job_id, now)
    return view(workspace, job_id)


def _photos(workspace: Workspace, photo_ids: Sequence[int]) -> list[Photo]:
    with reading(workspace.sessions) as session:
        chosen = [photo_in(session, photo_id) for photo_id in dict.fromkeys(photo_ids)]
    return [looked_at(workspace, photo) for photo in chosen]


def _sizes(
    session: Session, size_ids: Sequence[int], texts: Sequence[str]
) -> list[tuple[Size, int | None]]:
    chosen: list[tuple[Size, int | None]] = []
    for size_id in dict.fromkeys(size_ids):
        saved = sizes.find(session, size_id)
        if saved is None:
            msg = f"There is no size {size_id}."
            raise NotFoundError(msg)
        chosen.append((saved.size, saved.id))
    return chosen + meant_in(session, texts)


def _add(
    session: Session,
    job_id: int,
    taken: Sequence[Photo],
    sequence: Sequence[tuple[Size, int | None]],
) -> None:
    """Add photos and sizes, and lay every photo on every size it does not lie on yet."""
    jobs.add_photos(session, job_id, [photo.id for photo in taken])
    for size, saved_id in sequence:
        jobs.add_size(session, job_id, size, saved_id)
    known = jobs.pairs(session, job_id)
    jobs.lay(
        session,
        job_id,
        [
            Laying(member, size, first_on(size.size, member.photo))
            for size in jobs.taken(session, job_id)
            for member in jobs.members(session, job_id)
            if (member.id, size.id) not in known
        ],
    )


def take_out(
    workspace: Workspace, job_id: int, of: Literal["photo", "size"], place: int, now: datetime
) -> JobView:
    """Take a photo or a size out of a job; what was done with it rests, and comes back with it.

    Raises
    ------
    NotFoundError
        If the job has no such one.
    """
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        members: Sequence[Member | Taken] = (
            jobs.members(session, job_id) if of == "photo" else jobs.taken(session, job_id)
        )
        if place not in [member.id for member in members]:
            msg = f"Job {job_id} has no such {of}."
            raise NotFoundError(msg)
        if of == "photo":
            jobs.take_photo_out(session, place, now)
        else:
            jobs.take_size_out(session, place, now)
        jobs.change(session, job_id, now)
    return view(workspace, job_id)


def change(workspace: Workspace, job_id: int, body: JobChange, now: datetime) -> JobBrief:
    """Change a job's name, notes, due date, order, or whether it is finished."""
    changes: dict[str, object] = {}
    if body.name is not None:
        changes["name"] = body.name.strip() or "Job"
    if body.notes is not None:
        changes["notes"] = body.notes
    if body.due is not None or body.no_due:
        changes["due"] = body.due
    if body.away is not None:
        changes["away"] = now if body.away else None
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        places = (
            {member.id for member in jobs.members(session, job_id)},
            {taken.id for taken in jobs.taken(session, job_id)},
        )
        for order, known in zip((body.photo_order, body.size_order), places, strict=True):
            if order is not None and set(order) != known:
                msg = "An order must name each photo or size of the job once."
                raise RequestError(msg)
        jobs.put_in_order(session, body.photo_order, body.size_order)
        return _brief(session, jobs.change(session, job_id, now, **changes))


def copy(workspace: Workspace, job_id: int, now: datetime) -> int:
    """Start another job with the same sizes and photos, laid anew; give its id.

    A piece whose photo was continued lies as it lay: its ground was made for that. Photos come with
    their retouches.
    """
    with transaction(workspace.sessions) as session:
        old = find_job(session, job_id)
        new = jobs.add(session, f"{old.name}, again"[:120], now)
        jobs.change(session, new.id, now, notes=old.notes)
        pairs = [(pairs.size, pairs.saved_id) for pairs in jobs.taken(session, job_id)]
        members = jobs.members(session, job_id)
        _add(session, new.id, [member.photo for member in members], pairs)
        retouched = {member.photo.id: member.photo.retouches for member in members}
        for member in jobs.members(session, new.id):
            photos.set_retouches(session, member.photo.id, retouched[member.photo.id], member.id)
        laid = {
            (placement.photo.id, placement.size): placement.id
            for placement in jobs.placements(session, new.id)
        }
        for placement in jobs.placements(session, job_id):
            at = laid.get((placement.photo.id, placement.size))
            if placement.placement.continued is not None and at is not None:
                placements.keep(session, at, placement.placement, "ground continued", now)
    return new.id


def delete(workspace: Workspace, job_id: int, now: datetime) -> JobBrief:
    """Delete a job; for thirty days it can be brought back, with everything in it."""
    with transaction(workspace.sessions) as session:
        find_job(session, job_id)
        return _brief(session, jobs.change(session, job_id, now, deleted=now))


def restore(workspace: Workspace, job_id: int, now: datetime) -> JobBrief:
    """Bring a deleted job back."""
    with transaction(workspace.sessions) as session:
        if jobs.find(session, job_id) is None:
            raise NotFoundError(_none(job_id))
        return _brief(session, jobs.change(session, job_id, now, deleted=None))


def clean_up(workspace: Workspace, now: datetime) -> int:
    """Forget jobs deleted thirty days ago, and photos that no job uses since; give how many jobs."""
    with transaction(workspace.sessions) as session:
        old = [job for job in jobs.every(session) if job.deleted and job.deleted <= now - KEPT]
        had = [photo_id for job in old for photo_id in jobs.forget(session, job.id)]
    forget_unused(workspace, had)
    return len(old)


def view(workspace: Workspace, job_id: int) -> JobView:
    """Return a job with all that is in it; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return _job_view(session, find_job(session, job_id))


def brief(workspace: Workspace, job_id: int) -> JobBrief:
    """Return a job without its placements; one that is not here is refused."""
    with reading(workspace.sessions) as session:
        return _brief(session, find_job(session, job_id))


def every(workspace: Workspace, *, away: bool = False) -> Jobs:
    """Jobs in hand, the one last touched first, or those put `away`; with a fixed number of queries."""
    with reading(workspace.sessions) as session:
        rows, whole = jobs.listed(session, away=away)
        return Jobs(jobs=readable(rows, partial(_briefs, session)), whole=whole)


def readable(rows: Sequence[Job], read: Callable[[Sequence[Job]], list[T]]) -> list[T]:
    """Read jobs all at once; where one can't be, one by one, so that it does not hide the others."""
    try:
        return read(rows)
    except DamagedError:
        each: list[T] = []
        for job in rows:
            with suppress(DamagedError):
                each += read([job])
        return each


def deleted(workspace: Workspace) -> list[JobBrief]:
    """Jobs that can still be brought back."""
    with reading(workspace.sessions) as session:
        return _briefs(session, [job for job in jobs.every(session) if job.deleted])


def find_job(session: Session, job_id: int) -> Job:
    """Find a job that is not deleted."""
    job = jobs.find(session, job_id)
    if job is None or job.deleted:
        raise NotFoundError(_none(job_id))
    return job


def _none(job_id: int) -> str:
    return f"There is no job {job_id}."


def _brief(session: Session, job: Job) -> JobBrief:
    return _briefs(session, [job])[0]


def _briefs(session: Session, rows: Sequence[Job]) -> list[JobBrief]:
    ids = [job.id for job in rows]
    members, taken = jobs.members_of(session, ids), jobs.taken_by(session, ids)
    return [
        JobBrief(
            id=job.id,
            name=job.name,
            touched=job.touched,
            notes=job.notes,
            due=job.due,
            away=job.away is not None,
            deleted=job.deleted,
            photos=[_job_photo(member) for member in members[job.id]],
            sizes=[
                JobSize(**dict(size_view(taken_size.size)), id=taken_size.id)
                for taken_size in taken[job.id]
            ],
        )
        for job in rows
    ]


def _job_photo(member: Member) -> JobPhoto:
    photo = member.photo
    return JobPhoto(
        id=member.id,
        photo_id=photo.id,
        look=look_of(photo),
        name=photo.name,
        upright=photo.facts.upright,
        zones=photo.keeps.zones,
        found=photo.found.zones if photo.found else (),
    )


def _job_view(session: Session, job: Job) -> JobView:
    return _job_views(session, [job])[0]


def _job_views(session: Session, rows: Sequence[Job]) -> list[JobView]:
    placed = jobs.placements_of(session, [job.id for job in rows])
    return [_whole(brief, placed[brief.id]) for brief in _briefs(session, rows)]


def _whole(brief: JobBrief, placed: Sequence[Placed]) -> JobView:
    pieces = [piece_of(piece) for piece in placed]
    open_ones = [p for p in pieces if p.state in ("new", "placed")]
    return JobView(
        **dict(brief),
        placements=pieces,
        counts=counted(standing(piece.state, piece.level) for piece in pieces),
        next=open_ones[0] if open_ones else None,
    )
