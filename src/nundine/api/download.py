"""Files that a browser keeps."""

from __future__ import annotations

from urllib.parse import quote

from fastapi import Response


def download(body: bytes, kind: str, name: str) -> Response:
    """A file to keep. Its name may have any letters (RFC 6266); those that a header can't hold are `_` for
    readers that know no others."""
    exactly = quote(name, safe="")
    plain = "".join(c if c.isascii() and (c.isalnum() or c in " -._") else "_" for c in name)
    return Response(
        body,
        media_type=kind,
        headers={"content-disposition": f"attachment; filename=\"{plain}\"; filename*=UTF-8''{exactly}"},
    )
