"""What a file will weigh, estimated from the photo, and what keeps it within its greatest bytes.

Only sampled parts are encoded here; the file itself is written by `encode`.
"""

from __future__ import annotations
