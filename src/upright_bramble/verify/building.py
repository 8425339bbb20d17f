"""What cannot be built at all: steel outside the concrete or in one place, legs and rows without room, stirrups without bars in their
corners."""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right

import numpy as np

from upright_bramble.beam import StirrupZone
from upright_bramble.section.arrays import Array
from upright_bramble.verify.facts import Facts, make
from upright_bramble.verify.result import Check

NEAREST, SPARE = 50.0, 10.0  # between stirrups' centres, and beside the largest aggregate between their sides, mm


def impossible(f: Facts) -> list[Check]:
    """Checks of making that no clause of strength asks for."""
    return [*_outside(f), *_legs(f), *_side_rows(f), *_apart(f), *_corners(f)]


def _near(f: Facts, x: float) -> int:
    return int(np.abs(f.at.x - x).argmin())


def _outside(f: Facts) -> list[Check]:
    """Stirrups and side bars beyond the ends of the concrete."""
    found = []
    low, high = f.beam.ends
    built_in = [s.fixed and e is not None for s, e in zip(
        (f.beam.supports[0], f.beam.supports[-1]), (f.beam.spans[0].left, f.beam.spans[-1].right), strict=True)]  # fmt: skip
    entries = [(z.mark, z.start, z.start + (z.count - 1) * z.spacing, "stirrups") for z in f.layout.stirrups]
    entries += [(s.mark, s.start, s.end, "sides") for s in f.layout.sides]
    for mark, start, end, what in entries:
        out = max(0.0 if built_in[0] else low - start, 0.0 if built_in[1] else end - high)
        if out > 1.0:
            note = f"{'stirrups' if what == 'stirrups' else 'side bars'} {mark} lie outside the concrete"
            found.append(make(f, f"inside.{what}", mark, _near(f, start if low - start >= end - high else end), out, 0.0, "length",
                              note=note, topic="fit"))  # fmt: skip
    return found


def _legs(f: Facts) -> list[Check]:
    """Legs of a stirrup side by side, with room for concrete between them."""
    found = []
    for zone in f.layout.stirrups:
        phi = f.code.sizes[zone.size].diameter
        gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
        here = (f.at.x >= zone.start - 1.0) & (f.at.x <= zone.end + 1.0)
        i = int(np.where(here, f.at.width, np.inf).argmin()) if here.any() else _near(f, zone.start)
        room = float(f.at.width[i]) - 2.0 * f.beam.cover.sides
        taken = zone.legs * phi + (zone.legs - 1) * gap
        if taken > 0.5 * room:
            note = "fewer legs" if taken > room else ""
            found.append(make(f, "fit.legs", zone.mark, i, taken, room, "length", note=note))
    return found


def _side_rows(f: Facts) -> list[Check]:
    """Rows of side bars between the bars of the two faces."""
    found = []
    for s in f.layout.sides:
        phi = f.code.sizes[s.size].diameter
        gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
        here = (f.at.x >= s.start) & (f.at.x <= s.end)
        i = int(np.where(here, f.at.depth, np.inf).argmin()) if here.any() else _near(f, s.start)
        corner = float(f.placed.diameter.max(initial=10.0))
        room = float(f.at.depth[i]) - f.beam.cover.top - f.beam.cover.bottom - 2.0 * (f.placed.tie + corner)
        taken = s.rows * phi + (s.rows + 1) * gap
        if taken > 0.5 * room:
            note = "fewer rows of side bars" if taken > room else ""
            found.append(make(f, "fit.sides", s.mark, i, taken, room, "length", note=note))
    return found


def _places(zone: StirrupZone) -> Array:
    return np.asarray(zone.start + zone.spacing * np.arange(zone.count), dtype=float)


def _apart(f: Facts) -> list[Check]:
    """The two stirrups of a span that are nearest to each other, of one zone or of two."""
    found = []
    every = sorted((p, f.code.sizes[z.size].diameter, z.mark) for z in f.layout.stirrups for p in _places(z).tolist())
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        mine = every[bisect_left(every, (low - 1.0,)) : bisect_right(every, (high + 1.0, np.inf))]
        if len(mine) < 2:
            continue
        gaps = [(b[0] - a[0], max(a[1], b[1]), a[2], b[2], b[0]) for a, b in itertools.pairwise(mine)]
        gap, phi, first, second, x = min(gaps)
        asked = max(NEAREST, f.beam.concrete.aggregate + SPARE + phi)
        between = f"stirrups {first}" if first == second else f"stirrups {first} and {second}"
        note = f"{between}: concrete does not pass between them" if gap < asked - 0.5 else ""
        demand = asked if note else min(asked, gap)
        found.append(make(f, "fit.stirrups", str(index + 1), _near(f, x), demand, gap, "length", note=note))
    return found


def _corners(f: Facts) -> list[Check]:
    """Two bars at least in the corners of every stirrup, above and below."""
    found = []
    p = f.placed
    counts = np.array([b.count for b in p.bars], dtype=float)
    start, end = np.array([b.start for b in p.bars]), np.array([b.end for b in p.bars])
    every = [_places(z) for z in f.layout.stirrups]
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        places = [
            q for z in every if len(z) and z[0] <= high + 1.0 and z[-1] >= low - 1.0 for q in z.tolist() if low - 1.0 <= q <= high + 1.0
        ]
        if not places:
            continue
        x, near = np.array(places)[:, None], (start <= high + 2.0) & (end >= low - 2.0) & (p.layer == 1.0)
        here = (x >= start[near] - 1.0) & (x <= end[near] + 1.0)
        for face, mine in (("bottom", p.bottom[near]), ("top", ~p.bottom[near])):
            number = (here * counts[near] * mine).sum(axis=1)
            worst = int(number.argmin())
            if number[worst] < 2.0:
                note = f"a stirrup has no bars in its {face} corners here"
                i = _near(f, places[worst])
                found.append(make(f, f"fit.corners-{face}", str(index + 1), i, 2.0, float(number[worst]), "number", note=note))
    return found
