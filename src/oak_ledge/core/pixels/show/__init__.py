"""Pictures for screens: previews, tiles of detail, methods side by side. No file is made from them."""

from __future__ import annotations
