"""Receivers: what each takes, by what way files get there, and what is said of a file (rules, section 10).

Pure rules of measured files. The ways themselves lie in `receivers`, above the store.
"""

from __future__ import annotations
