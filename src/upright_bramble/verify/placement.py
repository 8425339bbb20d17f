"""Bars at stations: where each group lies, how much of it is there, and how much of that is anchored."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from upright_bramble.analysis import Stations
from upright_bramble.analysis.bent_up import Parts, parts_of
from upright_bramble.analysis.crossing import crossing_of
from upright_bramble.analysis.slab import SlabSteel, slab_steel
from upright_bramble.beam import Bar, Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Around
from upright_bramble.section.arrays import Array, Mask, between, compact
from upright_bramble.verify.bearing import Bearing, pressed_gain
from upright_bramble.verify.groups import Groups, diameter_of, groups_of, hooks_of, stirrup_diameter
from upright_bramble.verify.lapping import Lap, laps_of
from upright_bramble.verify.stops import unused_at


@dataclass(frozen=True)
class Placed:
    """Groups (g,) at stations (n,). `y` (n, g) is the depth of each group's axis from the beam's top, mm.

    `present` (n, g) area that is there; `effective` (n, g) the share of it that is anchored at the station;
    `anchorage` (g,) length for full yield; `reach` (n, g) length of bar from the station to the nearer end;
    `around` (g,) the concrete around its ends; `basic` (g,) the anchorage without what that gives; `axis`
    (g,) distance of each group's axis from its face; `bond` (g,) its height over the soffit, and the depth of
    the section that its bond is judged by.
    """

    bars: tuple[Bar, ...]
    diameter: Array
    area: Array
    y: Array
    bottom: Mask
    layer: Array
    anchorage: Array
    present: Array
    effective: Array
    reach: Array
    inside: Mask
    laps: tuple[Lap, ...]
    tie: float
    axis: Array
    side_rows: tuple[int, ...] = ()
    bond: tuple[Array, Array] = (np.zeros(0), np.zeros(0))
    around: Around = field(default_factory=lambda: Around(np.zeros(0), np.zeros(0), np.zeros(0)))
    basic: Array = field(default_factory=lambda: np.zeros(0))
    ends_in: Array = field(default_factory=lambda: np.zeros((0, 2)))
    """(g, 2) length beyond which each end is developed for full yield, less what `tails` (g, 2) give."""
    tails: Array = field(default_factory=lambda: np.zeros((0, 2)))
    entries: tuple[Bar, ...] = ()
    """Bars as the layout has them, of which the groups are `parts`."""
    slab: SlabSteel | None = None
    """Bars of the slab that count beside the web in hogging."""
    parts: Parts = field(default_factory=lambda: Parts((), ()))
    bearings: tuple[Bearing, ...] = ()
    """End supports whose pressure is counted on."""
    unused: Array = field(default_factory=lambda: np.zeros((0, 2)))
    """(g, 2) length at each end that does not count, mm."""

    @cached_property
    def columns(self) -> tuple[Array, Array]:
        """What is anchored at each station: areas (n, k), depths (n, k)."""
        areas, depths = compact(self.effective, self.y)
        return areas, depths

    @cached_property
    def _areas(self) -> dict[tuple[bool, bool], Array]:
        return {
            (bottom, anchored): np.asarray(
                (self.effective if anchored else self.present)[:, self.bottom == bottom].sum(axis=1)
            )
            for bottom in (True, False)
            for anchored in (True, False)
        }

    def face_area(self, bottom: bool, *, anchored: bool) -> Array:
        """Total area of one face, (n,)."""
        return self._areas[bottom, anchored]

    def tension_area(self, bottom: bool, *, anchored: bool) -> Array:
        """Of a face in tension, (n,), mm2: its bars, and at the top those of the slab that count."""
        own = self.face_area(bottom, anchored=anchored)
        if bottom or self.slab is None:
            return own
        return own + (self.slab.anchored if anchored else self.slab.present)

    def hogging_columns(self, areas: Array, y: Array) -> tuple[Array, Array]:
        """Areas and depths (n, k) with the slab's bars, which count where the top is in tension."""
        if self.slab is None:
            return areas, y
        return np.column_stack([areas, self.slab.anchored]), np.column_stack([y, self.slab.y])

    def outer_depth(self, bottom: bool, h: Array) -> Array:
        """Depth of the outermost bars present at a face from the opposite one, (n,); the section's depth `h`
        where there are none."""
        lowest = self._outer[bottom]
        return np.where(np.isfinite(lowest), lowest if bottom else h - lowest, h)

    @cached_property
    def _outer(self) -> dict[bool, Array]:
        """Depth from the top of the lowest bottom bar and of the highest top bar, (n,); not finite where
        there are none."""
        here = self.present > 0.0
        low = np.where(here & self.bottom, self.y, -np.inf).max(axis=1, initial=-np.inf)
        high = np.where(here & ~self.bottom, self.y, np.inf).min(axis=1, initial=np.inf)
        return {True: low, False: high}

    def face_depth(self, bottom: bool, fallback: Array) -> Array:
        """Mean axis depth from the top of the bars present at one face, (n,); `fallback` where there are
        none."""
        own = self.present[:, self.bottom == bottom]
        total = own.sum(axis=1)
        mean = (own * self.y[:, self.bottom == bottom]).sum(axis=1) / np.where(total > 0.0, total, 1.0)
        return np.where(total > 0.0, mean, fallback)


