"""Files sent to receivers: written down first, sent by a sender, each once; stand-ins to rehearse with."""

from __future__ import annotations
