"""Bars as groups at stations: where each lies, and how far it is from those beside and above it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from upright_bramble.analysis import Stations
from upright_bramble.analysis.bent_up import axis_of
from upright_bramble.analysis.flanges import bar_width
from upright_bramble.analysis.side_bars import bar_tail
from upright_bramble.beam import Bar, Beam, Layout, lapped_pairs
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Around
from upright_bramble.errors import LayoutError
from upright_bramble.section.arrays import Array, Mask

DEVELOPING = 50.0  # diameters from an end inwards over which the neighbours of a bar count
ALONE = 1e4  # mm: clear distance of a bar that has none beside it
Window = tuple[float, float]


@dataclass(frozen=True)
class Groups:
    """Groups of bars (g,) of a beam at stations (n,), inside stirrups of diameter `tie`; all lengths in mm.

    `phi` (g,) diameters; `axis` (g,) distance of each group's axis from its face, `y` (n, g) its depth from
    the beam's top; `height` (g,) over the soffit and `depth` (g,) of the section, by which bond is judged;
    `beside` and `above` (n, g) clear distances to the next bar of the row and to the nearest other row;
    `windows` where each group is being anchored, from either end inwards.
    """

    beam: Beam
    code: DesignCode
    at: Stations
    bars: tuple[Bar, ...]
    tie: float
    phi: Array
    bottom: Mask
    axis: Array
    y: Array
    height: Array
    depth: Array
    beside: Array
    above: Array
    windows: Sequence[tuple[Window, Window]]

    @cached_property
    def start(self) -> Array:
        return np.array([b.start for b in self.bars])

    @cached_property
    def end(self) -> Array:
        return np.array([b.end for b in self.bars])

    @cached_property
    def area(self) -> Array:
        return np.array([b.count * self.code.sizes[b.size].area for b in self.bars])

    @cached_property
    def tails(self) -> Array:
        """Lengths of bar beyond the outer limits, (g, 2)."""
        every = [
            [bar_tail(self.code, phi, b.ends[side], b.legs[side]) for side in (0, 1)]
            for b, phi in zip(self.bars, self.phi.tolist(), strict=True)
        ]
        return np.array(every).reshape(-1, 2)

    @cached_property
    def pairs(self) -> list[tuple[int, int]]:
        """Groups that are lapped with each other."""
        return lapped_pairs(self.bars)

    @cached_property
    def between_ends(self) -> Mask:
        """(n, g)"""
        x = self.at.x[:, None]
        return np.asarray((x >= self.start - 1e-6) & (x <= self.end + 1e-6))

    @cached_property
    def in_concrete(self) -> Mask:
        """Where the section is deep enough for a group that follows the soffit of its own span, (n, g)."""
        limit_low = self.beam.cover.bottom + self.tie + 0.5 * self.phi
        low = self.at.depth[:, None] - np.where(self.bottom, limit_low, 0.0)
        return np.asarray((self.y <= low + 1e-6) & (self.y > 0.0))

    def anchorage(self, around: Around | None = None, *, bent: bool = False) -> Array:
        """Length for full yield, (g,), by the code at hand; along bends with `bent`."""
        beam = self.beam
        return np.asarray(
            self.code.bond.anchorage(
                beam.concrete, beam.bars, self.phi, self.height, self.depth, around, bent=bent
            )
        )

    def least(self, clear: Array) -> Array:
        """The least of clear distances (n, g) where each group is being anchored, (g,)."""
        own = (least_near(self.at, clear[:, g], *w) for g, w in enumerate(self.windows))
        return np.fromiter(own, dtype=float, count=len(self.bars))


def groups_of(beam: Beam, code: DesignCode, at: Stations, bars: tuple[Bar, ...], tie: float) -> Groups:
    """All bars follow the soffit of the span that they belong to."""
    phi = np.array([diameter_of(code, b.size) for b in bars])
    bottom = np.array([b.face == "bottom" for b in bars], dtype=bool)
    axis = np.array([axis_of(beam, code, bars, i, tie) for i in range(len(bars))])
    homes = [home_span(beam, b) for b in bars]
    soffits = {index: soffit(beam, at, index) for index in set(homes)}
    y = np.empty((len(at), len(bars)))
    for g, (bar, a) in enumerate(zip(bars, axis, strict=True)):
        y[:, g] = soffits[homes[g]] - a if bar.face == "bottom" else a
    # in a taper the bond condition is that of the greatest depth: poor where in doubt
    depth = np.array([beam.spans[home].deepest for home in homes])
    height = np.where(bottom, axis, depth - axis)
    beside = _clear_beside(beam, at, bars, phi, tie)
    above = _clear_above(at, bars, phi, axis)
    windows = _end_windows(bars, phi)
    return Groups(
        beam=beam,
        code=code,
        at=at,
        bars=bars,
        tie=tie,
        phi=phi,
        bottom=bottom,
        axis=axis,
        y=y,
        height=height,
        depth=depth,
        beside=beside,
        above=above,
        windows=windows,
    )


def stirrup_diameter(code: DesignCode, layout: Layout, beam: Beam) -> float:
    """The thickest stirrup of the layout: bars lie inside it."""
    sizes = [z.size for z in layout.stirrups] or [beam.detailing.stirrup_bars[0]]
    return max(diameter_of(code, size) for size in sizes)


def diameter_of(code: DesignCode, size: str) -> float:
    if size not in code.sizes:
        raise LayoutError(f"'{size}' is not a valid bar size (valid: {', '.join(code.sizes)})")
    return code.sizes[size].diameter


def home_span(beam: Beam, bar: Bar) -> int:
    """The span that a bar belongs to: where its middle lies."""
    middle = 0.5 * (bar.start + bar.end)
    ends = np.array([s.end for s in beam.spans])
    return min(int(np.searchsorted(ends, middle)), len(ends) - 1)


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
                number = number - np.where(
                    (at.x >= bars[j].start) & (at.x <= bars[i].end), bars[i].count, 0.0
                )
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


def _end_windows(bars: tuple[Bar, ...], phi: Array) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Where each bar is being anchored, from either end inwards."""
    result = []
    for b, d in zip(bars, phi.tolist(), strict=True):
        length = min(DEVELOPING * d, b.end - b.start)
        result.append(((b.start, b.start + length), (b.end - length, b.end)))
    return result