def place(
    beam: Beam, code: DesignCode, layout: Layout, at: Stations, bearings: tuple[Bearing, ...] = ()
) -> Placed:
    """Bars at stations; the pressure of the `bearings` that are counted on shortens anchorages over them.

    Raises LayoutError for sizes that the code's catalogue does not have.
    """
    tie = stirrup_diameter(code, layout, beam)
    for entry in layout.bars:
        diameter_of(code, entry.size)
    parts = parts_of(beam, code, layout.bars, tie)
    g = groups_of(beam, code, at, parts.bars, tie)
    around = _around(g, layout)
    laps = laps_of(g, layout, around)
    anchorage = g.anchorage(around)
    lengths, tails = _end_lengths(g, parts, laps, anchorage, g.anchorage(around, bent=True))
    gains = [
        (b.side, pressed_gain(b, at.x, g.bars, anchorage / g.anchorage(replace(around, pressure=b.pressure))))
        for b in bearings
    ]
    effective, reach = _effective(g, laps, lengths, tails, gains)
    return Placed(
        bars=g.bars,
        diameter=g.phi,
        area=g.area,
        y=g.y,
        bottom=g.bottom,
        layer=np.array([b.layer for b in g.bars], dtype=float),
        anchorage=anchorage,
        present=_present(g, laps),
        effective=effective,
        reach=reach,
        inside=_inside(g),
        laps=tuple(laps),
        tie=tie,
        axis=g.axis,
        side_rows=rows_at_sides(beam, layout),
        bond=(g.height, g.depth),
        around=around,
        basic=g.anchorage(),
        ends_in=lengths,
        tails=tails,
        entries=layout.bars,
        slab=slab_steel(beam, code, at, tie),
        parts=parts,
        bearings=bearings,
        unused=_unused(g),
    )


def _around(g: Groups, layout: Layout) -> Around:
    """Concrete around the ends of each group, and the stirrups across them where these are counted on."""
    beam, crossing = g.beam, None
    if beam.detailing.anchorage != "concrete" and layout.stirrups:
        crossing = crossing_of(beam, g.code, layout, g.bars, g.windows)
    cover = np.where(g.bottom, beam.cover.bottom, beam.cover.top) + g.tie
    sides = np.full(len(g.bars), beam.cover.sides + g.tie)
    return Around(g.least(g.beside), cover, sides, g.least(g.above), crossing=crossing)


def _present(g: Groups, laps: Sequence[Lap]) -> Array:
    """Area that is there, (n, g), mm2: both pieces of a lap are one bar."""
    present = np.where(g.between_ends & g.in_concrete, g.area, 0.0)
    for lap in laps:
        if lap.first != lap.second:
            over = between(g.at.x, lap.start, lap.end)
            present[over, lap.first] *= 0.5
            present[over, lap.second] *= 0.5
    return present


