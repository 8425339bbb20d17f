"""Interrupts that are not lost: Python drops a KeyboardInterrupt that strikes inside a clean-up callback."""

from __future__ import annotations

import signal
import threading
from types import FrameType

_seen: list[int] = []


def watch() -> None:
    """Remember interrupts from now on, besides raising them."""
    if threading.current_thread() is threading.main_thread():
        _seen.clear()
        signal.signal(signal.SIGINT, _remember)


def _remember(number: int, _frame: FrameType | None) -> None:
    _seen.append(number)
    raise KeyboardInterrupt


def look() -> None:
    """Raise an interrupt that was dropped. Called between beams."""
    if _seen:
        raise KeyboardInterrupt
