"""Interrupts that are not lost: Python drops a KeyboardInterrupt that strikes inside a clean-up callback.
SIGTERM counts as one."""

from __future__ import annotations

import signal
import sys
import threading
from types import FrameType
from typing import Any

_seen: list[int] = []


def watch() -> None:
    """Remember interrupts from now on, besides raising them. A signal that whoever started the program has
    switched off stays so."""
    if threading.current_thread() is threading.main_thread():
        _seen.clear()
        for number in (signal.SIGINT, getattr(signal, "SIGTERM", None)):
            if number is not None and signal.getsignal(number) is not signal.SIG_IGN:
                signal.signal(number, _remember)
        if sys.unraisablehook is not _drop:
            sys.unraisablehook = _drop


def leave_to_parent() -> None:
    """In a worker process: an interrupt from the keyboard reaches the whole group, and the parent answers it;
    being ended ends it."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    if hasattr(signal, "SIGTERM"):
        signal.signal(signal.SIGTERM, signal.SIG_DFL)


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
