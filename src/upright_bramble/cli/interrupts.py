"""Interrupts that are not lost: Python drops a KeyboardInterrupt that strikes inside a clean-up callback."""

from __future__ import annotations

import signal
import sys
import threading
from types import FrameType
from typing import Any

_seen: list[int] = []


def watch() -> None:
    """Remember interrupts from now on, besides raising them."""
    if threading.current_thread() is threading.main_thread():
        _seen.clear()
        signal.signal(signal.SIGINT, _remember)
        if sys.unraisablehook is not _drop:
            sys.unraisablehook = _drop


def _drop(dropped: Any) -> None:
    """A dropped interrupt is remembered and raised again by `look`: no reason for a traceback."""
    if not isinstance(dropped.exc_value, KeyboardInterrupt):
        sys.__unraisablehook__(dropped)


def _remember(number: int, _frame: FrameType | None) -> None:
    _seen.append(number)
    raise KeyboardInterrupt


def look() -> None:
    """Raise an interrupt that was dropped. Called between beams."""
    if _seen:
        raise KeyboardInterrupt
