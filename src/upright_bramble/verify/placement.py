"""Bars at stations: where each group lies, how much of it is there, and how much of that is anchored."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from upright_bramble.analysis import Stations
from upright_bramble.analysis.bent_up import Parts, axis_of, parts_of
from upright_bramble.analysis.crossing import crossing_of
from upright_bramble.analysis.flanges import bar_width
from upright_bramble.analysis.side_bars import bar_tail
from upright_bramble.analysis.slab import SlabSteel, slab_steel
from upright_bramble.beam import Bar, Beam, Layout, lapped_pairs, lapped_share
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Around, Crossing
from upright_bramble.errors import LayoutError
from upright_bramble.section.arrays import Array, Mask, between, compact
from upright_bramble.verify.bearing import Bearing, pressed_gain

DEVELOPING = 50.0  # diameters from an end inwards over which the neighbours of a bar count
ALONE = 1e4  # mm: clear distance of a bar that has none beside it


@dataclass(frozen=True)
class Lap:
    """Two groups that carry each other's force on: from `start` to `end`, with the length `required` by the
    code where this `share` of the face's bars is lapped at one place."""

    first: int
    second: int
    start: float
    end: float
    required: float
    share: float = 1.0
    beside: float = 0.0
    """Clear distance between the laps side by side, mm."""
    above: float = 0.0
    """To the next row, mm."""
    crossing: Crossing | None = None
    """Stirrups across both groups over the lap, where they are counted on."""


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
    side_rows: int = 0
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


def stirrup_diameter(code: DesignCode, layout: Layout, beam: Beam) -> float:
    """The thickest stirrup of the layout: bars lie inside it."""
    sizes = [z.size for z in layout.stirrups] or [beam.detailing.stirrup_bars[0]]
    return max(_diameter(code, size) for size in sizes)


def _diameter(code: DesignCode, size: str) -> float:
    if size not in code.sizes:
        raise LayoutError(f"'{size}' is not a valid bar size (valid: {', '.join(code.sizes)})")
    return code.sizes[size].diameter


def home_span(beam: Beam, bar: Bar) -> int:
    """The span that a bar belongs to: where its middle lies."""
    middle = 0.5 * (bar.start + bar.end)
    ends = np.array([s.end for s in beam.spans])
    return min(int(np.searchsorted(ends, middle)), len(ends) - 1)


