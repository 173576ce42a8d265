"""The digest of a file, as it is sent along (RFC 9530)."""

from __future__ import annotations

import base64


def digest_header(digest: bytes) -> str:
    """Write a SHA-256 as `Content-Digest` (RFC 9530, 2).

    >>> digest_header(bytes(3))
    'sha-256=:AAAA:'
    """
    return f"sha-256=:{base64.b64encode(digest).decode()}:"
