"""Where along the beam everything is evaluated."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.flanges import NEAR_SUPPORT, Sections, sections_at
from upright_bramble.beam import Beam, Load
from upright_bramble.section.arrays import Array, Index

PER_SPAN = 40
JUMPS = ("point", "couple", "torque")  # loads that stand at one place


@dataclass(frozen=True)
class Stations:
    """Places in order of x. Each span has its own first and last station, so that a support appears twice;
    a discontinuity inside a span appears twice too (`side` -1 just left of it, +1 just right of it)."""

    x: Array
    span: Index
    local: Array
    side: Index
    sections: Sections
    first: Index
    """Index of the first station of each span, and the count of all at the end."""

    def __len__(self) -> int:
        return len(self.x)

    @property
    def width(self) -> Array:
        """Of the web."""
        return self.sections.width

    @property
    def depth(self) -> Array:
        return self.sections.depth

    def of(self, span: int) -> slice:
        return slice(int(self.first[span]), int(self.first[span + 1]))


def place_stations(beam: Beam, extra: Mapping[int, Sequence[float]] | None = None) -> Stations:
    """An even grid, faces, a distance d (as 0.9 h) from faces, load starts and ends; point loads on both
    sides.

    `extra` adds local places by span: peaks between the stations.
    """
    local: list[Array] = []
    side: list[Index] = []
    on_span: list[list[Load]] = [[] for _ in beam.spans]
    for action in beam.actions:
        for load in beam.loads(action):
            on_span[load.span].append(load)
    for index, span in enumerate(beam.spans):
        loads = on_span[index]
        jumps = {load.start for load in loads if load.shape in JUMPS}
        jumps = {a for a in jumps if 1e-6 < a < span.length - 1e-6}
        face_left, face_right = (f - span.start for f in beam.clear(index))
        others = {face_left, face_right, *span.hinges}
        others.add(face_left + 0.9 * span.depths(face_left))
        others.add(face_right - 0.9 * span.depths(face_right))
        if span.reach is not None and len(set(span.reach)) > 1:
            others |= {NEAR_SUPPORT * span.length, (1.0 - NEAR_SUPPORT) * span.length}
        if span.left is None:
            others.add(beam.design_range[0])
        if span.right is None:
            others.add(beam.design_range[1] - span.start)
        others |= {p for load in loads if load.shape not in JUMPS for p in (load.start, load.end)}
        others |= set((extra or {}).get(index, ()))
        grid = np.linspace(0.0, span.length, PER_SPAN + 1)
        wanted = np.concatenate([grid, np.array([p for p in others if 0.0 < p < span.length])])
        places, sides = with_jumps(wanted, jumps)
        local.append(places)
        side.append(sides)
    return assemble(beam, local, side)


def by_span(beam: Beam, places: Sequence[float]) -> dict[int, list[float]]:
    """Places along the beam by the span that they lie in, from its left end."""
    result: dict[int, list[float]] = {}
    for x in places:
        for index, span in enumerate(beam.spans):
            if span.start < x < span.end:
                result.setdefault(index, []).append(x - span.start)
    return result


def with_jumps(places: Array, jumps: set[float]) -> tuple[Array, Index]:
    """Places in order with a pair of stations at each jump, and their sides: -1 just left of it, +1 just
    right, 0 else."""
    for a in jumps:
        # the place just past a bar that stops at the jump stays: 0.5 mm beyond it
        places = places[np.abs(places - a) > 0.499]
    single, pairs = np.unique(np.round(places, 6)), np.array(sorted(jumps))
    everywhere = np.concatenate([single, pairs, pairs])
    sides = np.concatenate([np.zeros(len(single)), -np.ones(len(pairs)), np.ones(len(pairs))])
    order = np.lexsort((sides, everywhere))
    return everywhere[order], sides[order].astype(np.int64)


def assemble(beam: Beam, local: list[Array], side: list[Index]) -> Stations:
    """Stations from the places and sides of each span."""
    counts = [len(p) for p in local]
    span_index = np.repeat(np.arange(len(beam.spans)), counts)
    starts = np.array([s.start for s in beam.spans])
    flat = np.concatenate(local)
    sections = sections_at(beam, span_index, flat)
    return Stations(
        x=flat + starts[span_index],
        span=span_index,
        local=flat,
        side=np.concatenate(side),
        sections=sections,
        first=np.concatenate([[0], np.cumsum(counts)]).astype(np.int64),
    )


def support_stations(beam: Beam, at: Stations, support: int) -> tuple[int, ...]:
    """Stations on a support's centreline: of the span to its left, of the span to its right."""
    result = []
    for index, span in enumerate(beam.spans):
        if span.right == support:
            result.append(int(at.first[index + 1]) - 1)
        if span.left == support:
            result.append(int(at.first[index]))
    return tuple(result)
