"""Stand-ins for receivers: programs that speak as the real ones do, with rules and faults of theirs.

They share one inbox (what arrives is measured and judged there); each way has a file of its own.
"""

from __future__ import annotations