def place(
    beam: Beam, code: DesignCode, layout: Layout, at: Stations, bearings: tuple[Bearing, ...] = ()
) -> Placed:
    """Bars at stations; the pressure of the `bearings` that are counted on shortens anchorages over them.

    Raises LayoutError for sizes that the code's catalogue does not have.
    """
    tie = stirrup_diameter(code, layout, beam)
    for entry in layout.bars:
        _diameter(code, entry.size)
    parts = parts_of(beam, code, layout.bars, tie)
    bars = parts.bars
    phi = np.array([_diameter(code, b.size) for b in bars])
    bottom = np.array([b.face == "bottom" for b in bars], dtype=bool)
    from_face = np.array([axis_of(beam, code, bars, i, tie) for i in range(len(bars))])
    homes = [home_span(beam, b) for b in bars]
    soffits = {index: soffit(beam, at, index) for index in set(homes)}
    y = np.empty((len(at), len(bars)))
    for g, (bar, a) in enumerate(zip(bars, from_face, strict=True)):
        y[:, g] = soffits[homes[g]] - a if bar.face == "bottom" else a
    # in a taper the bond condition is that of the greatest depth: poor where in doubt
    home_depth = np.array([beam.spans[home].deepest for home in homes])
    height = np.where(bottom, from_face, home_depth - from_face)
    clear = _clear_beside(beam, at, bars, phi, tie)
    cover = np.where(bottom, beam.cover.bottom, beam.cover.top) + tie
    near = np.array([_least_near(at, clear[:, g], *w) for g, w in enumerate(_end_windows(bars, phi))])
    levels = _clear_above(at, bars, phi, from_face)
    above = np.array([_least_near(at, levels[:, g], *w) for g, w in enumerate(_end_windows(bars, phi))])
    crossing = None
    if beam.detailing.anchorage != "concrete" and layout.stirrups:
        crossing = crossing_of(beam, code, layout, bars, _end_windows(bars, phi))
    around = Around(near, cover, np.full(len(bars), beam.cover.sides + tie), above, crossing=crossing)
    basic = code.bond.anchorage(beam.concrete, beam.bars, phi, height, home_depth)
    anchorage = code.bond.anchorage(beam.concrete, beam.bars, phi, height, home_depth, around)
    laps = _laps(bars, code.bond.lap(beam.concrete, beam.bars, phi, height, home_depth))
    laps = [lap for lap in laps if lap.first == lap.second or _level(at, y, phi, lap)] + [
        Lap(lap.first, lap.first, lap.end, lap.end, lap.required)
        for lap in laps
        if lap.first != lap.second and not _level(at, y, phi, lap)
    ]
    pairs = lapped_pairs(bars)
    laps = [
        replace(lap, beside=_beside_lap(at, clear, lap), above=_beside_lap(at, levels, lap)) for lap in laps
    ]
    if crossing is not None:
        laps = [
            replace(lap, crossing=crossing_of(beam, code, layout, bars, [[(lap.start, lap.end)]] * len(bars)))
            for lap in laps
        ]
    laps = [_with_share(lap, bars, pairs, (beam, code), phi, height, home_depth, around) for lap in laps]
    start, end = np.array([b.start for b in bars]), np.array([b.end for b in bars])
    tails = np.array(
        [[_tail(code, b, side, p) for side in (0, 1)] for b, p in zip(bars, phi, strict=True)]
    ).reshape(-1, 2)
    along = code.bond.anchorage(beam.concrete, beam.bars, phi, height, home_depth, around, bent=True)
    lengths, tails = _end_lengths(
        parts, laps, anchorage, along, tails, _hooks(beam, code, at, bars, phi, tie)
    )
    x = at.x[:, None]
    limit_low = beam.cover.bottom + tie + 0.5 * phi
    within = (y <= at.depth[:, None] - np.where(bottom, limit_low, 0.0) + 1e-6) & (y > 0.0)
    here = (x >= start - 1e-6) & (x <= end + 1e-6) & within
    # near the end of a bar that stops inside a span there may be a length that is not counted on
    unused = _unused(beam, code, bars, phi, from_face)
    from_left, from_right = x - start, end - x
    idle_left, idle_right = _idle(at, bars, unused, from_left < unused[:, 0], from_right < unused[:, 1])
    from_left += tails[:, 0]
    from_right += tails[:, 1]
    reach = np.minimum(from_left, from_right)
    for bearing in bearings:
        pressed = replace(around, pressure=bearing.pressure)
        shorter = code.bond.anchorage(beam.concrete, beam.bars, phi, height, home_depth, pressed)
        gain = pressed_gain(bearing, at.x, bars, anchorage / shorter)
        (from_left if bearing.side == 0 else from_right)[:] += gain
    from_left /= lengths[:, 0]
    from_right /= lengths[:, 1]
    from_left[idle_left] = 0.0
    from_right[idle_right] = 0.0
    area = np.array([b.count * code.sizes[b.size].area for b in bars])
    present = np.where(here, area, 0.0)
    for lap in laps:  # both pieces of a lap are one bar
        if lap.first != lap.second:
            over = between(at.x, lap.start, lap.end)
            present[over, lap.first] *= 0.5
            present[over, lap.second] *= 0.5
    # within a support's width a bar may go on past a step of the soffit: the support is there
    outside = (x >= start - 1e-6) & (x <= end + 1e-6) & ~within & ~_over_support(beam, at)[:, None]
    low, high = beam.ends
    free_left = beam.supports[0].fixed and beam.spans[0].left is not None
    free_right = beam.supports[-1].fixed and beam.spans[-1].right is not None
    ok = ~outside.any(axis=0)
    ok &= (start >= low + beam.cover.sides - 1.0) | free_left
    ok &= (end <= high - beam.cover.sides + 1.0) | free_right
    layer = np.array([b.layer for b in bars], dtype=float)
    effective = _without_false_laps(
        bars, at, from_left, from_right, area, np.abs(y - 0.5 * at.depth[:, None])
    )
    effective[~here] = 0.0
    del from_left, from_right, idle_left, idle_right
    for lap in laps:  # and no more than one, however long the lap is
        if lap.first != lap.second:
            pair, over = [lap.first, lap.second], between(at.x, lap.start, lap.end)
            both = effective[over, pair[0]] + effective[over, pair[1]]
            effective[over, pair] *= np.minimum(area[pair].max() / np.maximum(both, 1e-9), 1.0)[:, None]
    effective[_at_bent_ends(beam, at, start, end, tails)] = 0.0
    rows = rows_at_sides(beam, layout)
    return Placed(
        bars,
        phi,
        area,
        y,
        bottom,
        layer,
        anchorage,
        present,
        effective,
        reach,
        ok,
        tuple(laps),
        tie,
        from_face,
        rows,
        (height, home_depth),
        around,
        basic,
        lengths,
        tails,
        layout.bars,
        slab_steel(beam, code, at, tie),
        parts,
        bearings,
    )


