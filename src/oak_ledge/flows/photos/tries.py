"""Several tries of one thing: how far each is, and which comes first."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from time import monotonic
from typing import Literal

from pydantic import BaseModel, Field

from oak_ledge.core.photos.fill_work import FillWork
from oak_ledge.core.pixels.tries.ranking import by_score, by_way
from oak_ledge.flows.photos.scenes import ask, drop, is_made, look_at, names_of, not_made
from oak_ledge.flows.workspace import Workspace
from oak_ledge.store.photos import Photo
from oak_ledge.store.work.fills import Fill

# Seconds one try takes on a usual machine, decoding and all.
EXPECTED = 7.0

# Is said of a try before it is made.
AT_MOST = 0.95


class TryView(BaseModel):
    """One try: how far it is, and where it comes among those made."""

    attempt: int = Field(serialization_alias="try")
    state: Literal["waiting", "being made", "made", "failed"]
    order: int | None = Field(
        default=None, description="1 is the best; null: not made, or as good as another"
    )
    left_out: bool = Field(default=False, description="made, and as good as another, or too soft")
    taken: bool = False
    bold: bool = False
    full: bool = Field(default=False, description="made at full size too")
    share: float = Field(default=0.0, description="of it that is probably done, 0 to 1")
    seconds: int | None = Field(default=None, description="that it will probably still take")
    reason: str | None = None


# Seconds that a look counts: a page looks twice a second, one in the background once.
LOOKED = 3.0


_looks: dict[str, float] = {}


def _looked_at(names: Sequence[str]) -> set[str]:
    """Note that some are looked at, and name all that somebody looks at just now."""
    now = monotonic()
    for name in [name for name, at in list(_looks.items()) if now - at > LOOKED]:
        _looks.pop(name, None)
    _looks.update(dict.fromkeys(names, now))
    return set(_looks)


def _asked_for(
    workspace: Workspace,
    photo: Photo,
    works: Sequence[FillWork],
    ready: Sequence[bool],
    asker: str,
) -> list[Fill | None]:
    """Ask for the tries that nobody has asked for; return how each that is not ready stood before."""
    todo = [work for work, done in zip(works, ready, strict=True) if not done]
    known = not_made(workspace, photo, todo)
    fresh = [work for work, fill in zip(todo, known, strict=True) if fill is None]
    if todo:
        drop(workspace, asker, _looked_at(names_of(photo, works)))
    if fresh:
        ask(workspace, photo, fresh, asker)
    standing = iter(known)
    return [None if done else next(standing) for done in ready]


def _progress(fill: Fill | None, now: datetime) -> dict[str, object]:
    """Return what is told of a try that is not there yet; nothing of one that waits."""
    if fill is not None and fill.state == "failed":
        return {"state": "failed", "reason": fill.reason}
    if fill is None or fill.state != "running" or fill.begun is None:
        return {}
    passed = (now - fill.begun).total_seconds()
    return {
        "state": "being made",
        "share": round(max(0.0, min(AT_MOST, passed / EXPECTED)), 2),
        "seconds": max(1, round(EXPECTED - passed)),
    }


def watched(
    workspace: Workspace,
    photo: Photo,
    works: Sequence[FillWork],
    asker: str,
    now: datetime,
    *,
    taken: int | None,
    bold: bool,
) -> list[TryView]:
    """Return how far tries are, the best first; those that nobody has asked for are asked for.

    `works` are the tries in their order. What the same asker had asked for before is wanted no more,
    once nobody looks at it: another window may.
    """
    ready = [is_made(workspace, photo, work) for work in works]
    fills_known = _asked_for(workspace, photo, works, ready, asker)
    looks = {
        n: seen
        for n, work in enumerate(works)
        if ready[n] and (seen := look_at(workspace, photo, work)) is not None
    }
    places = list(looks)
    ordered = by_way if works[0].ground is not None else by_score
    best = [places[n] for n in ordered([looks[n] for n in places])]
    views = []
    for n, done in enumerate(ready):
        fill = fills_known[n]
        view = TryView(attempt=n + 1, state="waiting", taken=taken == n + 1, bold=bold)
        if done:
            order = best.index(n) + 1 if n in best else None
            more: dict[str, object] = {
                "state": "made",
                "order": order,
                "left_out": order is None,
                "share": 1.0,
            }
            more["full"] = is_made(workspace, photo, works[n].model_copy(update={"full": True}))
        else:
            more = _progress(fill, now)
        views.append(view.model_copy(update=more))
    return sorted(
        views, key=lambda view: (_RANK[view.state], view.left_out, view.order or 0, view.attempt)
    )


_RANK = {"made": 0, "being made": 1, "waiting": 2, "failed": 3}
