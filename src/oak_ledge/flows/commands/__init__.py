"""What the command line asks of photo files, without a data folder: figures told, files made."""

from __future__ import annotations
