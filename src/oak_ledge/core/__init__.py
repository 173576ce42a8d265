"""The arithmetic from what is asked (a size) and where the photo lies (a placement) to a proven file.

Pure: no web, no database, no settings, no clock. Only `core.pixels` touches an image library.
"""

from __future__ import annotations
