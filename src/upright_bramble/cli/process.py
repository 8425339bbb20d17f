"""What a process of the program sets before its work."""

from __future__ import annotations

import gc
import os

from upright_bramble.cli import interrupts

COLLECTED = 20_000  # new objects before cycles are sought


def collect_seldom() -> None:
    """A design makes many objects and hardly a cycle: a tenth of its time went into seeking them."""
    gc.set_threshold(COLLECTED)


def prepare_worker() -> None:
    """One thread of numerics a process: several processes share the machine."""
    for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS", "MKL_NUM_THREADS"):
        os.environ.setdefault(name, "1")
    collect_seldom()
    interrupts.leave_to_parent()
