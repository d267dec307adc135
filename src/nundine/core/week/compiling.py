"""How inner loops are compiled: numba, kept in a folder that is named after all the sources that go into
them.

Numba itself looks only at the file of the function that it keeps; a constant or an inner function of another
file could change under it. So the name of the folder says what all of them say.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("NUMBA_OPT", "1")  # compiles sooner than the default and runs as fast here
import numba
from numba.core import cgutils
from numba.extending import intrinsic

HERE = Path(__file__).parent
WORD: Any = numba.types.uint64
KERNEL = ("words", "areas", "board", "seats", "portions", "fit", "trial", "choosing", "moves", "steps")
SEARCH = (
    "compiling.py",
    "board/frequencies.py",
    *(f"search/kernel/{name}.py" for name in KERNEL),
    "search/tables.py",
)
"""Sources of the compiled search."""
PRICES = ("compiling.py", *(f"bound/{name}.py" for name in ("price_tables", "knapsack", "price_steps")))
"""Sources of the steps of prices."""


def _folder(sources: tuple[str, ...]) -> Path:
    """Beside the source where that can be written, else in the user's own cache."""
    mark = hashlib.sha256(b"".join((HERE / name).read_bytes() for name in sources)).hexdigest()[:16]
    near = HERE / "__pycache__"
    beside = os.access(near if near.is_dir() else HERE, os.W_OK)
    return (near if beside else Path.home() / ".cache" / "nundine") / f"engine-{mark}"


def everything_is_kept() -> bool:
    """Whether nothing has to be compiled any more, only loaded."""
    return _is_kept(SEARCH, HERE / "search" / "kernel") and _is_kept(PRICES, HERE / "bound")


def _is_kept(sources: tuple[str, ...], room: Path) -> bool:
    """Whether numba finds what it kept of the functions in a room: it names its folder after the room's
    path."""
    place = hashlib.sha1(str(room).encode(), usedforsecurity=False).hexdigest()
    return any((_folder(sources) / f"{room.name}_{place}").glob("*.nbc"))


def _kept(sources: tuple[str, ...], **options: Any) -> Callable[[Any], Any]:
    """For functions that Python calls: their compiled code is kept for as long as the sources stay as they
    are."""

    def compiled(function: Any) -> Any:
        numba.config.CACHE_DIR = str(_folder(sources))
        return numba.njit(function, nogil=True, error_model="numpy", cache=True, **options)

    return compiled


inner = numba.njit(nogil=True, error_model="numpy", _nrt=False)
"""For functions that only other compiled ones call and that make no arrays."""

making_arrays_inside = numba.njit(nogil=True, error_model="numpy")
"""As `inner`, for functions that make arrays."""

inlined = numba.njit(nogil=True, error_model="numpy", _nrt=False, forceinline=True)
"""As `inner`, put into what calls it: a call hands the tables over one by one, which takes as long as a
look at ten people."""

entry = _kept(SEARCH, _nrt=False)
"""For what Python calls of the search."""

making_arrays = _kept(PRICES)
"""For what Python calls of the steps of prices; it makes arrays of its own."""


def _count_ones(typing: Any, word: Any) -> Any:
    return WORD(WORD), lambda context, builder, signature, args: builder.ctpop(args[0])


def _count_zeros(typing: Any, word: Any) -> Any:
    return WORD(WORD), lambda context, builder, signature, args: builder.cttz(args[0], cgutils.true_bit)


bits_set: Any = intrinsic(_count_ones)
"""How many bits of a word are set, by the one instruction for it."""

zeros_below: Any = intrinsic(_count_zeros)
"""How many zeros are below the lowest bit that is set, of a word that is not 0, by the one instruction for
it."""
