"""How inner loops are compiled: numba, kept in a folder that is named after all the sources that go into them.

Numba itself looks only at the file of the function that it keeps; a constant or an inner function of another file could
change under it. So the name of the folder says what all of them say.
"""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

os.environ.setdefault("NUMBA_OPT", "1")  # compiles sooner than the default and runs as fast here
import numba

HERE = Path(__file__).parent
SOURCES = (
    "compiling.py",
    *(f"kernel/{name}.py" for name in ("words", "board", "fit", "trial", "moves")),
    "packing.py",
    "pricing.py",
    "search.py",
    "tables.py",
)


def _folder() -> Path:
    """Beside the source where that can be written, else in the user's own cache."""
    mark = hashlib.sha256(b"".join((HERE / name).read_bytes() for name in SOURCES)).hexdigest()[:16]
    near = HERE / "__pycache__"
    beside = os.access(near if near.is_dir() else HERE, os.W_OK)
    return (near if beside else Path.home() / ".cache" / "nundine") / f"engine-{mark}"


numba.config.CACHE_DIR = str(_folder())

inner = numba.njit(nogil=True, error_model="numpy", _nrt=False)
"""For functions that only other compiled ones call and that make no arrays."""

entry = numba.njit(nogil=True, error_model="numpy", _nrt=False, cache=True)
"""For what Python calls; the compiled code is kept."""

making_arrays = numba.njit(nogil=True, error_model="numpy", cache=True)
"""As `entry`, for functions that make arrays of their own."""
