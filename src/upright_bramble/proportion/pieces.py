"""Bars as a detailer draws them: none too short, ends that coincide or stand apart, pieces of nearly one
length made alike.

Bars are only ever made longer, at straight ends inside the beam.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.beam import Bar, Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.core.bars import BarSizes

APART = 4.0  # steps between the ends of bars of a face: nearer ones become one place
ROUNDS = 8
CUT_SHORTER = 100.0  # mm at most that a bend takes off the sum of the sides
DENSITY = 7850e-9  # kg/mm3


def tidy(beam: Beam, bars: Sequence[Bar], low: float, high: float) -> list[Bar]:
    """The bars of one face; those that stop inside it stay between `low` and `high` (mm along the beam)."""
    step = beam.detailing.step
    result = [_long_enough(b, beam.detailing.shortest_piece, low, high, step) for b in bars]
    for _ in range(ROUNDS):
        before = list(result)
        result = ends_apart(beam, result)
        result = _lengths_alike(result, step, low, high)
        if result == before:
            break
    result = ends_apart(beam, result)
    return symmetrical(
        [b if _length(b) <= beam.detailing.longest_piece else a for a, b in zip(bars, result, strict=True)]
    )


def _length(bar: Bar) -> float:
    return bar.end - bar.start + sum(bar.legs)


def symmetrical(bars: list[Bar]) -> list[Bar]:
    """Where two groups of odd number lie in one row together, of one run or of two that pass each other over
    a support or meet end to end, the shorter one gets a bar more."""
    result = list(bars)
    for i, j in itertools.combinations(range(len(bars)), 2):
        a, b = result[i], result[j]
        apart = (a.face, a.layer) != (b.face, b.layer) or a.end < b.start - 1.0 or b.end < a.start - 1.0
        if (
            apart
            or a.count % 2 == 0
            or b.count % 2 == 0
            or "lap" in (a.ends[1], b.ends[1])
            or "lap" in (a.ends[0], b.ends[0])
        ):
            continue
        k = i if _length(a) < _length(b) else j
        result[k] = replace(result[k], count=result[k].count + 1)
    return result


def _straight(bar: Bar) -> tuple[bool, bool]:
    return bar.ends[0] == "straight", bar.ends[1] == "straight"


def _long_enough(bar: Bar, shortest: float, low: float, high: float, step: float) -> Bar:
    bends = sum(kind in ("bend", "hook") for kind in bar.ends)
    lacking = shortest + CUT_SHORTER * bends - _length(bar)
    return bar if lacking <= 0.0 else _longer(bar, lacking, low, high, step)


def _longer(bar: Bar, more: float, low: float, high: float, step: float) -> Bar:
    """By so much, about half in whole steps at each end where both are straight and have room; as it was
    where there is none."""
    left, right = _straight(bar)
    room = (bar.start - low if left else 0.0, high - bar.end if right else 0.0)
    if sum(max(r, 0.0) for r in room) < more:
        return bar
    half = step * round(0.5 * more / step) if more > step else more
    before = min(half if left and right else more if left else 0.0, max(room[0], 0.0))
    after = min(more - before, max(room[1], 0.0))
    return replace(bar, start=bar.start - (more - after), end=bar.end + after)


def ends_apart(beam: Beam, bars: Sequence[Bar]) -> list[Bar]:
    """Of two straight ends of a face in one clear span, nearer to each other than `APART` steps, the bar that
    stops first goes on: to the other end, or past it where the two bars overlap by little."""
    result, apart = list(bars), APART * beam.detailing.step
    places = sorted(
        (x, side, i)
        for i, b in enumerate(bars)
        for side, x in enumerate((b.start, b.end))
        if b.ends[side] == "straight"
    )
    for index in range(len(beam.spans)):
        (low, high), last = beam.clear(index), index == len(beam.spans) - 1
        own = [p for p in places if low + 1.0 < p[0] < high - 1.0]
        for (x, side, i), (y, other, j) in itertools.pairwise(own):
            if not 1.0 < y - x < apart or i == j:
                continue
            if side == 1:  # on to the other end, whether that bar ends or begins there
                result[i] = replace(result[i], end=max(result[i].end, y))
            elif other == 0:
                result[j] = replace(result[j], start=min(result[j].start, x))
            elif x + apart < (high if last else high + 0.5 * (beam.clear(index + 1)[0] - high)):
                # at an inner support bars may end inside it
                result[j] = replace(result[j], end=max(result[j].end, x + apart))
    return result


def clear_over_supports(beam: Beam, code: DesignCode, bars: Sequence[Bar]) -> list[Bar]:
    """Straight bottom bars of neighbouring spans that would meet end to end over a support stop a step short
    of its axis each, where that is far enough past its faces. Where the soffit steps they are no rows of one
    level, and where bars have to be continuous a gap is the wrong way."""
    result, step = list(bars), beam.detailing.step
    if code.curtailment.continuity is not None:
        return result
    for k, s in enumerate(beam.supports):
        if _steps(beam, k):
            continue
        left, right = (_ending_at(result, s.x, side) for side in (1, 0))
        rows = {result[i].layer for i in left} & {result[i].layer for i in right}
        for i in (*left, *right):
            own = result[i]
            past = float(code.curtailment.into_support(code.sizes[own.size].diameter, False))
            if own.layer not in rows or past > 0.5 * s.width - step + 1e-6:
                continue
            if i in left:
                result[i] = replace(own, end=own.end - step)
            else:
                result[i] = replace(own, start=own.start + step)
    return result


def _steps(beam: Beam, support: int) -> bool:
    """Whether the soffit of one span is deeper than that of the next."""
    depths = [float(v.depths(v.length)) for v in beam.spans if v.right == support]
    depths += [float(v.depths(0.0)) for v in beam.spans if v.left == support]
    return max(depths) - min(depths) > 1.0


def _ending_at(bars: Sequence[Bar], x: float, side: int) -> list[int]:
    """Bottom bars with a straight left (0) or right (1) end at a place."""
    return [
        i
        for i, b in enumerate(bars)
        if b.face == "bottom" and b.ends[side] == "straight" and abs((b.start, b.end)[side] - x) < 1.0
    ]


def _lengths_alike(bars: list[Bar], step: float, low: float, high: float) -> list[Bar]:
    """Straight pieces of a size whose lengths differ by less than APART get the longest of them."""
    result = list(bars)
    order = sorted(
        (i for i, b in enumerate(bars) if _straight(b) == (True, True)),
        key=lambda i: (bars[i].size, bars[i].start - bars[i].end),
    )
    for i, j in itertools.pairwise(order):
        a, b = result[i], result[j]
        lacking = (a.end - a.start) - (b.end - b.start)
        if a.size == b.size and 0.5 < lacking < APART * step:
            result[j] = _longer(b, lacking, low, high, step)
    return result


def alike(beam: Beam, sizes: BarSizes, bars: Sequence[Bar]) -> list[Bar]:
    """Pieces of one size and shape get the length of the next longer ones where that costs less steel than a
    mark is worth: like bars over like supports. No bar reaches over one that it did not lie beside before.
    Nothing of that in the lean style."""
    if beam.detailing.lean:
        return list(bars)
    result = _legs_alike(beam, sizes, bars)
    kinds: dict[tuple[object, ...], list[int]] = {}
    for i, bar in enumerate(result):
        if "lap" not in bar.ends and "straight" in bar.ends:
            bent = tuple(
                sorted(
                    (kind, round(leg))
                    for kind, leg in zip(bar.ends, bar.legs, strict=True)
                    if kind != "straight"
                )
            )
            kinds.setdefault((bar.size, bent), []).append(i)
    for (size, _), own in kinds.items():
        price = sizes[str(size)].area * DENSITY * beam.detailing.rates.steel
        result = _joined(beam, result, own, beam.detailing.rates.mark / max(price, 1e-12))
    return result


def _joined(beam: Beam, bars: list[Bar], own: Sequence[int], worth: float) -> list[Bar]:
    """Bars of one kind (indices `own`): each length taken to the next where that takes no more than `worth`
    mm of bar, cheapest first."""
    result, refused = bars, set[tuple[float, float]]()
    while True:
        lengths: dict[float, list[int]] = {}
        for i in own:
            lengths.setdefault(round(result[i].end - result[i].start, 1), []).append(i)
        pairs = [
            (sum(result[i].count for i in lengths[short]) * (long - short), short, long)
            for short, long in itertools.pairwise(sorted(lengths))
            if (short, long) not in refused
        ]
        more, short, long = min(pairs, default=(worth, 0.0, 0.0))
        if more >= worth:
            return result
        longer = _all_reaching(beam, result, lengths[short], long)
        if longer is None:
            refused.add((short, long))
        else:
            result = longer


def laps_alike(beam: Beam, bars: Sequence[Bar]) -> list[Bar]:
    """Lapped pieces of a size and shape whose lengths differ by whole steps, less than APART, get the longest
    of them, by a longer lap inside the clear span. Nothing of that in the lean style."""
    result, step = list(bars), beam.detailing.step
    if beam.detailing.lean:
        return result
    shapes = {
        i: (b.size, sorted((k, round(leg)) for k, leg in zip(b.ends, b.legs, strict=True) if leg > 0.0))
        for i, b in enumerate(bars)
        if b.bent_up is None
    }
    for i, j in itertools.pairwise(sorted(shapes, key=lambda i: (shapes[i], bars[i].start - bars[i].end))):
        lacking = (result[i].end - result[i].start) - (result[j].end - result[j].start)
        whole = abs(lacking - step * round(lacking / step)) < 0.01
        if shapes[i] != shapes[j] or not whole or not 0.5 < lacking < APART * step:
            continue
        side = next((k for k in (1, 0) if _free(beam, result, j, k, "lap") >= lacking), None)
        if side is not None:
            b = result[j]
            result[j] = replace(b, start=b.start - lacking * (1 - side), end=b.end + lacking * side)
    return result


def _all_reaching(beam: Beam, bars: list[Bar], own: Sequence[int], length: float) -> list[Bar] | None:
    """One after another, since two of them may reach towards each other; None where one cannot."""
    result = list(bars)
    for i in own:
        longer = _reaching(beam, result, i, length)
        if longer is None:
            return None
        result[i] = longer
    return result


def _legs_alike(beam: Beam, sizes: BarSizes, bars: Sequence[Bar]) -> list[Bar]:
    """Bends of one size and face have one leg where that costs less than a mark."""
    result = list(bars)
    own: dict[tuple[str, str], list[tuple[int, int]]] = {}
    for i, b in enumerate(bars):
        for side, kind in enumerate(b.ends):
            if kind == "bend" and b.legs[side] > 0.0:
                own.setdefault((b.size, b.face), []).append((i, side))
    for (size, _), places in own.items():
        longest = max(bars[i].legs[side] for i, side in places)
        room = (
            min(float(s.shallowest) for s in (beam.spans[0], beam.spans[-1]))
            - beam.cover.top
            - beam.cover.bottom
            - 40.0
        )
        more = sum(bars[i].count * (longest - bars[i].legs[side]) for i, side in places)
        too_long = any(
            _length(bars[i]) + longest - bars[i].legs[side] > beam.detailing.longest_piece
            for i, side in places
        )
        if (
            too_long
            or longest > room
            or more * sizes[size].area * DENSITY * beam.detailing.rates.steel >= beam.detailing.rates.mark
        ):
            continue
        for i, side in places:
            legs = (longest, result[i].legs[1]) if side == 0 else (result[i].legs[0], longest)
            result[i] = replace(result[i], legs=legs)
    return result


def _reaching(beam: Beam, bars: Sequence[Bar], i: int, length: float) -> Bar | None:
    """Bar `i` made so long within the clear spans that its straight ends lie in, in whole steps about half at
    each where both have room; None where there is none."""
    bar = bars[i]
    room = [_free(beam, bars, i, side) for side in (0, 1)]
    more = length - (bar.end - bar.start)
    if sum(room) < more or length + sum(bar.legs) > beam.detailing.longest_piece:
        return None
    step = beam.detailing.step
    half = round(0.5 * more / step) * step if more > step else 0.0 if room[1] >= more else more
    left = min(max(half, more - room[1]), room[0])
    return replace(bar, start=bar.start - left, end=bar.end + more - left)


def _free(beam: Beam, bars: Sequence[Bar], i: int, side: int, kind: str = "straight") -> float:
    """How much farther an end of that kind inside a clear span can go: not past its supports, nor near an end
    of another bar of its face."""
    bar, apart = bars[i], APART * beam.detailing.step
    x = (bar.start, bar.end)[side]
    clear = next((c for c in map(beam.clear, range(len(beam.spans))) if c[0] + 1.0 < x < c[1] - 1.0), None)
    if bar.ends[side] != kind or clear is None:
        return 0.0
    ends = [y for j, b in enumerate(bars) if j != i and b.face == bar.face for y in (b.start, b.end)]
    if any(abs(y - x) <= 1.0 for y in ends):  # one place of two ends stays one
        return 0.0
    ahead = [abs(y - x) - apart for y in (*ends, *clear) if (y < x - 1.0 if side == 0 else y > x + 1.0)]
    return max(min(ahead, default=0.0), 0.0)