def _effective(
    g: Groups, laps: Sequence[Lap], lengths: Array, tails: Array, gains: Sequence[tuple[int, Array]]
) -> tuple[Array, Array]:
    """Area that is anchored, and the length of bar from each station to the nearer end, (n, g) each: an end
    is developed beyond its `lengths`, of which its `tails` and what the pressure of a bearing `gains` are
    part; near the end of a bar that stops inside a span there may be a length that is not counted on."""
    x, unused = g.at.x[:, None], _unused(g)
    from_left, from_right = x - g.start, g.end - x
    idle = _idle(g, unused, from_left < unused[:, 0], from_right < unused[:, 1])
    from_left += tails[:, 0]
    from_right += tails[:, 1]
    reach = np.minimum(from_left, from_right)
    for side, gain in gains:
        (from_left if side == 0 else from_right)[:] += gain
    from_left /= lengths[:, 0]
    from_right /= lengths[:, 1]
    # past a step of the soffit a bar is no partner of those that are there
    nothing = ~(g.between_ends & g.in_concrete)
    from_left[idle[0] | nothing] = from_right[idle[1] | nothing] = 0.0
    effective = _without_false_laps(g, from_left, from_right)
    for lap in laps:  # and no more than one, however long the lap is
        if lap.first != lap.second:
            pair, over = [lap.first, lap.second], between(g.at.x, lap.start, lap.end)
            both = effective[over, pair[0]] + effective[over, pair[1]]
            effective[over, pair] *= np.minimum(g.area[pair].max() / np.maximum(both, 1e-9), 1.0)[:, None]
    effective[_at_bent_ends(g, tails)] = 0.0
    return effective, reach


def _inside(g: Groups) -> Mask:
    """Whether a group lies in the concrete all along, (g,): within a support's width it may go on past a step
    of the soffit, and beyond the ends of the beam only into what holds it there."""
    beam, (low, high) = g.beam, g.beam.ends
    outside = g.between_ends & ~g.in_concrete & ~_over_support(beam, g.at)[:, None]
    free_left = beam.supports[0].fixed and beam.spans[0].left is not None
    free_right = beam.supports[-1].fixed and beam.spans[-1].right is not None
    inside = ~outside.any(axis=0)
    inside &= (g.start >= low + beam.cover.sides - 1.0) | free_left
    inside &= (g.end <= high - beam.cover.sides + 1.0) | free_right
    return np.asarray(inside)


def _end_lengths(
    g: Groups, parts: Parts, laps: Sequence[Lap], anchorage: Array, along: Array
) -> tuple[Array, Array]:
    """Length beyond which each end is developed, and what its tail gives of it, (g, 2): a hook's own length
    where the code has one, the anchorage `along` bends where it has none, a lap's, and past the bend of a
    bent-up bar the longer of the two faces."""
    bars, tails, hooks = g.bars, g.tails, hooks_of(g)
    bent = np.array([[kind in ("bend", "hook") for kind in b.ends] for b in bars], dtype=bool).reshape(-1, 2)
    if hooks is not None:
        lengths, tails = np.where(bent, hooks, anchorage[:, None]), np.where(bent, 0.0, tails)
    else:
        lengths = np.where(bent, along[:, None], anchorage[:, None])
    for own in parts.own.values():
        for a, b in itertools.pairwise(own):
            lengths[a, 1] = lengths[b, 0] = max(anchorage[a], anchorage[b])
    for lap in laps:
        if bars[lap.first].ends[1] == "lap":
            lengths[lap.first, 1] = max(lengths[lap.first, 1], lap.required)
        if bars[lap.second].ends[0] == "lap":
            lengths[lap.second, 0] = max(lengths[lap.second, 0], lap.required)
    return lengths, tails


def developed(p: Placed, face: float, sign: float, bottom: bool) -> tuple[float, float]:
    """Area and number of the bars of a face that develop their yield beyond x = `face`, to the left (`sign`
    -1) or right of it: by their length or their hook; bars that go on by a lap count."""
    area = number = 0.0
    side = 1 if sign > 0.0 else 0
    for g, bar in enumerate(p.bars):
        if bool(p.bottom[g]) != bottom or not bar.start < face < bar.end:
            continue
        past = sign * ((bar.end if sign > 0.0 else bar.start) - face)
        if bar.ends[side] == "lap" or past + float(p.tails[g, side]) >= float(p.ends_in[g, side]) - 1.0:
            area, number = area + float(p.area[g]), number + bar.count
    return area, number


