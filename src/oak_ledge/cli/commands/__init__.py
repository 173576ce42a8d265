"""The commands, a file for each; what they share stands one room up.

A file is imported when its command is called: the others need not be loaded for that.
"""

from __future__ import annotations
