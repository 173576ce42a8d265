"""What a person does to a placement: a file holds a gesture as data and the function it does."""

from __future__ import annotations
