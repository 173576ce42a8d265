"""The way by WebDAV (RFC 4918): put as by HTTP, into folders that are made where they are missing."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from typing_extensions import override

from oak_ledge.core.measures.bytes import bytes_words
from oak_ledge.receivers.errors import BrokenLineError
from oak_ledge.receivers.http import HttpLine
from oak_ledge.receivers.line import CHUNK, Outgoing, Sent

# RFC 4918, 9.7.1: a folder above is missing. Some servers say that nothing is found.
_NO_FOLDER = (404, 409)


@dataclass
class WebDavLine(HttpLine):
    """Puts files into a folder; what bears a file's name is replaced."""

    _there: bool = False

    @override
    def put(self, file: Outgoing, sent: Sent) -> str:
        """Put a file and compare its size there."""
        address = self.address(file.name)
        if file.before and self._holds(address, file):
            return f"had arrived, {bytes_words(file.bytes)}, every byte compared"
        self._make_folder()
        self.send(file, sent)
        size = self.ask("HEAD", address).headers.get("Content-Length")
        if size is not None and size != str(file.bytes):
            msg = f"only {size} of {file.bytes} bytes arrived"
            raise BrokenLineError(msg)
        compared = "size compared" if size is not None else "digest sent along"
        return f"arrived, {bytes_words(file.bytes)}, {compared}"

    def _make_folder(self) -> None:
        """Make the folder and those above it, where it is not there; looked for once a line."""
        if self._there:
            return
        url = self.way.url.rstrip("/")
        if self.ask("HEAD", f"{url}/").status in _NO_FOLDER:
            names = self.place.path.strip("/").split("/")
            root = url[: len(url) - len(self.place.path.rstrip("/"))]
            for name in names:
                root = f"{root}/{name}"
                reply = self.ask("MKCOL", f"{root}/")
                if reply.status != 405:  # it is there (RFC 4918, 9.3.1)
                    self.judged(reply)
        self._there = True

    def _holds(self, address: str, file: Outgoing) -> bool:
        """Return whether the very bytes of a file lie there already."""
        with self.called("GET", address) as answer:
            length = answer.headers.get("Content-Length")
            if answer.status != 200 or length not in (None, str(file.bytes)):
                return False
            digest = hashlib.sha256()
            for piece in answer.stream(CHUNK):
                digest.update(piece)
        return digest.hexdigest() == file.sha256
