"""The ways files get to receivers, one file each, and the stand-ins that speak the same.

Rules of what is taken are in `core.receivers`; which files go when, in `flows.sending`.
"""

from __future__ import annotations
