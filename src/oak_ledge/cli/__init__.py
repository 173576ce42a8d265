"""The `oak-ledge` command: thin functions over the flows that the pages use too."""

from __future__ import annotations

from oak_ledge.cli.later import load_later

load_later("numpy", "pathvalidate")  # before anything imports them
