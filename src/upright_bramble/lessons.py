"""What a design learns from checks that fail: which needs to raise before the next proposal."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.beam import Bar, Beam, lapped_pairs
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.start import top_zones
from upright_bramble.verify import Check, Result

# a section that is short of strength by no more than this gets steel for deflection in the same round
NEARLY = 1.05
# times what the bars in tension carry by themselves: up to there more of them are better than held bars in
# compression
SLIGHT = 1.08
NEAR = 40.0  # diameters from a hook inwards in which other bars count as beside it


@dataclass(frozen=True)
class Lesson:
    """A failing check of a result, and the needs that are raised for it; `more`: by how much more than the
    time before; `thinner` as the needs of this result had it."""

    beam: Beam
    code: DesignCode
    result: Result
    needs: Needs
    check: Check
    more: float
    thinner: Mapping[str, float]

    @property
    def span(self) -> int:
        return self.check.span - 1

    @property
    def face(self) -> str:
        return self.check.kind.face or "bottom"

    @property
    def other(self) -> str:
        return "top" if self.face == "bottom" else "bottom"

    @property
    def zone(self) -> int:
        """Of extra bars: the span of bottom bars, the support of top bars."""
        if self.face == "bottom":
            return self.span
        forces = self.result.forces
        return int(top_zones(self.beam, forces)[int(np.abs(forces.stations.x - self.check.x).argmin())])

    def by(self, minimum: float, maximum: float) -> float:
        """The check's ratio within bounds."""
        return min(max(self.check.ratio, minimum), maximum)


def _bending(c: Lesson) -> None:
    c.needs.raise_bending(c.face, c.zone, c.by(1.0, 1.5) * 1.01 * c.more)


def _cracks(c: Lesson) -> None:
    if c.check.quantity == "length":  # nearer to each other: as many more of them as that takes
        _, through, beside = _first_row(c)
        enough = math.ceil(max(through + beside - 1, 1) * c.check.ratio - 1e-6) + 1
        c.needs.number[c.face] = max(c.needs.number.get(c.face, 2), enough - beside, through + 1)
    else:
        c.needs.raise_bending(c.face, c.zone, c.by(1.06, 1.4) * c.more)


def _stiffness(c: Lesson) -> None:
    tension, where = _stiffening(c)
    if c.check.ok and (tension, where) not in c.needs.anchored:  # for its reserve alone: longer bars first
        c.needs.anchored.add((tension, where))
        return
    if not c.needs.filled:
        c.needs.raise_bending(tension, where, c.by(1.05, 1.35) * c.more)
        return
    curves = c.result.curves  # steel in compression creeps less than concrete
    provided = curves.bottom_provided if tension == "bottom" else curves.top_provided
    maximum = float(provided[c.result.forces.stations.of(c.span)].max())
    c.needs.raise_through("top" if tension == "bottom" else "bottom", 0.25 * maximum)


def _stiffening(c: Lesson) -> tuple[str, int]:
    """Whose steel stiffens a span: its bottom bars; for a cantilever the top bars over its support."""
    span = c.beam.spans[c.span]
    support = span.right if span.left is None else span.left
    return ("bottom", c.span) if not span.cantilever or support is None else ("top", support)


def _tied(c: Lesson) -> None:
    if not _alone(c):
        c.needs.tied.add(c.span)


def _alone(c: Lesson) -> bool:
    """Slightly more tension steel, rather than what holds bars in compression, where these carry little of
    the moment: tried twice at most."""
    if c.needs.failed[c.check.id] > 2:
        return False
    facts = c.result.facts
    assert facts is not None
    s, rows = facts.strength, facts.at.of(c.span)
    within, zones = facts.with_stirrups(c.span)[rows], top_zones(c.beam, facts.forces)[rows]
    raised: dict[tuple[str, int], float] = {}
    for face, demand, alone in (("bottom", s.moment_max, s.alone[0]), ("top", s.moment_min, s.alone[1])):
        if (
            facts.required[f"{'top' if face == 'bottom' else 'bottom'}_compression"][rows][within] > 0.0
        ).any():
            return False
        over = np.where(within & (demand[rows] > 1e3), demand[rows] / np.maximum(alone[rows], 1e-6), 0.0)
        for k in np.flatnonzero(over > 1.0).tolist():
            key = (face, c.span if face == "bottom" else int(zones[k]))
            raised[key] = max(raised.get(key, 1.0), float(over[k]))
    if not raised or max(raised.values()) > SLIGHT:
        return False
    for (face, zone), ratio in raised.items():
        c.needs.raise_bending(face, zone, 1.01 * ratio)
    return True


