"""What would cure a beam that fails: laps elsewhere, thinner bars, more depth, more width, stronger concrete.
Every suggestion was designed and verified in full."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace

from upright_bramble.beam import Beam, Layout
from upright_bramble.beam.layout import FACES
from upright_bramble.core.bars import BarSizes
from upright_bramble.pipeline import Designed, code_of, run_design
from upright_bramble.text import amount
from upright_bramble.verify import Message

DEPTHS, WIDTHS, STRENGTHS = 32, 24, 3  # steps that are tried: of 25 mm or an inch; of a sixth of the strength
COARSE = 8  # the step that is tried first where time is short
STRONGEST = 50.0  # MPa that is suggested
THICK = 16.5  # mm: where all permitted bars are thicker, thinner ones are suggested
MOST_HELD = 24  # held entries that are let go one by one


@dataclass(frozen=True)
class Sought:
    """Suggestions, and whether all that are practicable were looked through."""

    texts: tuple[str, ...]
    complete: bool


@dataclass(frozen=True)
class _Measure:
    """One way to a cure, in steps that each help at least as much as the one before."""

    steps: int
    beam: Callable[[int], Beam]
    words: Callable[[int], str]


def suggest(beam: Beam, held: Layout | None = None, *, seconds: float | None = None) -> Sought:
    """The least step of each measure that cures, everything else as it is. With `seconds` the search is
    coarse first, and ends in time: what is found then is a cure, though not always the least.

    Amounts in the texts are marked (`text.amount`).
    """
    if beam.levels:  # sizes are those of the beams that share the design: they are changed there
        return Sought((), False)
    end = None if seconds is None else time.monotonic() + seconds
    freed = _let_go(beam, held, end)
    if freed:
        return Sought(freed, True)
    trials = [_Trials(measure, held, end) for measure in _measures(beam) if measure.steps]
    try:
        for trial in trials if end is not None else []:
            trial.cures(min(COARSE, trial.measure.steps))
        for trial in trials:
            trial.refine()
        complete = True
    except TimeoutError:
        complete = False
    result = [words for trial in trials if (words := trial.best()) is not None]
    if not result and complete:
        result.append("no practicable section or grade suffices: review spans, supports and loads")
    return Sought(tuple(result), complete)


def _let_go(beam: Beam, held: Layout | None, end: float | None) -> tuple[str, ...]:
    """Held entries that are in the way: each without which the rest passes; all of them, where only that
    helps. Nothing where the beam fails without them too, or where there is no time to find out."""
    entries = held.entries if held is not None else ()
    if held is None or not entries or _fails(beam, None):
        return ()
    suggestions = []
    for entry in entries[:MOST_HELD]:
        if end is not None and time.monotonic() > end:
            break
        bars, ties = tuple(e for e in held.bars if e != entry), tuple(e for e in held.stirrups if e != entry)
        sides = tuple(e for e in held.sides if e != entry)
        less = Layout(bars, ties, sides)
        if not _fails(beam, less):
            suggestions.append(f"let go of the held entry {held.names[entry]} (checked: no check fails)")
    return tuple(suggestions) or (
        "let go of the held entries: no check fails without them, but none of them alone is in the way",
    )


def _fails(beam: Beam, held: Layout | None) -> bool:
    result = run_design(beam, held).result
    return result is None or result.status == "fail"


def with_suggestions(designed: Designed, beam: Beam, held: Layout | None = None) -> Designed:
    """A design that fails, with all that would cure it among its messages."""
    if designed.result is not None and designed.result.status != "fail":
        return designed
    cures = suggest(beam, held).texts
    result = designed.result
    if result is not None:
        messages = tuple(Message("warning", f"suggestion: {cure}") for cure in cures)
        result = replace(result, messages=(*result.messages, *messages))
    return replace(designed, result=result, cures=cures)


def _measures(beam: Beam) -> list[_Measure]:
    step, strength, sizes = beam.detailing.step, beam.concrete.strength, code_of(beam).sizes
    thinner = _thinner_than_permitted(beam, sizes)
    maximum = min(code_of(beam).materials.strength_range()[1], STRONGEST)
    grades = [strength * (1.0 + k / 6.0) for k in range(1, STRENGTHS + 1)]
    grades = [s for s in grades if s <= maximum + 1e-6]
    apart = replace(beam, detailing=replace(beam.detailing, laps="staggered"))
    lapped = beam.detailing.laps == "auto" and beam.length > beam.detailing.longest_piece
    return [
        _Measure(
            int(lapped),
            lambda _: apart,
            lambda _: "lap the two bars of a pair at places of their own (detailing.laps: staggered)",
        ),
        _Measure(
            len(thinner),
            lambda k: _with_sizes(beam, thinner[:k]),
            lambda k: f"permit main bars of {', '.join(sizes.label(s) for s in thinner[:k])} as well",
        ),
        _Measure(
            DEPTHS,
            lambda k: _with_profiles(beam, lambda p: p.deeper(step * k)),
            lambda k: f"increase the depth of all spans by {amount(step * k, 'length')}",
        ),
        _Measure(
            WIDTHS,
            lambda k: _with_profiles(beam, lambda p: p.wider(step * k)),
            lambda k: f"increase the width of all spans by {amount(step * k, 'length')}",
        ),
        _Measure(
            len(grades),
            lambda k: replace(beam, concrete=replace(beam.concrete, strength=grades[k - 1])),
            lambda k: f"use concrete of {amount(grades[k - 1], 'stress')}",
        ),
    ]


def _thinner_than_permitted(beam: Beam, sizes: BarSizes) -> list[str]:
    """Usual sizes that are thinner than any permitted on a face, thickest first, where all of these are
    thick."""
    thinnest = max(min(sizes[s].diameter for s in beam.detailing.sizes(face)) for face in FACES)
    own = [s for s in sizes.main if sizes[s].diameter < thinnest] if thinnest > THICK else []
    return sorted(own, key=lambda s: -sizes[s].diameter)


def _with_sizes(beam: Beam, more: list[str]) -> Beam:
    """The beam with more sizes permitted on both faces."""
    faces = {face: tuple(dict.fromkeys((*beam.detailing.sizes(face), *more))) for face in FACES}
    return replace(beam, detailing=replace(beam.detailing, face_bars=faces))


class _Trials:
    """What steps of one measure gave; passing is taken to last once it begins."""

    def __init__(self, measure: _Measure, held: Layout | None, end: float | None) -> None:
        self.measure, self.held, self.end = measure, held, end
        self.status: dict[int, str] = {}
        self.spent = 0.0

    def cures(self, k: int) -> bool:
        """Whether a step cures. Raises TimeoutError where there is no time left to design it."""
        if k not in self.status:
            began = time.monotonic()
            if self.end is not None and began + self.spent > self.end:
                raise TimeoutError
            result = run_design(self.measure.beam(k), self.held).result
            self.spent = time.monotonic() - began
            self.status[k] = "fail" if result is None else result.status
        return self.status[k] != "fail"

    def refine(self) -> None:
        """The least step, by doubling and by bisection."""
        fine = [k for k, status in self.status.items() if status != "fail"]
        low, high = max((k for k in self.status if k not in fine), default=0), min(fine, default=0)
        while not high:
            if low == self.measure.steps:
                return
            step = min(2 * low or 2, self.measure.steps)
            low, high = (low, step) if self.cures(step) else (step, 0)
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if self.cures(middle) else (middle, high)

    def best(self) -> str | None:
        """The least step so far that cures, in words."""
        fine = [k for k, status in self.status.items() if status != "fail"]
        if not fine:
            return None
        outcome = "passes" if self.status[min(fine)] == "pass" else "no check fails"
        return f"{self.measure.words(min(fine))} (checked: {outcome})"


def _with_profiles(beam: Beam, change: Callable) -> Beam:  # type: ignore[type-arg]
    """The beam with other profiles, and its self weight with them."""
    spans = tuple(
        replace(
            s, profile=change(s.profile), becomes=None if s.becomes is None else change(s.becomes), reach=None
        )
        for s in beam.spans
    )
    return replace(beam, spans=spans)