def _end_lengths(
    parts: Parts, laps: list[Lap], anchorage: Array, along: Array, tails: Array, hooks: Array | None
) -> tuple[Array, Array]:
    """Length beyond which each end is developed, and what its tail gives of it, (g, 2): a hook's own length
    where the code has one, the anchorage `along` bends where it has none, a lap's, and past the bend of a
    bent-up bar the longer of the two faces."""
    bars = parts.bars
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


def _clear_beside(beam: Beam, at: Stations, bars: tuple[Bar, ...], phi: Array, tie: float) -> Array:
    """Clear distance of the bars in the row of each group, (n, g): all of the row that is there, evenly in
    the web, lapped pieces touching; endless for one bar alone."""
    x = at.x[:, None]
    result = np.full((len(at), len(bars)), np.inf)
    # bars may lie beside the web there; here they are taken to lie in it
    flanged = at.sections.flange_depth > 0.0
    rooms = {
        face: np.where(flanged, at.width, bar_width(at, face)) - 2.0 * (beam.cover.sides + tie)
        for face in ("bottom", "top")
    }
    pairs = lapped_pairs(bars)
    rows: dict[tuple[str, int], list[int]] = {}
    for g, b in enumerate(bars):
        rows.setdefault((b.face, b.layer), []).append(g)
    for (face, _), own in rows.items():
        start, end, count = (
            np.array([getattr(bars[g], name) for g in own], dtype=float) for name in ("start", "end", "count")
        )
        here = (x >= start - 1.0) & (x <= end + 1.0)
        number, taken = (here * count).sum(axis=1), (here * count * phi[own]).sum(axis=1)
        for i, j in pairs:
            if i in own:
                number = number - np.where(between_mask(at.x, bars[j].start, bars[i].end), bars[i].count, 0.0)
        clear = np.where(
            number > 1.5, np.maximum(rooms[face] - taken, 0.0) / np.maximum(number - 1.0, 1.0), np.inf
        )
        result[:, own] = np.where(here, clear[:, None], np.inf)
    return result


