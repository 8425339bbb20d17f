"""The record of a derivation. A code function carries its clause, symbol and formula once; run normally that
costs one attribute look-up, run inside `recording()` each call leaves formula, numbers and result behind."""

from __future__ import annotations

import functools
import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
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
    large: Mapping[str, float] = field(default_factory=lambda: {"N": 1e3, "N mm": 1e6})
    """Parts of a force and of a moment in the units that people say them in."""

    def of(self, value: float, unit: str) -> float:
        return value / self.factors.get(unit, 1.0)


METRIC = Units({}, {})


@dataclass(frozen=True)
class Formula:
    """What stands at a code function: where it is from, what it gives, how, and under which symbols its
    arguments go.

    `names` gives symbol and unit by argument; `where` sub-formulas by symbol, worked out before it;
    `argument` that tells which set of expressions is meant (None: there is one), with the formula of the
    other set and the units of each.
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
class Recorded:
    """A number under its symbol that a rule starts from, or compares with: one, or an array over stations;
    `text` says what it is."""

    symbol: str
    value: Any
    unit: str
    text: str


@dataclass(frozen=True)
class Line:
    """A line of a derivation: `symbol` = `formula` = `numbers` = `value` `unit`, by a clause, under a
    condition; or a value that is given, with `text` saying what it is. Formulas are in the notation of
    `working.formula`."""

    symbol: str
    value: float
    unit: str
    text: str = ""
    formula: str = ""
    numbers: str = ""
    clause: str = ""
    condition: str = ""


Entry = Step | Recorded | Line


@dataclass(frozen=True)
class Working:
    """How the number of a check was found: what is sought, and line by line."""

    check: str
    sought: str
    lines: tuple[Line, ...]


@dataclass(frozen=True)
class Made:
    """A check as it was recorded: what it shares with others of its rule, what is its own, the symbols that
    it compares (none: all that was recorded leads to it), and what more there is to tell at its place."""

    shared: tuple[Entry, ...]
    own: tuple[Entry, ...]
    of: tuple[str, ...] = ()
    detail: Callable[[], None] | None = None


class Record(list[Entry]):
    """Entries in the order they came, and which of them led to each check."""

    def __init__(self) -> None:
        super().__init__()
        self.checks: dict[str, Made] = {}
        self.common: tuple[Entry, ...] = ()
        self.fresh = 0

    def take(self) -> tuple[Entry, ...]:
        """Entries since the last check, or since the last of those that are shared."""
        new = tuple(self[self.fresh :])
        self.fresh = len(self)
        return new


_active: list[Record] = []


@contextmanager
def recording() -> Iterator[Record]:
    """Within the block every clause function called adds a `Step` to the record given, and every `record`
    what it tells."""
    steps = Record()
    _active.append(steps)
    try:
        yield steps
    finally:
        _active.pop()


def is_recording() -> bool:
    """Whether anyone writes down what is worked out."""
    return bool(_active)


def record(symbol: str, value: Any, unit: str = "", text: str = "") -> None:
    """A number that a rule starts from, to whoever records."""
    if _active:
        _active[-1].append(Recorded(symbol, value, unit, text))


def record_line(line: Line) -> None:
    """A line that is ready, to whoever records."""
    if _active:
        _active[-1].append(line)


def shared(*, beside: bool = False) -> None:
    """What was recorded since the last check leads to every check that follows; `beside` what was shared
    before."""
    if _active:
        record = _active[-1]
        record.common = (record.common if beside else ()) + record.take()


def dropped() -> None:
    """What was recorded since the last check leads to none: a candidate that lost."""
    if _active:
        _active[-1].take()


def made(check: str, of: tuple[str, ...] = (), detail: Callable[[], None] | None = None) -> None:
    """Says that a check has been made, to whoever records."""
    if _active:
        record = _active[-1]
        record.checks[check] = Made(record.common, record.take(), of, detail)


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


@functools.lru_cache(maxsize=8192)
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


def at_station(entries: Sequence[Entry], station: int, stations: int) -> list[Entry]:
    """The entries at one of so many stations: of arrays over stations the value there."""

    def here(value: Any) -> Any:
        return value[station] if isinstance(value, np.ndarray) and value.shape == (stations,) else value

    collected: list[Entry] = []
    for entry in entries:
        if isinstance(entry, Line):
            collected.append(entry)
        elif isinstance(entry, Recorded):
            collected.append(Recorded(entry.symbol, here(entry.value), entry.unit, entry.text))
        else:
            collected.append(
                Step(entry.of, {k: here(v) for k, v in entry.arguments.items()}, here(entry.result))
            )
    return collected


def lines_of(
    entries: Sequence[Entry], known: Mapping[str, float] | None = None, units: Units = METRIC
) -> list[Line]:
    """The entries as lines, inner ones first, each formula with its numbers put in; the same line stands
    once.

    `units` are those of formulas that take no set of expressions of their own.
    """
    result: dict[Line, None] = {}
    values: dict[str, float] = dict(known or {})
    kinds: dict[str, str] = {}
    for entry in entries:
        result |= dict.fromkeys(_new_lines(entry, values, kinds, units))
    return list(result)


def _new_lines(entry: Entry, values: dict[str, float], kinds: dict[str, str], units: Units) -> list[Line]:
    if isinstance(entry, Line):
        values[entry.symbol] = entry.value
        return [entry]
    return (
        _given(entry, values, kinds, units)
        if isinstance(entry, Recorded)
        else _lines(entry, values, units, kinds)
    )


def _given(given: Recorded, known: dict[str, float], kinds: dict[str, str], units: Units) -> list[Line]:
    value = _scalar(given.value)
    if value is None:
        return []
    shown = units.of(value, given.unit)
    known[given.symbol], kinds[given.symbol] = shown, given.unit
    return [Line(given.symbol, shown, units.names.get(given.unit, given.unit), given.text)]


def leading_to(lines: Sequence[Line], wanted: set[str]) -> list[Line]:
    """Those that the wanted symbols follow from, one through another."""
    kept: list[Line] = []
    wanted = set(wanted)
    for line in reversed(lines):
        if line.symbol in wanted:
            kept.append(line)
            wanted |= set(notation.symbols(notation.parse(line.formula))) if line.formula else set()
            if line.condition:
                wanted |= set(_names_in(line.condition))
    return kept[::-1]


def _names_in(condition: str) -> list[str]:
    """Symbols of a condition as it is printed."""
    try:
        parts = [notation.comparison(part) for part in condition.split(", ")]
    except notation.FormulaError:
        return []
    return [name for part in parts for side in (part.left, part.right) for name in side.names]


def _units(step: Step, usual: Units) -> Units:
    """Of the set of expressions that the function was called with; the usual ones where there is none."""
    result = getattr(step.arguments.get("x"), "units", usual)
    return result if isinstance(result, Units) else usual


Worked = tuple[float, str, str, str]
"""Value, formula, numbers put in, condition."""


def _values(
    step: Step, known: Mapping[str, float], usual: Units, kinds: dict[str, str] | None = None
) -> tuple[dict[str, float], dict[str, Worked]]:
    """Of every symbol: arguments, and what `where` works out from them, with its lines; `kinds` learns the
    unit of each."""
    values, units = dict(known), _units(step, usual)
    for argument, given in step.arguments.items():
        name, unit = step.of.names.get(argument, (argument, ""))
        value = _scalar(given)
        if value is not None:
            values[name] = units.of(value, unit)
            if kinds is not None:
                kinds[name] = unit
    inner: dict[str, Worked] = {}
    for name, text in step.of.where.items():
        worked = _worked(text, values, step, kinds, usual)
        if worked is not None:
            values[name], inner[name] = worked[0], worked
    return values, inner


def _lines(
    step: Step, known: dict[str, float], usual: Units = METRIC, kinds: dict[str, str] | None = None
) -> list[Line]:
    of, units, result = step.of, _units(step, usual), _scalar(step.result)
    if result is None:
        return []
    kinds = {} if kinds is None else kinds
    values, inner = _values(step, known, usual, kinds)
    source = f"{of.standard}, {of.clause}" if of.standard else ""
    lines = [
        Line(name, value, "", "", text, put, source, branch)
        for name, (value, text, put, branch) in inner.items()
    ]
    final, unit = units.of(result, of.unit), units.names.get(of.unit, of.unit)
    worked = _worked(of.formula, values, step, kinds, usual)
    if worked is None:
        words = of.formula if isinstance(of.formula, str) else "; ".join(text for _, text in of.formula)
        numbers = getattr(step.arguments.get("x"), "printed", None)
        words = words.format(**numbers) if numbers is not None else words
        lines.append(Line(of.symbol, final, unit, words, "", "", source))
    else:
        lines.append(Line(of.symbol, final, unit, "", worked[1], worked[2], source, worked[3]))
    known[of.symbol], kinds[of.symbol] = final, of.unit
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
            return text, ", ".join(_condition(test, values) for test in tests)
    return formula[-1][1], ""


def _condition(test: notation.Comparison, values: Mapping[str, float]) -> str:
    """A condition with the number of its left side."""
    left = test.left.text
    shown = f"{left} = {number(test.left.value(values))}" if test.left.names else left
    return f"{shown} {test.mark} {test.right.text}"


_LARGE = {"N": 3, "N mm": 6}  # powers of ten that make kN, kN m (kip, and a thousand lb in) of them


def _put(
    names: Sequence[str], values: Mapping[str, float], kinds: Mapping[str, str], system: Units
) -> dict[str, str]:
    """Numbers as they are put in: forces and moments in kN and kN m where nothing else in the formula has a
    unit, else with their power of ten, so that the line comes out right by itself."""
    units = {kinds.get(s, "") for s in names} - {""}
    result = {}
    for s in names:
        unit = kinds.get(s, "")
        if unit not in _LARGE or not math.isfinite(values[s]):
            result[s] = number(values[s])
        elif len(units) == 1:
            result[s] = number(values[s] / system.large[unit])
        else:
            text = number(values[s] / 10.0 ** _LARGE[unit])
            result[s] = text if text == "0" or "e" in text else f"{text}e{_LARGE[unit]}"
    return result


def _worked(
    formula: Branches,
    values: Mapping[str, float],
    step: Step,
    kinds: Mapping[str, str] | None = None,
    usual: Units = METRIC,
) -> Worked | None:
    """None where the text is no formula or a symbol has no value."""
    numbers = getattr(step.arguments.get("x"), "printed", None)  # the numbers of a set of expressions
    if numbers is not None:
        formula = (
            formula.format(**numbers)
            if isinstance(formula, str)
            else tuple((c.format(**numbers), f.format(**numbers)) for c, f in formula)
        )
    try:
        text, condition = chosen(formula, values)
        ready = notation.ready(text)
        value = ready.value(values)
    except (notation.FormulaError, KeyError, ZeroDivisionError, ValueError):
        return None
    put = ready.put(_put(ready.names, values, kinds or {}, _units(step, usual)))
    return value, text, put if ready.names else "", condition


def worked_value(entries: Sequence[Entry]) -> float:
    """What the text of the last formula gives by itself: the proof that it is the formula used. Raises
    ValueError where it is words."""
    values: dict[str, float] = {}
    steps = [e for e in entries if isinstance(e, Step)]
    for step in steps[:-1]:
        _lines(step, values)
    step = steps[-1]
    known, _ = _values(step, values, METRIC)
    worked = _worked(step.of.formula, known, step)
    if worked is None:
        raise ValueError(f"{step.of.symbol} is told in words")
    return worked[0]