def _legs(c: Lesson) -> None:
    if _alone(c):
        return
    c.needs.legs[c.span] = max(c.needs.legs.get(c.span, 0), 2 * math.ceil(0.5 * c.check.demand))


def _across(c: Lesson) -> None:
    """Two legs more: they stand too far apart for the depth that the bars leave."""
    low, high = c.beam.clear(c.span)
    legs = max((z.legs for z in c.result.layout.stirrups if low < z.start < high), default=0)
    c.needs.legs[c.span] = max(c.needs.legs.get(c.span, 0), legs + 2)


def _spacing(c: Lesson) -> None:
    c.needs.raise_spacing(c.span, c.check.ratio * 1.005)


def _confine(c: Lesson) -> None:
    c.needs.raise_spacing(c.span, c.check.ratio * 1.01)


def _shear(c: Lesson) -> None:
    c.needs.raise_shear(c.span, c.by(1.0, 1.5) * 1.02)


def _relief(c: Lesson) -> None:
    """Compression steel that takes the force of the concrete below the deepest neutral axis allowed, and a
    bit more; bars come by whole numbers: what did nothing is followed by twice as much."""
    profile = c.beam.spans[c.span].profile
    law, steel = c.code.materials.concrete_law(c.beam.concrete), c.code.materials.steel_law(c.beam.bars)
    force = (
        (c.check.demand - c.check.resistance)
        * law.depth_factor
        * 0.9
        * profile.depth
        * profile.width
        * law.stress
    )
    c.needs.raise_through(
        c.other, (1.3 * force / steel.yield_stress + 30.0) * 2.0 ** (c.needs.failed[c.check.id] - 1)
    )


def _thinner(c: Lesson) -> None:
    """Bars that develop in less length; where bent ones would, were no others beside them: these in upper
    rows."""
    if c.needs.narrow and _hooks_too_near(c):
        c.needs.crowded[c.face, c.zone] = c.needs.crowded.get((c.face, c.zone), 0) + 2
        return
    own = [b for b in c.result.layout.bars if b.face == c.face]
    ending = [b.size for b in own if set(b.ends) & {"bend", "hook"}]
    used = ending or [b.size for b in own]
    thickest = max((c.code.sizes[s].diameter for s in used), default=math.inf)
    if thickest >= c.thinner.get(c.face, math.inf):  # others end beside those that run through
        c.needs.slim.add(c.face)
    c.needs.thinner[c.face] = min(thickest, c.needs.thinner.get(c.face, math.inf))


def _hooks_too_near(c: Lesson) -> bool:
    """Whether bars that are bent up at the end of the beam next to a check do not develop there because of
    straight ones beside them in the first row."""
    side = 0 if c.check.x < 0.5 * c.beam.length else 1
    row = [b for b in c.result.layout.bars if b.face == c.face and b.layer == 1]
    bent = [b for b in row if b.start <= c.check.x <= b.end and b.ends[side] in ("bend", "hook")]
    if not bent:
        return False
    phi = max(c.code.sizes[b.size].diameter for b in bent)
    near = [
        b for b in row if (b.start < c.check.x + NEAR * phi if side == 0 else b.end > c.check.x - NEAR * phi)
    ]
    tight, wide = (
        c.code.bond.hook(c.beam.concrete, c.beam.bars, phi, apart, c.beam.cover.sides) for apart in (0.0, 1e4)
    )
    if tight is None or wide is None or all(b in bent for b in near):
        return False
    past = min(abs((b.start, b.end)[side] - c.check.x) for b in bent)
    return bool(wide <= past < tight)


def _more_top_bars(c: Lesson) -> None:
    """Longer support bars, or where these are too few more bars that run through."""
    # both sides of a support may fail at once
    first = c.zone not in c.needs.onward or c.needs.failed[c.check.id] == 1
    c.needs.onward.add(c.zone)
    if first:
        return
    c.needs.through["top"] = max(c.needs.through.get("top", 0.0) + 10.0, c.check.demand + 10.0)


