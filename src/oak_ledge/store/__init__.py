"""What rests: SQLAlchemy tables, one module per noun, their migrations, and files on disk.

Functions take a `Session`, may flush, never commit: whoever handles the request or command
opens the transaction. Core values go in and come out; rows stay inside.
"""

from __future__ import annotations
