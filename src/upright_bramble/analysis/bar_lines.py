"""The line of a bar in the beam's elevation: along a soffit that slopes, round its kinks, and up to the other
face; and what of that a bender is told."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from upright_bramble.beam import KINK, Bar, Beam, BentUp, Span

PAST_KINK = 40.0  # diameters that a straight bar may go on past a kink


@dataclass(frozen=True)
class Stretch:
    """A straight stretch of a bar from `start` to `end` (x, mm), which rises by so much (mm)."""

    start: float
    end: float
    rise: float

    @property
    def length(self) -> float:
        """Along it, mm.

        >>> Stretch(3000.0, 3300.0, 400.0).length
        500.0
        """
        return math.hypot(self.end - self.start, self.rise)

    @property
    def slope(self) -> float:
        return self.rise / (self.end - self.start)

    @property
    def angle(self) -> float:
        """To the beam's axis, rad."""
        return math.atan(self.slope)


def line_of(beam: Beam, parts: Sequence[Bar], up: BentUp | None, phi: float) -> tuple[Stretch, ...]:
    """Stretches of a bar from left to right, of which `parts` lie in the faces; none of one that is level and
    straight. `phi` its diameter, mm."""
    result: list[Stretch] = []
    for k, part in enumerate(parts):
        if k and up is not None:
            before = parts[k - 1]
            rise = (part.start - before.end) * math.tan(math.radians(up.angle))
            result.append(Stretch(before.end, part.start, rise if part.face == "top" else -rise))
        result += (
            _along_soffit(beam, part, phi) if part.face == "bottom" else [Stretch(part.start, part.end, 0.0)]
        )
    return tuple(result) if up is not None or any(s.rise for s in result) else ()


def past_kink(bar: Bar, x: float) -> float:
    """Length of a bar beyond a place, on the side where it is shorter, mm."""
    return min(x - bar.start, bar.end - x)


def straight_past(beam: Beam, support: int, phi: float) -> float:
    """That a bar may go on straight beyond a kink over a support, mm: it does not follow the soffit there."""
    return max(0.5 * beam.supports[support].width, PAST_KINK * phi)


def _along_soffit(beam: Beam, bar: Bar, phi: float) -> list[Stretch]:
    """A bottom bar along the spans that join without a step; it is bent at a kink that it goes past by more
    than a straight bar may."""
    spans = _joined(beam, 0.5 * (bar.start + bar.end))
    slopes = [s.slope for s in spans]
    order = range(len(spans))
    for before, after in (*itertools.pairwise(order), *itertools.pairwise(order[::-1])):
        own = spans[before]
        x, support = (own.end, own.right) if after > before else (own.start, own.left)
        beyond = bar.end - x if after > before else x - bar.start
        if support is None or abs(slopes[before] - slopes[after]) <= KINK:
            continue
        if 0.0 < beyond <= straight_past(beam, support, phi) + 1.0:
            slopes[after] = slopes[before]
    edges = [-math.inf, *(s.end for s in spans[:-1]), math.inf]
    result: list[Stretch] = []
    for (low, high), slope in zip(itertools.pairwise(edges), slopes, strict=True):
        first, last = max(low, bar.start), min(high, bar.end)
        if last - first <= 1e-6:
            continue
        if result and abs(result[-1].slope + slope) <= KINK:
            old = result.pop()
            result.append(Stretch(old.start, last, old.rise - slope * (last - first)))
        else:
            result.append(Stretch(first, last, -slope * (last - first)))
    return result


def _joined(beam: Beam, middle: float) -> list[Span]:
    """Spans around the one at `middle` whose soffits join without a step."""
    home = next((i for i, s in enumerate(beam.spans) if middle <= s.end), len(beam.spans) - 1)
    first = last = home
    while first and _even(beam.spans[first - 1], beam.spans[first]):
        first -= 1
    while last < len(beam.spans) - 1 and _even(beam.spans[last], beam.spans[last + 1]):
        last += 1
    return list(beam.spans[first : last + 1])


def _even(before: Span, after: Span) -> bool:
    return bool(abs(before.depths(before.length) - after.depths(0.0)) < 1.0)


def length_of(line: Sequence[Stretch], radius: float) -> float:
    """Length of a bar's axis, mm: each bend cuts its corner by an arc of this `radius`.

    >>> corner = 2.0 * 100.0 * math.tan(math.radians(22.5)) - 100.0 * math.radians(45.0)
    >>> line = [Stretch(0.0, 3000.0, 0.0), Stretch(3000.0, 3400.0, 400.0), Stretch(3400.0, 5000.0, 0.0)]
    >>> round(length_of(line, 100.0), 3) == round(4600.0 + 400.0 * math.sqrt(2.0) - 2.0 * corner, 3)
    True
    """
    length = sum(s.length for s in line)
    for a, b in itertools.pairwise(line):
        angle = abs(a.angle - b.angle)
        length -= radius * (2.0 * math.tan(0.5 * angle) - angle)
    return length


def sides_of(
    line: Sequence[Stretch], phi: float, left: Sequence[float], right: Sequence[float]
) -> list[float]:
    """Dimensions of a bar that is bent along its length, mm: its sides in order, with those of its ends, then
    the height over all of what is bent up, or how far a kink takes it off its first side. A bar turned end
    for end is the same piece."""
    sides = [*left[::-1], *(s.length for s in line), *right]
    sides = max(sides, sides[::-1])
    if len(line) == 2:
        return [*sides, min(s.length for s in line) * math.sin(abs(line[0].angle - line[1].angle))]
    return [*sides, max(abs(s.rise) for s in line) + phi]


def shape_of(line: Sequence[Stretch], ends: Sequence[float]) -> str:
    """ISO 3766: 15 of one bend that is not square, 26 where bent up once, 46 alike at both sides; 99 for
    all else, and where the ends are bent as well."""
    rises = [abs(s.rise) for s in line]
    if ends:
        return "99"
    if len(line) == 2:
        return "15"
    level = max(rises[::2]) < 1.0 and max(rises[1::2]) - min(rises[1::2]) <= 1.0
    return {3: "26", 5: "46"}.get(len(line), "99") if level else "99"