def _run_through(c: Lesson) -> None:
    """Bars of the face along the whole line, of the area that the check asks for."""
    c.needs.through[c.face] = max(c.needs.through.get(c.face, 0.0), 1.01 * c.more * c.check.demand)


def _carried_in(c: Lesson) -> None:
    """More bottom bars; where that has not helped, as many of them through the whole line."""
    if c.needs.narrow and c.needs.failed[c.check.id] > 2:
        _run_through(c)
        return
    c.needs.raise_bending("bottom", c.span, 1.08)


def _curtailment(c: Lesson) -> None:
    c.needs.raise_bending(c.face, c.zone, c.by(1.0, 1.5) * 1.01 * c.more)


def _cut_off(c: Lesson) -> None:
    if c.needs.failed[c.check.id] > 1:  # the closer stirrups end too near to the cut
        c.needs.cut_reach = min(c.needs.cut_reach + 100.0, 600.0)
    c.needs.cut_offs[c.check.x] = max(
        c.needs.cut_offs.get(c.check.x, 0.0), 1.02 * c.check.demand * c.check.kind.factor
    )


def _stagger(c: Lesson) -> None:
    c.needs.staggered.add(c.face)


def _crowded(c: Lesson) -> None:
    """Room for more bars in the first row; where a leg stays longer than the beam is deep, thinner bars."""
    if c.check.place.part == "leg" and c.needs.failed[c.check.id] > 2:
        _thinner(c)
        return
    s = c.beam.spans[c.span]
    zones = [c.span] if c.face == "bottom" else [z for z in (s.left, s.right) if z is not None]
    if c.needs.narrow and _beside_laps(c, zones):
        return
    for z in zones:
        c.needs.crowded[c.face, z] = c.needs.crowded.get((c.face, z), 0) + 2


def _first_row(c: Lesson) -> tuple[int, int, int]:
    """Bars of the first row where a check is made: lapped there, of each pair one, that run through or are
    lapped somewhere (these with them), and others."""
    bars = [b for b in c.result.layout.bars if b.face == c.face]
    row = [b for b in bars if b.layer == 1 and b.start - 1.0 <= c.check.x <= b.end + 1.0]
    twice = sum(bars[i].count for i, j in lapped_pairs(bars) if bars[i] in row and bars[j] in row)
    longest = max((b.end - b.start for b in row), default=0.0)
    run = [b for b in row if "lap" in b.ends or b.end - b.start > 0.99 * longest]
    through = sum(b.count for b in run) - twice
    return twice, through, sum(b.count for b in row) - twice - through


def _beside_laps(c: Lesson, zones: list[int]) -> bool:
    """Where laps of the bars that run through have no room: fewer of these, if they are alone; else extra
    bars that end before the laps in the first row, and past them in the second. Whether that is new."""
    bars = [b for b in c.result.layout.bars if b.face == c.face]
    lapped, through, beside = _first_row(c)
    if not lapped or not c.check.id.endswith("row-1"):
        return False
    if not beside:
        most = min(through - 1, c.needs.fewer.get(c.face, through))
        new = through > 2 and c.needs.fewer.get(c.face) != most
        c.needs.fewer[c.face] = max(most, 2)
        return new
    own = {(c.face, z) for z in zones}
    new = any(b.layer == 2 for b in bars) and not own <= c.needs.above
    c.needs.above |= own
    return new


def _longer_laps(c: Lesson) -> None:
    c.needs.long_laps.add(c.face)


def _longer_legs(c: Lesson) -> None:
    """Past the mandrel that the longest leg of a piece asks for; no lap, row or number of bars has to do with
    it."""
    names = {name: entry for entry, name in c.result.layout.names.items()}
    bar = names.get(c.check.place.bar)
    if isinstance(bar, Bar):
        c.needs.raise_legs(bar.face, bar.size, c.check.demand)


