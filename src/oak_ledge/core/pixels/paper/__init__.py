"""Pictures on paper: contact sheet, framing card."""

from __future__ import annotations