def _clear_above(at: Stations, bars: tuple[Bar, ...], phi: Array, from_face: Array) -> Array:
    """Clear distance of each group to the nearest other row of its face that is there, (n, g); endless where
    there is none."""
    result = np.full((len(at), len(bars)), np.inf)
    edges: dict[
        tuple[str, int], tuple[Array, Array]
    ] = {}  # of each row: the least and the greatest distance of its bars' edges from the face
    for g, b in enumerate(bars):
        here = (at.x >= b.start - 1.0) & (at.x <= b.end + 1.0)
        low, high = edges.setdefault((b.face, b.layer), (np.full(len(at), np.inf), np.full(len(at), -np.inf)))
        half = 0.5 * float(phi[g])
        np.minimum(low, float(from_face[g]) - half, out=low, where=here)
        np.maximum(high, float(from_face[g]) + half, out=high, where=here)
    for g, b in enumerate(bars):
        here, half = (at.x >= b.start - 1.0) & (at.x <= b.end + 1.0), 0.5 * float(phi[g])
        for (face, layer), (low, high) in edges.items():
            if face != b.face or layer == b.layer:
                continue
            apart = (
                low - (float(from_face[g]) + half) if layer > b.layer else float(from_face[g]) - half - high
            )
            result[:, g] = np.where(here, np.minimum(result[:, g], np.maximum(apart, 0.0)), np.inf)
    return result


def between_mask(x: Array, low: float, high: float) -> Mask:
    return np.asarray((x >= low) & (x <= high))


