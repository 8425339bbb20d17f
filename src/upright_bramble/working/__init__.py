"""The record of a derivation. A code function carries its clause, symbol and formula once; run normally that costs
one attribute look-up, run inside `recording()` each call leaves formula, numbers and result behind."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, ParamSpec, TypeVar

P = ParamSpec("P")
R = TypeVar("R")


@dataclass(frozen=True)
class Step:
    """One formula used once: where it stands, what it gives, and with which numbers."""

    standard: str
    clause: str
    symbol: str
    formula: str
    unit: str
    arguments: dict[str, Any]
    result: Any


_active: list[list[Step]] = []


@contextmanager
def recording() -> Iterator[list[Step]]:
    """Within the block every clause function called adds a `Step` to the list given."""
    steps: list[Step] = []
    _active.append(steps)
    try:
        yield steps
    finally:
        _active.pop()


def clause(standard: str, number: str, symbol: str, formula: str, unit: str = "") -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Mark a pure function as the formula of a clause."""

    def mark(function: Callable[P, R]) -> Callable[P, R]:
        names = function.__code__.co_varnames[: function.__code__.co_argcount]

        @functools.wraps(function)
        def wrapped(*args: P.args, **kwargs: P.kwargs) -> R:
            result = function(*args, **kwargs)
            if _active:
                given = dict(zip(names, args, strict=False)) | kwargs
                _active[-1].append(Step(standard, number, symbol, formula, unit, given, result))
            return result

        wrapped.clause = (standard, number, symbol, formula, unit)  # type: ignore[attr-defined]
        return wrapped

    return mark
