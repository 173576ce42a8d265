"""Lets `python -m oak_ledge` do what the `oak-ledge` command does."""

from __future__ import annotations

from oak_ledge.cli.main import main

if __name__ == "__main__":
    main()
