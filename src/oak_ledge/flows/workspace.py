"""Where one Oak Ledge keeps its things, and the limits it was started with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from oak_ledge.core.files.limits import Limits
from oak_ledge.flows.walls.readers import Read, read_here
from oak_ledge.store.database import Sessions, check_whole, open_database, transaction
from oak_ledge.store.folders import sweep_parts
from oak_ledge.store.work import claims, deliveries, fills


@dataclass(frozen=True)
class Workspace:
    """Folders and limits, handed down from the top."""

    data: Path
    sessions: Sessions
    limits: Limits
    ask: Callable[[int], None] | None = None
    """asks the workers for so many pieces of work; None: files are made within the call"""

    anyone: Callable[[], bool] | None = None
    """says whether a worker is there; None: nobody asks"""

    folder: Path | None = None
    """where finished files are put on wish"""

    fetch_from: str = ""
    """hosts inside one's own network that photos may be fetched from, with commas between"""

    read: Read = read_here
    """reads photos that come in"""

    finds: bool = True
    """whether subjects are looked for in photos that come in"""

    @property
    def originals(self) -> Path:
        """The folder of the photos as they came."""
        return self.data / "photos"

    @property
    def previews(self) -> Path:
        """The folder of pictures that can be drawn again."""
        return self.data / "previews"

    @property
    def scenes(self) -> Path:
        """The folder of what was painted over and continued, as long as it is needed."""
        return self.data / "scenes"

    @property
    def deliveries(self) -> Path:
        """The folder of finished files, one for each delivery."""
        return self.data / "deliveries"


def open_workspace(
    data: Path,
    limits: Limits,
    folder: Path | None = None,
    *,
    finds: bool = True,
    fetch_from: str = "",
) -> Workspace:
    """Open a data folder, new or old."""
    data.mkdir(parents=True, exist_ok=True)
    return Workspace(
        data,
        open_database(data / "oak-ledge.db"),
        limits,
        folder=folder,
        finds=finds,
        fetch_from=fetch_from,
    )


def recover(workspace: Workspace) -> None:
    """Tidy what a kill may have left.

    This is for the one server of a folder, before it serves: a command beside it must not call
    another's work stopped.

    Raises
    ------
    StoreError
        If the database is broken; nothing is changed then.
    """
    check_whole(workspace.sessions)
    for folder in (
        workspace.originals,
        workspace.previews,
        workspace.scenes,
        workspace.deliveries,
    ):
        sweep_parts(folder)
    with transaction(workspace.sessions) as session:
        claims.put_all_back(session)
        deliveries.settle_all(session)
        fills.put_all_back(session)
