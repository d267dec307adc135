"""Pages of HTML laid out as PDF.

WeasyPrint lays them out: it shapes every script (Pango) and needs no network; its fetcher is limited to data
that is part of the page. It takes seconds for a whole site and would keep everybody else waiting meanwhile,
so that happens in a process of its own, at low priority.
"""

from __future__ import annotations

import os
import subprocess
import sys

LONGEST = 600
"""Seconds after which laying out is given up."""


def pdf(page: str) -> bytes:
    """The pages, made in this process."""
    from weasyprint import HTML  # a second to import: only where paper is made
    from weasyprint.urls import URLFetcher

    return bytes(HTML(string=page, url_fetcher=URLFetcher(allowed_protocols={"data"})).write_pdf())


def pdf_aside(page: str) -> bytes:
    """The same, made beside this process. Raises RuntimeError with what was told where it fails."""
    made = subprocess.run(
        [sys.executable, "-m", __name__], input=page.encode(), capture_output=True, timeout=LONGEST
    )
    if made.returncode != 0:
        raise RuntimeError(f"pages could not be laid out: {made.stderr.decode(errors='replace')[-2000:]}")
    return made.stdout


if __name__ == "__main__":
    os.nice(10)
    sys.stdout.buffer.write(pdf(sys.stdin.buffer.read().decode()))
