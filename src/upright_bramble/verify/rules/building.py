"""What cannot be built at all: steel outside the concrete or in one place, legs and rows without room,
stirrups without bars in their corners."""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right

import numpy as np

from upright_bramble.analysis.bar_lines import past_kink, straight_past
from upright_bramble.analysis.side_bars import room_for_leg
from upright_bramble.beam import KINK, SideBars, StirrupZone
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array
from upright_bramble.verify.facts import Facts, if_fails
from upright_bramble.verify.result import Check
from upright_bramble.working import dropped, record

# between stirrups' centres, and beside the largest aggregate between their sides, mm
NEAREST, SPARE = 50.0, 10.0


def impossible(f: Facts) -> list[Check]:
    """Checks of making that no clause of strength asks for."""
    return [*_outside(f), *_legs(f), *_side_rows(f), *_apart(f), *_corners(f), *_kinks(f)]


def _kinks(f: Facts) -> list[Check]:
    """Bottom bars that are bent at a kink of the soffit do not pull out of it: where the soffit turns
    downwards and its face may be in tension straight bars cross."""
    result = []
    for before, after in itertools.pairwise(f.beam.spans):
        if after.slope - before.slope <= KINK or before.right is None:
            continue
        support = f.beam.supports[before.right]
        over = np.abs(f.at.x - support.x) <= 0.5 * support.width + 1.0
        if float(f.forces.design.moment_max[over].max(initial=0.0)) <= 1e3:
            continue
        for g, bar in enumerate(f.placed.bars):
            past = past_kink(bar, support.x)
            permitted = straight_past(f.beam, before.right, float(f.placed.diameter[g]))
            if bar.face == "bottom" and past > permitted + 1.0:
                note = (
                    f"bar {bar.mark} is in tension where the soffit turns down at {support.name}: end it "
                    "at the support, with another one beside it"
                )
                record("l", past, "mm", "of the bar beyond the kink")
                record("l_max", permitted, "mm", "half of the support, or 40 diameters: a straight bar")
                result.append(
                    f.check(
                        "fit.kinks",
                        Place(bar=f.name(bar), support=support.name),
                        f.nearest(support.x),
                        past,
                        permitted,
                        note=note,
                    )
                )
    return result


def _outside(f: Facts) -> list[Check]:
    """Stirrups and side bars beyond the ends of the concrete."""
    result = []
    low, high = f.beam.ends
    first, last = f.beam.supports[0], f.beam.supports[-1]
    built_in = (
        first.fixed and f.beam.spans[0].left is not None,
        last.fixed and f.beam.spans[-1].right is not None,
    )
    entries = [
        (f.name(z), z.start, z.start + (z.count - 1) * z.spacing, "stirrups", "stirrups")
        for z in f.layout.stirrups
    ]
    entries += [(f.name(s), s.start, s.end, "sides", "side bars") for s in f.layout.sides]
    for mark, start, end, subject, words in entries:
        out = max(0.0 if built_in[0] else low - start, 0.0 if built_in[1] else end - high)
        if out > 1.0:
            i = f.nearest(start if low - start >= end - high else end)
            result.append(
                f.check(
                    f"inside.{subject}",
                    Place(bar=mark),
                    i,
                    out,
                    0.0,
                    note=f"{words} {mark} lie outside the concrete",
                )
            )
    return result


def _legs(f: Facts) -> list[Check]:
    """Legs of a stirrup side by side, with room for concrete between them."""
    result = []
    for zone in f.layout.stirrups:
        phi = f.code.sizes[zone.size].diameter
        gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
        here = (f.at.x >= zone.start - 1.0) & (f.at.x <= zone.end + 1.0)
        i = int(np.where(here, f.at.width, np.inf).argmin()) if here.any() else f.nearest(zone.start)
        room = float(f.at.width[i]) - 2.0 * f.beam.cover.sides
        taken = zone.legs * phi + (zone.legs - 1) * gap
        if taken > 0.5 * room:
            _record_taken(zone.legs, phi, taken, room, "legs side by side")
            result.append(
                f.check(
                    "fit.legs",
                    Place(bar=f.name(zone)),
                    i,
                    taken,
                    room,
                    note=if_fails("fewer legs", taken > room),
                )
            )
    return result


def _record_taken(number: int, phi: float, taken: float, room: float, what: str) -> None:
    record("n", number, "", what)
    record("phi", phi, "mm", "diameter")
    record("taken", taken, "mm", "that they and the clear distances between them take")
    record("room", room, "mm", "there is for them")


