"""The steps that web and command line share: load → compute → save; one module per job of work."""

from __future__ import annotations
