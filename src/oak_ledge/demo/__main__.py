"""Lays out the demo in a process of its own: what draws it leaves no memory to the server."""

from __future__ import annotations

import sys
from datetime import UTC, datetime
from pathlib import Path

from oak_ledge.core.pixels.process_setup import settle_process


def main() -> int:
    """Fill the data folder that is named; return 0, or 1 after a line that says what went wrong."""
    settle_process()
    from oak_ledge.config import read_config
    from oak_ledge.demo.fill import fill
    from oak_ledge.flows.workspace import open_workspace
    from oak_ledge.store.errors import StoreError, disk_words

    try:
        config = read_config({"data": Path(sys.argv[1])})
        workspace = open_workspace(
            config.data, config.limits, config.folder, finds=config.find_subjects
        )
        fill(workspace, datetime.now(UTC))  # noqa: TID251 - the outermost call
    except (StoreError, OSError) as exc:
        words = disk_words(exc) if isinstance(exc, OSError) else str(exc)
        print(f"oak-ledge: {words}", file=sys.stderr)  # noqa: T201 - for people
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
