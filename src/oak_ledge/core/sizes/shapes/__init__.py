"""The shapes a size can have (rules, section 2): a file for each, and all it knows.

A new one is a file of its own, and a line in `every`.
"""

from __future__ import annotations
