"""What a photo shows: faces, its subject, the colour of a point, its strips along an edge."""

from __future__ import annotations