def rows_at_sides(beam: Beam, layout: Layout) -> tuple[int, ...]:
    """By span the rows of side bars that its clear length has all along."""
    result = []
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        own = sorted((s for s in layout.sides if s.start < high and s.end > low), key=lambda s: s.start)
        reach = own[0].start if own else low
        for s in own:
            reach = max(reach, s.end) if s.start <= reach + 1.0 else reach
        throughout = (
            bool(own)
            and reach >= high - beam.cover.sides - 60.0
            and own[0].start <= low + beam.cover.sides + 60.0
        )
        result.append(min(s.rows for s in own) if throughout else 0)
    return tuple(result)


def _unused(g: Groups) -> Array:
    """Lengths at both ends (g, 2) that do not count: none at laps, in supports, at free tips."""
    every = zip(g.bars, g.phi.tolist(), g.axis.tolist(), strict=True)
    return np.array([unused_at(g.beam, g.code, bar, phi, axis) for bar, phi, axis in every]).reshape(-1, 2)


def _idle(g: Groups, unused: Array, left: Mask, right: Mask) -> tuple[Mask, Mask]:
    """Where the ends of bars do not count, (n, g) each: at both stations about a place, too short for a
    station of its own, where one bar counts no longer and the next one not yet."""
    at, last, first = g.at, g.end - unused[:, 1], g.start + unused[:, 0]
    after = np.searchsorted(at.x, last, side="right")
    for i in np.flatnonzero(unused[:, 1] > 0.0).tolist():
        k = int(after[i])
        station = at.x[min(k, len(at) - 1)]
        near = (unused[:, 0] > 0.0) & (g.bottom == g.bottom[i]) & (first > last[i]) & (first < station)
        if near.any():
            right[max(k - 1, 0) : k + 1, i] = True
            left[max(k - 1, 0) : k + 1, near] = True
    return left, right


def _at_bent_ends(g: Groups, tails: Array) -> Mask:
    """(n, g): stations next to a bent end that stands inside the beam, where steel stops at once and not by a
    ramp.

    Between two bent ends there may be a gap that no station lies in.
    """
    x, (low, high) = g.at.x, g.beam.design_range
    before = np.concatenate([x[:1], x[:-1]])[:, None]
    after = np.concatenate([x[1:], x[-1:]])[:, None]
    result = np.zeros((len(x), len(g.bars)), dtype=bool)
    for place, tail in ((g.start, tails[:, 0]), (g.end, tails[:, 1])):
        inside = (tail > 0.0) & (place > low) & (place < high)
        result |= inside & (before <= place) & (place <= after)
    return result


def _over_support(beam: Beam, at: Stations) -> Mask:
    near = [np.abs(at.x - s.x) <= 0.5 * s.width + 1e-6 for s in beam.supports]
    return np.asarray(np.any(near, axis=0))


def _without_false_laps(g: Groups, from_left: Array, from_right: Array) -> Array:
    """Effective areas, where two bars that merely stop past each other do not add up.

    Each may be anchored for itself; but where neither is anchored in full towards the end that it turns to
    the other, the sum of both would be a lap shorter than a lap must be. There only the larger counts; of
    equal ones that with the lesser lever about the middle of the section.
    """
    bars, area, lever = g.bars, g.area, np.abs(g.y - 0.5 * g.at.depth[:, None])
    share = np.minimum(from_left, from_right)
    np.clip(share, 0.0, 1.0, out=share)
    effective = share * area
    for face in ("bottom", "top"):
        order = sorted((i for i, b in enumerate(bars) if b.face == face), key=lambda i: bars[i].start)
        for place, i in enumerate(order):
            for j in order[place + 1 :]:
                a, b = bars[i], bars[j]
                if b.start > a.end:
                    break
                if "lap" in (a.ends[1], b.ends[0]) or b.end <= a.end:
                    continue
                over = between(g.at.x, b.start, a.end)
                rows = over.start + np.flatnonzero((from_right[over, i] < 1.0) & (from_left[over, j] < 1.0))
                more = share[rows, i] * area[i] - share[rows, j] * area[j]
                equal = np.abs(more) <= 1e-6 * area[i]
                smaller = np.where(np.where(equal, lever[rows, i] > lever[rows, j], more < 0.0), i, j)
                effective[rows, smaller] = 0.0
    return effective
