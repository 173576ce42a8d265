"""Finished files handed to a person: one archive, a folder, a proof sheet, a contact sheet."""

from __future__ import annotations
