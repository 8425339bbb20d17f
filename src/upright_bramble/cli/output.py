"""Printing to a reader that may go away (`| head`): the work and its exit status must not depend on it."""

from __future__ import annotations

import contextlib
import os
import sys
from collections.abc import Callable


def drop_output() -> None:
    """Send the rest nowhere, and let Python not try to write it when it ends."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


def printed(show: Callable[[], None]) -> None:
    """Print; go on in silence when nobody reads."""
    try:
        show()
        sys.stdout.flush()
    except BrokenPipeError:
        drop_output()