def _bends_apart(c: Lesson) -> None:
    """At an end of the beam: upper rows behind the first, and the bars of one face behind all rows of the
    other."""
    side = 0 if c.check.place.side == "left" else 1
    if c.span != (len(c.beam.spans) - 1) * side:
        return
    end, width = c.beam.ends[side], c.beam.supports[-side].width
    bent = [
        b
        for b in c.result.layout.bars
        if b.ends[side] in ("bend", "hook") and abs((b.start, b.end)[side] - end) <= width
    ]
    c.needs.nested |= any(b.layer > 1 for b in bent)
    fixed = [b for b in bent if b.face != c.needs.yielding]
    phi = max((c.code.sizes[b.size].diameter for b in fixed), default=0.0)
    clear = float(c.code.detailing.clear_spacing(phi, c.beam.concrete.aggregate))
    others, key = len({b.layer for b in fixed}), (c.needs.yielding, side)
    past = others * phi + (others - 1) * clear  # touching, as lapped bars do
    if past <= c.needs.behind.get(key, 0.0):  # these legs reach bars that are not bent
        c.needs.behind_straight.add(key)
    c.needs.behind[key] = max(c.needs.behind.get(key, 0.0), past)


def _minimum(c: Lesson) -> None:
    c.needs.raise_bending(c.face, c.zone, 1.1)


LESSONS: Mapping[str, Callable[[Lesson], None]] = {
    "bending": _bending,
    "cracks": _cracks,
    "stiffness": _stiffness,
    "tied": _tied,
    "legs": _legs,
    "across": _across,
    "spacing": _spacing,
    "confine": _confine,
    "shear": _shear,
    "relief": _relief,
    "thinner": _thinner,
    "more top bars": _more_top_bars,
    "run through": _run_through,
    "carried in": _carried_in,
    "curtailment": _curtailment,
    "cut-off": _cut_off,
    "stagger": _stagger,
    "crowded": _crowded,
    "longer laps": _longer_laps,
    "longer legs": _longer_legs,
    "bends apart": _bends_apart,
    "minimum": _minimum,
}


def learn(beam: Beam, code: DesignCode, result: Result, needs: Needs) -> bool:
    """Raise the needs behind every failing check, or behind tight ones where none fails. False when steel
    cannot help."""
    checks = _to_learn_from(beam, result)
    helped, thinner = False, dict(needs.thinner)
    longer = {_extra_bars_at(beam, code, result, needs, c) for c in checks if _for_longer_bars(c)}
    if longer - needs.anchored:
        needs.anchored |= longer  # before there is more of anything
        return True
    for check in checks:
        more = needs.once_more(check.id)
        lesson = LESSONS.get(check.kind.lesson)
        if lesson is not None:
            lesson(Lesson(beam, code, result, needs, check, more, thinner))
            helped = True
    return helped


def _extra_bars_at(
    beam: Beam, code: DesignCode, result: Result, needs: Needs, check: Check
) -> tuple[str, int]:
    """Face and zone of the extra bars that a check is about."""
    lesson = Lesson(beam, code, result, needs, check, 1.0, {})
    return lesson.face, lesson.zone


def _for_longer_bars(check: Check) -> bool:
    """Where a bar stops too early: in tension beside too much shear, or before the others are too far
    apart."""
    return check.kind.lesson == "cut-off" or (check.kind.lesson == "cracks" and check.quantity == "length")


def _to_learn_from(beam: Beam, result: Result) -> list[Check]:
    """Strength first: steel for deflection is worth adding only to a section that can carry its load."""
    failing = [c for c in result.checks if not c.ok and c.severity == "must"]
    if not failing:
        return [replace(c, ratio=c.ratio / (1.0 - beam.detailing.reserve)) for c in tight(result)] + targets(
            result
        )
    strength = [c for c in failing if c.topic not in ("deflection", "cracking")]
    return failing if max((c.ratio for c in strength), default=0.0) <= NEARLY else strength


def targets(result: Result) -> list[Check]:
    """Targets of deflection that are missed: they decide nothing, and are met where steel can."""
    return [
        c for c in result.checks if not c.ok and c.severity == "advice" and c.kind.id == "deflection.total"
    ]


def tight(result: Result) -> list[Check]:
    """Checks that pass, but with less than the reserve that the user wants kept."""
    limit = 1.0 - result.beam.detailing.reserve
    topics = ("bending", "cracking", "deflection")
    return [
        c
        for c in result.checks
        if c.ok and c.topic in topics and c.severity == "must" and c.ratio > limit + 1e-6
    ]
