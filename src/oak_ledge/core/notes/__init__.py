"""What the program wants looked at: one rule per function (rules, section 8)."""

from __future__ import annotations