def _end_windows(bars: tuple[Bar, ...], phi: Array) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Where each bar is being anchored, from either end inwards."""
    result = []
    for b, d in zip(bars, phi.tolist(), strict=True):
        length = min(DEVELOPING * d, b.end - b.start)
        result.append(((b.start, b.start + length), (b.end - length, b.end)))
    return result


def _least_near(at: Stations, clear: Array, *windows: tuple[float, float]) -> float:
    """The least of a group's clear distances over stretches of the beam, with the station before and after
    each."""
    least = np.inf
    for low, high in windows:
        first, last = (
            int(np.searchsorted(at.x, low, side="right")) - 1,
            int(np.searchsorted(at.x, high, side="left")),
        )
        least = min(least, float(clear[max(first, 0) : last + 1].min(initial=np.inf)))
    return ALONE if not np.isfinite(least) else least


def _beside_lap(at: Stations, clear: Array, lap: Lap) -> float:
    return min(_least_near(at, clear[:, g], (lap.start, lap.end)) for g in (lap.first, lap.second))


def _hooks(
    beam: Beam, code: DesignCode, at: Stations, bars: tuple[Bar, ...], phi: Array, tie: float
) -> Array | None:
    """Length that each bent end takes (g, 2), by the distance of the bars of its row there, its side cover,
    and the column it ends in."""
    if code.bond.hook(beam.concrete, beam.bars, phi) is None:
        return None
    apart, core = np.zeros((len(bars), 2)), np.zeros((len(bars), 2), dtype=bool)
    first_of = {j: i for i, j in lapped_pairs(bars)}
    rows: dict[tuple[str, int], list[int]] = {}
    for k, b in enumerate(bars):
        rows.setdefault((b.face, b.layer), []).append(k)
    cover = beam.cover.sides + tie
    for g, bar in enumerate(bars):
        for side, x in enumerate((bar.start, bar.end)):
            i = int(np.abs(at.x - x).argmin())
            low, high = sorted((x, x + (40.0 if side == 0 else -40.0) * float(phi[g])))
            near = [k for k in rows[bar.face, bar.layer] if bars[k].start < high and bars[k].end > low]
            row = sum(bars[k].count for k in near if first_of.get(k) not in near)
            taken = sum(bars[k].count * float(phi[k]) for k in near)  # both pieces of a lap
            alone = float(at.width[i]) - 2.0 * cover - phi[g]
            clear = float(at.width[i]) - 2.0 * cover - taken
            apart[g, side] = alone if row < 2 else max(clear, 0.0) / (row - 1) + phi[g]
            core[g, side] = any(s.columns and abs(x - s.x) <= 0.5 * s.width for s in beam.supports)
    apart = np.repeat(apart.min(axis=1, keepdims=True), 2, axis=1)  # the nearer ends decide for both
    result = [
        code.bond.hook(beam.concrete, beam.bars, phi, apart[:, k], np.full(len(bars), cover), core[:, k])
        for k in (0, 1)
    ]
    return np.stack([v for v in result if v is not None], axis=1)


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


def rows_at_sides(beam: Beam, layout: Layout) -> int:
    """Rows of side bars that every clear span has all along."""
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
    return min(result)


def _unused(beam: Beam, code: DesignCode, bars: tuple[Bar, ...], phi: Array, from_face: Array) -> Array:
    """Lengths at both ends (g, 2) that do not count: none at laps, in supports, at free tips."""
    result = np.zeros((len(bars), 2))
    clear = [beam.clear(i) for i in range(len(beam.spans))]
    for g, bar in enumerate(bars):
        for side, x in enumerate((bar.start, bar.end)):
            index = next((i for i, (low, high) in enumerate(clear) if low < x < high), None)
            if index is None or bar.ends[side] == "lap":
                continue
            span = beam.spans[index]
            tip = (span.left is None and side == 0) or (span.right is None and side == 1)
            if not (tip and min(abs(x - beam.ends[0]), abs(x - beam.ends[1])) < 100.0):
                d = float(span.depths(x - span.start)) - float(from_face[g])
                result[g, side] = float(code.curtailment.unused_end(float(phi[g]), d))
    return result


def _idle(at: Stations, bars: tuple[Bar, ...], unused: Array, left: Mask, right: Mask) -> tuple[Mask, Mask]:
    """Where the ends of bars do not count, (n, g) each: at both stations about a place, too short for a
    station of its own, where one bar counts no longer and the next one not yet."""
    last = np.array([b.end for b in bars]) - unused[:, 1]
    first = np.array([b.start for b in bars]) + unused[:, 0]
    bottom = np.array([b.face == "bottom" for b in bars], dtype=bool)
    after = np.searchsorted(at.x, last, side="right")
    for i in np.flatnonzero(unused[:, 1] > 0.0).tolist():
        k = int(after[i])
        station = at.x[min(k, len(at) - 1)]
        near = (unused[:, 0] > 0.0) & (bottom == bottom[i]) & (first > last[i]) & (first < station)
        if near.any():
            right[max(k - 1, 0) : k + 1, i] = True
            left[max(k - 1, 0) : k + 1, near] = True
    return left, right


def _at_bent_ends(beam: Beam, at: Stations, start: Array, end: Array, tails: Array) -> Mask:
    """(n, g): stations next to a bent end that stands inside the beam, where steel stops at once and not by a
    ramp.

    Between two bent ends there may be a gap that no station lies in.
    """
    before = np.concatenate([at.x[:1], at.x[:-1]])[:, None]
    after = np.concatenate([at.x[1:], at.x[-1:]])[:, None]
    low, high = beam.design_range
    result = np.zeros((len(at), len(start)), dtype=bool)
    for place, tail in ((start, tails[:, 0]), (end, tails[:, 1])):
        inside = (tail > 0.0) & (place > low) & (place < high)
        result |= inside & (before <= place) & (place <= after)
    return result


def _over_support(beam: Beam, at: Stations) -> Mask:
    near = [np.abs(at.x - s.x) <= 0.5 * s.width + 1e-6 for s in beam.supports]
    return np.asarray(np.any(near, axis=0))


def soffit(beam: Beam, at: Stations, home: int) -> Array:
    """Depth of the soffit (n,) that bottom bars of a span follow: along spans that join without a step; past
    a step they go straight on."""
    first = last = home
    while first and _even(beam, first - 1):
        first -= 1
    while last < len(beam.spans) - 1 and _even(beam, last):
        last += 1
    inside = (at.span >= first) & (at.span <= last)
    ends = beam.spans[first].depths(0.0), beam.spans[last].depths(beam.spans[last].length)
    return np.where(inside, at.depth, np.where(at.span < first, ends[0], ends[1]))


def _even(beam: Beam, index: int) -> bool:
    """Whether the soffit goes on without a step from span `index` to the next."""
    span = beam.spans[index]
    return bool(abs(span.depths(span.length) - beam.spans[index + 1].depths(0.0)) < 1.0)


def _tail(code: DesignCode, bar: Bar, side: int, phi: float) -> float:
    return bar_tail(code, phi, bar.ends[side], bar.legs[side])


def _laps(bars: tuple[Bar, ...], required: Array) -> list[Lap]:
    """Ends marked 'lap' with the bars that carry on beside them; a lap without a partner has length 0."""
    pairs = lapped_pairs(bars)
    result = [Lap(i, j, bars[j].start, bars[i].end, float(max(required[i], required[j]))) for i, j in pairs]
    for i, a in enumerate(bars):
        if a.ends[1] == "lap" and all(i != first for first, _ in pairs):
            result.append(Lap(i, i, a.end, a.end, float(required[i])))
        if a.ends[0] == "lap" and all(i != second for _, second in pairs):
            result.append(Lap(i, i, a.start, a.start, float(required[i])))
    return result


def _level(at: Stations, y: Array, phi: Array, lap: Lap) -> bool:
    """Whether two lapped groups lie at one level: their clear distance is no more than 50 mm or four
    diameters (EN 1992-1-1, 8.7.2(3))."""
    i = int(np.abs(at.x - 0.5 * (lap.start + lap.end)).argmin())
    apart = abs(float(y[i, lap.first] - y[i, lap.second])) - float(phi[lap.first])
    return bool(apart <= min(50.0, 4.0 * float(phi[lap.first])))


def _with_share(
    lap: Lap,
    bars: tuple[Bar, ...],
    pairs: list[tuple[int, int]],
    of: tuple[Beam, DesignCode],
    phi: Array,
    height: Array,
    depth: Array,
    around: Around,
) -> Lap:
    """With the share of the face's bars that is lapped there, and the length that this asks for: laps whose
    middles lie within 0.65 of it count together (EN 1992-1-1, 8.7.3)."""
    if lap.first == lap.second:
        return lap
    beam, code = of
    share = lapped_share(bars, pairs, (lap.first, lap.second), 0.65 * lap.required, code.sizes)
    two = [lap.first, lap.second]
    crossing = None if lap.crossing is None else lap.crossing.at(two)
    beside, above = np.full(2, lap.beside), np.full(2, lap.above)
    own = replace(around.at(two), beside=beside, above=above, crossing=crossing)
    lengths = code.bond.lap(beam.concrete, beam.bars, phi[two], height[two], depth[two], share, own)
    return replace(lap, share=share, required=float(lengths.max()))


def _without_false_laps(
    bars: tuple[Bar, ...], at: Stations, from_left: Array, from_right: Array, area: Array, lever: Array
) -> Array:
    """Effective areas, where two bars that merely stop past each other do not add up.

    Each may be anchored for itself; but where neither is anchored in full towards the end that it turns to
    the other, the sum of both would be a lap shorter than a lap must be. There only the larger counts; of
    equal ones that with the lesser `lever` about the middle of the section (n, groups).
    """
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
                over = between(at.x, b.start, a.end)
                rows = over.start + np.flatnonzero((from_right[over, i] < 1.0) & (from_left[over, j] < 1.0))
                more = share[rows, i] * area[i] - share[rows, j] * area[j]
                equal = np.abs(more) <= 1e-6 * area[i]
                smaller = np.where(np.where(equal, lever[rows, i] > lever[rows, j], more < 0.0), i, j)
                effective[rows, smaller] = 0.0
    return effective
