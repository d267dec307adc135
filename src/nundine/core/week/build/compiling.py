"""How inner loops are compiled: numba, kept in a folder that is named after all the sources that go into them.

Numba itself looks only at the file of the function that it keeps; a constant or an inner function of another file could
change under it. So the name of the folder says what all of them say.
"""

from __future__ import annotations

import hashlib
import os
from pathlib import Path
from typing import Any

os.environ.setdefault("NUMBA_OPT", "1")  # compiles sooner than the default and runs as fast here
import numba
from numba.core import cgutils
from numba.extending import intrinsic

HERE = Path(__file__).parent
WORD: Any = numba.types.uint64
SOURCES = (
    "compiling.py",
    "chances.py",
    *(f"kernel/{name}.py" for name in ("words", "board", "seats", "fit", "trial", "moves")),
    "packing.py",
    "pricing.py",
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

inlined = numba.njit(nogil=True, error_model="numpy", _nrt=False, forceinline=True)
"""As `inner`, put into what calls it: a call hands the tables over one by one, which takes as long as a look at ten people."""

entry = numba.njit(nogil=True, error_model="numpy", _nrt=False, cache=True)
"""For what Python calls; the compiled code is kept."""

making_arrays = numba.njit(nogil=True, error_model="numpy", cache=True)
"""As `entry`, for functions that make arrays of their own."""


def _count_ones(typing: Any, word: Any) -> Any:
    return WORD(WORD), lambda context, builder, signature, args: builder.ctpop(args[0])


def _count_zeros(typing: Any, word: Any) -> Any:
    return WORD(WORD), lambda context, builder, signature, args: builder.cttz(args[0], cgutils.true_bit)


bits_set: Any = intrinsic(_count_ones)
"""How many bits of a word are set, by the one instruction for it."""

zeros_below: Any = intrinsic(_count_zeros)
"""How many zeros are below the lowest bit that is set, of a word that is not 0, by the one instruction for it."""
