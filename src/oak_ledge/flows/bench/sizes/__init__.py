"""One piece on another size or shape than its job's, and its size kept for the library."""

from __future__ import annotations
