"""Several parts in one body, as browsers read them without help (RFC 7578)."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Part:
    """One part: its name, its media type, its content, and the name of a file where it is one.

    Names are our own, and hold nothing that would have to be written otherwise.
    """

    name: str
    media_type: str
    content: bytes
    filename: str | None = None


def form_of(parts: Sequence[Part]) -> tuple[bytes, str]:
    """Put parts together, copied once; the media type says what stands between them."""
    boundary = secrets.token_hex(16)
    pieces = []
    for part in parts:
        named = f'name="{part.name}"' + (f'; filename="{part.filename}"' if part.filename else "")
        pieces += [
            f"--{boundary}\r\nContent-Disposition: form-data; {named}\r\n"
            f"Content-Type: {part.media_type}\r\n\r\n".encode("ascii"),
            part.content,
            b"\r\n",
        ]
    body = b"".join([*pieces, f"--{boundary}--\r\n".encode("ascii")])
    return body, f"multipart/form-data; boundary={boundary}"
