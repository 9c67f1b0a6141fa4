"""One thread for linear algebra: small systems are slower on several, and much slower beside other programs.

Libraries of linear algebra read their number of threads when NumPy loads them, so this is asked before; child processes
inherit it.
"""

from __future__ import annotations

import os

NAMES = ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS", "BLIS_NUM_THREADS")


def one_thread() -> None:
    """Ask for one thread, where the person has not asked for another number."""
    for name in NAMES:
        os.environ.setdefault(name, "1")
