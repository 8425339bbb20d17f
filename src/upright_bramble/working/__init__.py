"""The record of a derivation. A code function carries its clause, symbol and formula once; run normally that costs
one attribute look-up, run inside `recording()` each call leaves formula, numbers and result behind."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any, ParamSpec, TypeVar

import numpy as np

from upright_bramble.working import formula as notation

P = ParamSpec("P")
R = TypeVar("R")

Branches = str | Sequence[tuple[str, str]]
"""A formula, or several with the condition that each holds under; the last one may have none."""


@dataclass(frozen=True)
class Units:
    """What numbers are put in with: factors from N, mm, MPa, and the names."""

    factors: Mapping[str, float]
    names: Mapping[str, str]

    def of(self, value: float, unit: str) -> float:
        return value / self.factors.get(unit, 1.0)


METRIC = Units({}, {})


@dataclass(frozen=True)
class Formula:
    """What stands at a code function: where it is from, what it gives, how, and under which symbols its arguments go.

    `names` gives symbol and unit by argument; `where` sub-formulas by symbol, worked out before it; `argument` that tells which set of
    expressions is meant (None: there is one), with the formula of the other set and the units of each.
    """

    standard: str
    clause: str
    symbol: str
    formula: Branches
    unit: str
    names: Mapping[str, tuple[str, str]]
    where: Mapping[str, Branches]


@dataclass(frozen=True)
class Step:
    """One formula used once, with its arguments as they came (numbers or arrays) and what it gave."""

    of: Formula
    arguments: Mapping[str, Any]
    result: Any


@dataclass(frozen=True)
class Put:
    """A number under its symbol."""

    symbol: str
    value: float
    unit: str


@dataclass(frozen=True)
class Line:
    """A line of a derivation: `symbol` = `formula` = `numbers` = `value` `unit`, by a clause, under a condition; or a value that is given,
    with `text` saying what it is. Formulas are in the notation of `working.formula`."""

    symbol: str
    value: float
    unit: str
    text: str = ""
    formula: str = ""
    numbers: str = ""
    clause: str = ""
    condition: str = ""


@dataclass(frozen=True)
class Working:
    """How the number of a check was found: what is sought, and line by line. `demand` and `resistance` are those that were found again on
    the way, in N and mm; None where they were not."""

    check: str
    sought: str
    lines: tuple[Line, ...]
    demand: float | None = None
    resistance: float | None = None


class Record(list[Step]):
    """Steps as they were taken, and where among them each check was made."""

    def __init__(self) -> None:
        super().__init__()
        self.marks: list[tuple[str, int]] = []

    def before(self, check: str) -> list[Step]:
        """The steps between the check before and this one."""
        start = 0
        for name, end in self.marks:
            if name == check:
                return self[start:end]
            start = end
        return []


_active: list[Record] = []


@contextmanager
def recording() -> Iterator[Record]:
    """Within the block every clause function called adds a `Step` to the record given."""
    steps = Record()
    _active.append(steps)
    try:
        yield steps
    finally:
        _active.pop()


def made(check: str) -> None:
    """Says that a check has been made, to whoever records."""
    if _active:
        _active[-1].marks.append((check, len(_active[-1])))


def clause(
    standard: str,
    number: str,
    symbol: str,
    formula: Branches,
    unit: str = "",
    *,
    names: Mapping[str, tuple[str, str]] | None = None,
    where: Mapping[str, Branches] | None = None,
) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Mark a pure function as the formula of a clause."""
    of = Formula(standard, number, symbol, formula, unit, names or {}, where or {})

    def mark(function: Callable[P, R]) -> Callable[P, R]:
        arguments = function.__code__.co_varnames[: function.__code__.co_argcount]
        usual = dict(zip(arguments[::-1], (function.__defaults__ or ())[::-1], strict=False))

        @functools.wraps(function)
        def wrapped(*args: P.args, **kwargs: P.kwargs) -> R:
            result = function(*args, **kwargs)
            if _active:
                given = usual | dict(zip(arguments, args, strict=False)) | kwargs
                _active[-1].append(Step(of, given, result))
            return result

        wrapped.clause = of  # type: ignore[attr-defined]
        return wrapped

    return mark


def number(value: float, digits: int = 4) -> str:
    """For people: significant digits, no powers of ten from 0.0001 to a hundred million."""
    if value == 0.0 or not math.isfinite(value):
        return "0" if value == 0.0 else "?" if math.isnan(value) else ("∞" if value > 0 else "-∞")
    size = math.floor(math.log10(abs(value)))
    if -5 < size < 9:
        text = f"{round(value, digits - 1 - size):.{max(digits - 1 - size, 0)}f}"
        return text.rstrip("0").rstrip(".") if "." in text else text
    return f"{value:.{digits - 1}e}".replace("e-0", "e-").replace("e+0", "e").replace("e+", "e")