def _side_rows(f: Facts) -> list[Check]:
    """Rows of side bars between the bars of the two faces."""
    result = []
    for s in f.layout.sides:
        phi = f.code.sizes[s.size].diameter
        gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
        here = (f.at.x >= s.start) & (f.at.x <= s.end)
        i = int(np.where(here, f.at.depth, np.inf).argmin()) if here.any() else f.nearest(s.start)
        corner = float(f.placed.diameter.max(initial=10.0))
        room = float(f.at.depth[i]) - f.beam.cover.top - f.beam.cover.bottom - 2.0 * (f.placed.tie + corner)
        taken = s.rows * phi + (s.rows + 1) * gap
        if taken > 0.5 * room:
            _record_taken(s.rows, phi, taken, room, "rows of side bars")
            result.append(
                f.check(
                    "fit.sides",
                    Place(bar=f.name(s)),
                    i,
                    taken,
                    room,
                    note=if_fails("fewer rows of side bars", taken > room),
                )
            )
        result += _side_legs(f, s)
    return result


def _side_legs(f: Facts, s: SideBars) -> list[Check]:
    """Legs of side bars lie across the web."""
    result = []
    phi = f.code.sizes[s.size].diameter
    for side, x in enumerate((s.start, s.end)):
        if s.ends[side] not in ("bend", "hook"):
            continue
        leg = float(s.legs[side] or f.code.detailing.minimum_leg(phi, s.ends[side]))
        i = f.nearest(x)
        room = room_for_leg(f.beam, float(f.at.width[i]), f.placed.tie)
        if leg > 0.5 * room:
            record("leg", leg, "mm", f"outer length of the leg of {f.name(s)}")
            record("room", room, "mm", "of the web from a stirrup to the cover of its other side")
            note = if_fails("thinner side bars, or straight ones", leg > room)
            result.append(f.check("fit.sides", Place(bar=f.name(s), part="leg"), i, leg, room, note=note))
    return result


def _places(zone: StirrupZone) -> Array:
    return np.asarray(zone.start + zone.spacing * np.arange(zone.count), dtype=float)


def _apart(f: Facts) -> list[Check]:
    """The two stirrups of a span that are nearest to each other, of one zone or of two."""
    dropped()
    result = []
    every = sorted(
        (p, f.code.sizes[z.size].diameter, z.mark) for z in f.layout.stirrups for p in _places(z).tolist()
    )
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        own = every[bisect_left(every, (low - 1.0,)) : bisect_right(every, (high + 1.0, np.inf))]
        if len(own) < 2:
            continue
        gaps = [(b[0] - a[0], max(a[1], b[1]), a[2], b[2], b[0]) for a, b in itertools.pairwise(own)]
        gap, phi, first, second, x = min(gaps)
        required = max(NEAREST, f.beam.concrete.aggregate + SPARE + phi)
        between = f"stirrups {first}" if first == second else f"stirrups {first} and {second}"
        note = if_fails(f"{between}: concrete does not pass between them", gap < required - 0.5)
        record("d_g", f.beam.concrete.aggregate, "mm", "largest aggregate, which passes with 10 mm to spare")
        record("phi_w", phi, "mm", "diameter of the stirrups")
        record("s_min", required, "mm", "minimum distance of their centres")
        record("s", gap, "mm", f"distance of {between}")
        result.append(
            f.check(
                "fit.stirrups",
                Place(span=index),
                f.nearest(x),
                required if note else min(required, gap),
                gap,
                note=note,
            )
        )
    return result


def _corners(f: Facts) -> list[Check]:
    """Two bars at least in the corners of every stirrup, above and below."""
    result = []
    p = f.placed
    counts = np.array([b.count for b in p.bars], dtype=float)
    start, end = np.array([b.start for b in p.bars]), np.array([b.end for b in p.bars])
    every = [_places(z) for z in f.layout.stirrups]
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        zones = [z for z in every if len(z) and z[0] <= high + 1.0 and z[-1] >= low - 1.0]
        places = [q for z in zones for q in z.tolist() if low - 1.0 <= q <= high + 1.0]
        if not places:
            continue
        x, near = np.array(places)[:, None], (start <= high + 2.0) & (end >= low - 2.0) & (p.layer == 1.0)
        here = (x >= start[near] - 1.0) & (x <= end[near] + 1.0)
        for face, own in (("bottom", p.bottom[near]), ("top", ~p.bottom[near])):
            number = (here * counts[near] * own).sum(axis=1)
            worst = int(number.argmin())
            if number[worst] < 2.0:
                note = f"a stirrup has no bars in its {face} corners at this place"
                i = f.nearest(places[worst])
                result.append(
                    f.check(
                        f"fit.corners-{face}",
                        Place(span=index, face=face),
                        i,
                        2.0,
                        float(number[worst]),
                        note=note,
                    )
                )
    return result
