"""Files that hang on records, as a browser gets them."""

from __future__ import annotations

from fastapi import Response

from nundine.api.download import download
from nundine.store.beside import Attachment


def given(one: Attachment) -> Response:
    """Pictures are shown, all else is given out as a file; nothing is taken for what it does not say it
    is."""
    found = download(bytes(one.content), one.media, one.name)
    found.headers["x-content-type-options"] = "nosniff"
    if one.media.startswith("image/"):
        found.headers["content-disposition"] = "inline"
    return found
