"""What would cure a beam that fails: more depth, more width, stronger concrete. Every suggestion was designed and verified in full."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace

from upright_bramble.beam import Beam, Layout
from upright_bramble.pipeline import Designed, code_of, run_design
from upright_bramble.text import amount
from upright_bramble.verify import Message

DEPTHS, WIDTHS, STRENGTHS = 32, 24, 3  # steps that are tried: of 25 mm or an inch; of a sixth of the strength
STRONGEST = 50.0  # MPa that is suggested


@dataclass(frozen=True)
class Sought:
    """Suggestions, and whether all that are practicable were looked through."""

    found: tuple[str, ...]
    complete: bool


@dataclass(frozen=True)
class _Measure:
    """One way to a cure, in steps that each help at least as much as the one before."""

    steps: int
    beam: Callable[[int], Beam]
    words: Callable[[int], str]


def suggest(beam: Beam, held: Layout | None = None, *, seconds: float | None = None) -> Sought:
    """The least step of each measure that cures, everything else as it is. With `seconds` the search is coarse first, and ends in time:
    what is found then is a cure, though not always the least.

    Amounts in the texts are marked (`text.amount`).
    """
    end = None if seconds is None else time.monotonic() + seconds
    found, complete = [], True
    for measure in _measures(beam):
        step, searched = _least(measure, held, end)
        complete &= searched
        if step is not None:
            found.append(f"{measure.words(step[0])} (checked: {step[1]})")
    if not found and complete:
        found.append("no practicable section or grade suffices: review spans, supports and loads")
    return Sought(tuple(found), complete)


def with_suggestions(designed: Designed, beam: Beam, held: Layout | None = None) -> Designed:
    """A design that fails, with all that would cure it among its messages."""
    if designed.result is not None and designed.result.status != "fail":
        return designed
    cures = suggest(beam, held).found
    result = designed.result
    if result is not None:
        messages = tuple(Message("warning", f"suggestion: {cure}") for cure in cures)
        result = replace(result, messages=(*result.messages, *messages))
    return replace(designed, result=result, cures=cures)


def _measures(beam: Beam) -> list[_Measure]:
    step, strength = beam.detailing.step, beam.concrete.strength
    most = min(code_of(beam).strength_range()[1], STRONGEST)
    grades = [strength * (1.0 + k / 6.0) for k in range(1, STRENGTHS + 1)]
    grades = [s for s in grades if s <= most + 1e-6]
    return [
        _Measure(
            DEPTHS, lambda k: _with_profiles(beam, lambda p: p.deeper(step * k)),
            lambda k: f"increase the depth of all spans by {amount(step * k, 'length')}",
        ),
        _Measure(
            WIDTHS, lambda k: _with_profiles(beam, lambda p: p.wider(step * k)),
            lambda k: f"increase the width of all spans by {amount(step * k, 'length')}",
        ),
        _Measure(
            len(grades), lambda k: replace(beam, concrete=replace(beam.concrete, strength=grades[k - 1])),
            lambda k: f"use concrete of {amount(grades[k - 1], 'stress')}",
        ),
    ]  # fmt: skip


def _least(measure: _Measure, held: Layout | None, end: float | None) -> tuple[tuple[int, str] | None, bool]:
    """The first step that cures, by doubling and bisection (passing lasts once it begins), and whether the search came to its end."""
    tried: dict[int, str] = {}
    spent = 0.0

    def cures(k: int) -> bool:
        nonlocal spent
        began = time.monotonic()
        if end is not None and began + spent > end:
            raise TimeoutError
        result = run_design(measure.beam(k), held).result
        spent = time.monotonic() - began
        tried[k] = "fail" if result is None else {"pass": "passes"}.get(result.status, "no check fails")
        if result is None or result.status == "fail":
            tried[k] = "fail"
        return tried[k] != "fail"

    def best() -> tuple[int, str] | None:
        fine = sorted(k for k, status in tried.items() if status != "fail")
        return (fine[0], tried[fine[0]]) if fine else None

    if measure.steps < 1:
        return None, True
    try:
        low, high = 0, min(2 if end is None else 4, measure.steps)
        while not cures(high):
            if high == measure.steps:
                return None, True
            low, high = high, min(2 * high, measure.steps)
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if cures(middle) else (middle, high)
    except TimeoutError:
        return best(), False
    return best(), True


def _with_profiles(beam: Beam, change: Callable) -> Beam:  # type: ignore[type-arg]
    """The beam with other profiles, and its self weight with them."""
    spans = tuple(
        replace(s, profile=change(s.profile), becomes=None if s.becomes is None else change(s.becomes), reach=None) for s in beam.spans
    )
    return replace(beam, spans=spans)
