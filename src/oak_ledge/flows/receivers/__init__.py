"""Finished files sent to receivers: rehearsed, sent, each answer kept."""

from __future__ import annotations
