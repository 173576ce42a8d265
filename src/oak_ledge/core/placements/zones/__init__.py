"""What must stay whole: on the surface a crop is meant on, how a crop goes around it, and off its joints."""

from __future__ import annotations
