"""The seal of a watch on what it writes beside photos: a key in the watched folder, for its user alone.

Whoever may only put files into the folder can neither read that key nor put one of theirs in its place, as
it would be owned by them.
"""

from __future__ import annotations

import hmac
import json
import os
import secrets
import stat
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any

_FIELD = "seal"

# A link is followed nowhere, and a pipe is not waited for.
NO_LINK_NO_WAIT = getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_NOFOLLOW", 0)


@dataclass(frozen=True)
class Seal:
    """A key, and what it says of a note's content, whatever the order of its fields."""

    key: bytes

    def _of(self, content: dict[str, Any]) -> str:
        sealed = {name: value for name, value in content.items() if name != _FIELD}
        text = json.dumps(sealed, sort_keys=True, separators=(",", ":"))
        return hmac.digest(self.key, text.encode(errors="surrogatepass"), "sha256").hex()

    def put_on(self, content: dict[str, Any]) -> dict[str, Any]:
        """Return content with its seal."""
        return {**content, _FIELD: self._of(content)}

    def is_on(self, content: object) -> bool:
        """Return whether content bears this seal, and is what was sealed."""
        if not isinstance(content, dict) or not isinstance(content.get(_FIELD), str):
            return False
        return hmac.compare_digest(
            content[_FIELD].encode(errors="replace"), self._of(content).encode()
        )


def seal_path(folder: Path) -> Path:
    """Return where the seal of a watched folder is kept."""
    return folder / ".watched.seal"


def read_seal(path: Path) -> Seal | None:
    """Return the seal that is kept in a file; None where none of this user's is."""
    with suppress(OSError, ValueError):
        handle = os.open(path, os.O_RDONLY | NO_LINK_NO_WAIT)
        with open(handle, "rb") as file:  # noqa: PTH123 - the handle that was looked at is the one read
            status = os.fstat(handle)
            if not stat.S_ISREG(status.st_mode) or status.st_uid != _user():
                return None
            key = bytes.fromhex(file.read(64).decode("ascii"))
        if len(key) == 32:
            return Seal(key)
    return None


def _user() -> int:
    return os.getuid() if hasattr(os, "getuid") else 0  # Windows tells 0 of every file


def new_seal(path: Path) -> Seal:
    """Make a seal and keep it in a file that only its user can read.

    Raises
    ------
    OSError
        If the disk refuses.
    """
    key = secrets.token_bytes(32)
    part = path.with_name(f"{path.name}-{os.getpid()}.part")
    part.unlink(missing_ok=True)
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with open(handle, "w", encoding="ascii") as file:  # noqa: PTH123 - a handle of its own rights
        file.write(key.hex())
        file.flush()
        os.fsync(handle)
    part.replace(path)
    return Seal(key)
