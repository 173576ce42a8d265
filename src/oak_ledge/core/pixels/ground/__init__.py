"""What fills beyond the photo's edge."""

from __future__ import annotations
