"""How many threads the arithmetic takes; to be imported before NumPy.

Sums over rows wait for memory, so a second thread wins nothing. It loses very much where something
else has the other core: BLAS lets its threads wait for each other in turn, and a straight line of
100,000 rows took 70 ms in place of 2. Whoever sets the variable decides otherwise.
"""

from __future__ import annotations

import os

for name in ("OPENBLAS_NUM_THREADS", "MKL_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(name, "1")
