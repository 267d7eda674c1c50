"""How the arithmetic uses the machine; to be imported before NumPy.

*Threads*: sums over rows wait for memory, so a second thread wins nothing. It loses very much where
something else has the other core: BLAS lets its threads wait for each other in turn, and a straight
line of 100,000 rows took 70 ms in place of 2. Whoever sets the variable decides otherwise.

*Memory*: what a computation lets go of is given back to the system at once, and its next array of
100,000 values is asked for anew, a page after the other, each of them filled with zeros first: a
sixth of the time that an answer takes. Some of it is therefore kept for the next array, and none of
what is larger than the columns of a million rows.
"""

from __future__ import annotations

import ctypes
import os

_TRIM_THRESHOLD, _MMAP_THRESHOLD = -1, -3
"""Of GNU C's `mallopt` (malloc.h)."""
KEPT_BYTES = 64 << 20
LARGEST_KEPT_BYTES = 16 << 20

for name in ("OPENBLAS_NUM_THREADS", "MKL_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(name, "1")

# Where there is another C library there is no such thing, and it is slower and the same.
_mallopt = getattr(ctypes.CDLL(None), "mallopt", None) if os.name == "posix" else None
if _mallopt is not None:
    _mallopt(_MMAP_THRESHOLD, LARGEST_KEPT_BYTES)
    _mallopt(_TRIM_THRESHOLD, KEPT_BYTES)