def least_near(at: Stations, clear: Array, *windows: tuple[float, float]) -> float:
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


def hooks_of(g: Groups) -> Array | None:
    """Length that each bent end takes (g, 2), by the distance of the bars of its row there, its side cover,
    and the column it ends in."""
    beam, code, at, bars, phi = g.beam, g.code, g.at, g.bars, g.phi
    if code.bond.hook(beam.concrete, beam.bars, phi) is None:
        return None
    apart, core = np.zeros((len(bars), 2)), np.zeros((len(bars), 2), dtype=bool)
    first_of = {j: i for i, j in g.pairs}
    rows: dict[tuple[str, int], list[int]] = {}
    for k, b in enumerate(bars):
        rows.setdefault((b.face, b.layer), []).append(k)
    cover = beam.cover.sides + g.tie
    for own, bar in enumerate(bars):
        for side, x in enumerate((bar.start, bar.end)):
            i = int(np.abs(at.x - x).argmin())
            low, high = sorted((x, x + (40.0 if side == 0 else -40.0) * float(phi[own])))
            near = [k for k in rows[bar.face, bar.layer] if bars[k].start < high and bars[k].end > low]
            row = sum(bars[k].count for k in near if first_of.get(k) not in near)
            taken = sum(bars[k].count * float(phi[k]) for k in near)  # both pieces of a lap
            alone = float(at.width[i]) - 2.0 * cover - phi[own]
            clear = float(at.width[i]) - 2.0 * cover - taken
            apart[own, side] = alone if row < 2 else max(clear, 0.0) / (row - 1) + phi[own]
            core[own, side] = any(s.columns and abs(x - s.x) <= 0.5 * s.width for s in beam.supports)
    apart = np.repeat(apart.min(axis=1, keepdims=True), 2, axis=1)  # the nearer ends decide for both
    result = [
        code.bond.hook(beam.concrete, beam.bars, phi, apart[:, k], np.full(len(bars), cover), core[:, k])
        for k in (0, 1)
    ]
    return np.stack([v for v in result if v is not None], axis=1)