def _scalar(value: Any) -> float | None:
    """Of a number or an array of one; None of anything else."""
    if isinstance(value, bool | np.bool_):
        return float(value)
    if isinstance(value, int | float | np.floating | np.integer):
        return float(value)
    if isinstance(value, np.ndarray) and value.size == 1 and value.dtype.kind in "fib":
        return float(value.reshape(-1)[0])
    return None


def lines_of(steps: Sequence[Step], known: Mapping[str, float] | None = None, units: Units = METRIC) -> list[Line]:
    """The steps as lines, inner ones first, each formula with its numbers put in; the same line stands once.

    `units` are those of formulas that take no set of expressions of their own.
    """
    found: dict[Line, None] = {}
    values: dict[str, float] = dict(known or {})
    for step in steps:
        found |= dict.fromkeys(_lines(step, values, units))
    return list(found)


def _units(step: Step, usual: Units) -> Units:
    """Of the set of expressions that the function was called with; the usual ones where there is none."""
    found = getattr(step.arguments.get("x"), "units", usual)
    return found if isinstance(found, Units) else usual


def _values(step: Step, known: Mapping[str, float], usual: Units) -> dict[str, float]:
    """Of every symbol: arguments, and what `where` works out from them."""
    values, units = dict(known), _units(step, usual)
    for argument, given in step.arguments.items():
        name, unit = step.of.names.get(argument, (argument, ""))
        value = _scalar(given)
        if value is not None:
            values[name] = units.of(value, unit)
    for name, text in step.of.where.items():
        worked = _worked(text, values, step)
        if worked is not None:
            values[name] = worked[0]
    return values


def _lines(step: Step, known: dict[str, float], usual: Units = METRIC) -> list[Line]:
    of, units, result = step.of, _units(step, usual), _scalar(step.result)
    if result is None:
        return []
    values, lines = _values(step, known, usual), []
    source = f"{of.standard}, {of.clause}"
    for name, text in of.where.items():
        worked = _worked(text, values, step)
        if worked is not None:
            lines.append(Line(name, worked[0], "", "", worked[1], worked[2], source, worked[3]))
    final, unit = units.of(result, of.unit), units.names.get(of.unit, of.unit)
    worked = _worked(of.formula, values, step)
    if worked is None:
        told = of.formula if isinstance(of.formula, str) else "; ".join(text for _, text in of.formula)
        lines.append(Line(of.symbol, final, unit, told, "", "", source))
    else:
        lines.append(Line(of.symbol, final, unit, "", worked[1], worked[2], source, worked[3]))
    known[of.symbol] = final
    return lines


def chosen(formula: Branches, values: Mapping[str, float]) -> tuple[str, str]:
    """The branch that holds: its formula and its condition, with the number of its left side."""
    if isinstance(formula, str):
        return formula, ""
    for condition, text in formula:
        if not condition:
            return text, ""
        tests = [notation.comparison(part) for part in condition.split(" and ")]
        if all(test.holds(values) for test in tests):
            return text, ", ".join(_told(test, values) for test in tests)
    return formula[-1][1], ""


def _told(test: notation.Comparison, values: Mapping[str, float]) -> str:
    """A condition with the number of its left side."""
    left = test.left.text
    shown = f"{left} = {number(test.left.value(values))}" if test.left.names else left
    return f"{shown} {test.mark} {test.right.text}"


def _worked(formula: Branches, values: Mapping[str, float], step: Step) -> tuple[float, str, str, str] | None:
    """Value, formula, numbers put in, condition; None where the text is no formula or a symbol has no value."""
    told = getattr(step.arguments.get("x"), "told", None)  # the numbers of a set of expressions
    if told is not None:
        formula = formula.format(**told) if isinstance(formula, str) else tuple((c.format(**told), f.format(**told)) for c, f in formula)
    try:
        text, condition = chosen(formula, values)
        ready = notation.ready(text)
        value = ready.value(values)
    except (notation.FormulaError, KeyError, ZeroDivisionError, ValueError):
        return None
    put = ready.put({s: number(values[s]) for s in ready.names})
    return value, text, put if ready.names else "", condition


def worked_value(steps: Sequence[Step]) -> float:
    """What the text of the last formula gives by itself: the proof that it is the formula used. Raises ValueError where it is words."""
    values: dict[str, float] = {}
    for step in steps[:-1]:
        _lines(step, values)
    step = steps[-1]
    known = _values(step, values, METRIC)
    worked = _worked(step.of.formula, known, step)
    if worked is None:
        raise ValueError(f"{step.of.symbol} is told in words")
    return worked[0]
