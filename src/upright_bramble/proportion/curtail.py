"""How long: extra bars stop where the rest suffices and they are anchored beyond; through bars lap at stock
length."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import compressed
from upright_bramble.beam import Beam, Concrete, Cover, Steel
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Around, Crossing
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.section.strength import required_steel


@dataclass(frozen=True)
class Piece:
    """One bar group along x."""

    start: float
    end: float
    ends: tuple[str, str] = ("straight", "straight")
    legs: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class Limits:
    """How far bars of a run may go, and what an end there is: 'outer' (end of the beam: bent), 'built-in'
    (fixed support: they go on into what it is fixed to), 'inner' (the run stops inside the beam: there bars
    go on as far as their anchorage requires, no further than to `beyond`). Bars that are bent at an outer end
    stay `behind` others there, mm."""

    low: float
    high: float
    kinds: tuple[str, str]
    faces: tuple[float, float]
    beyond: tuple[float, float] = (-math.inf, math.inf)
    behind: tuple[float, float] = (0.0, 0.0)

    def farthest(self, side: int) -> float:
        """That an end of a bar that is anchored may be at."""
        if self.kinds[side] == "inner":
            return self.beyond[side]
        return self.low if side == 0 else self.high

    def bent(self, side: int) -> float:
        """Where a bar that is bent at an outer end stands."""
        return self.low + self.behind[0] if side == 0 else self.high - self.behind[1]


def run_limits(beam: Beam, start: float, end: float) -> Limits:
    """Limits of a run from x `start` to `end` (centrelines or tips)."""
    low, high = beam.ends
    first, last = start <= 1e-6, end >= beam.length - 1e-6
    c = beam.cover.sides
    kinds = []
    for at_end, span, index, support in (
        (first, beam.spans[0], 0, beam.supports[0]),
        (last, beam.spans[-1], 1, beam.supports[-1]),
    ):
        held = span.left if index == 0 else span.right
        kinds.append("inner" if not at_end else "built-in" if held is not None and support.fixed else "outer")
    faces = (beam.clear(0)[0], beam.clear(len(beam.spans) - 1)[1])
    low, high = float(math.ceil(low + c)), float(math.floor(high - c))
    return Limits(low if first else start, high if last else end, (kinds[0], kinds[1]), faces)


def behind(limits: Limits, left: float, right: float, straight: tuple[bool, bool] = (False, False)) -> Limits:
    """For bars that are bent behind others at the ends of the beam, by so much at the left and the right one
    (mm), in steps of 5 mm; where `straight` ends stand behind them as well."""
    ends = [limits.low, limits.high]
    past = list(limits.behind)
    for side, more in enumerate((left, right)):
        whole = 5.0 * math.ceil(more / 5.0 - 1e-9) if limits.kinds[side] == "outer" else 0.0
        if straight[side]:
            ends[side] += whole if side == 0 else -whole
        else:
            past[side] += whole
    return replace(limits, low=ends[0], high=ends[1], behind=(past[0], past[1]))


@dataclass(frozen=True)
class Row:
    """What lies side by side: bars or pairs of lapped ones (`number`), and the width that they take without
    the gaps, mm; the spacing of the stirrups `across` them that is counted on (mm; 0: none are), and how many
    `bars` these hold, both of each pair."""

    number: float
    taken: float
    across: float = 0.0
    bars: float = 0.0


def around_of(beam: Beam, code: DesignCode, face: str, row: Row) -> Around:
    """The concrete around the bars of a row in the narrowest web, with the thickest stirrups beside it and
    the thinnest below."""
    ties = [code.sizes[s].diameter for s in beam.detailing.stirrup_bars]
    room = min(s.narrowest for s in beam.spans) - 2.0 * (beam.cover.sides + max(ties))
    beside = max(room - row.taken, 0.0) / max(row.number - 1.0, 1.0)
    cover = beam.cover.bottom if face == "bottom" else beam.cover.top
    crossing = None
    if row.across > 0.0:
        leg = min(code.sizes[s].area for s in beam.detailing.stirrup_bars)
        crossing = Crossing(leg, 2.0 * leg, row.across, row.bars, beam.stirrups.strength)
    return Around(beside, cover + min(ties), beam.cover.sides + min(ties), crossing=crossing)


def anchorage_of(beam: Beam, code: DesignCode, phi: float, face: str, row: Row | None = None) -> float:
    """Longest anchorage of a bar of this face anywhere along the beam; of a straight one beside the others of
    a `row` where that is known."""
    if row is None:
        return _anchorage_alone(
            code, beam.concrete, beam.bars, beam.cover, tuple(s.deepest for s in beam.spans), phi, face
        )
    around = around_of(beam, code, face, row)
    return float(
        np.max(code.bond.anchorage(beam.concrete, beam.bars, phi, *_heights(beam, phi, face), around))
    )


@lru_cache(maxsize=1024)
def _anchorage_alone(
    code: DesignCode,
    concrete: Concrete,
    steel: Steel,
    cover: Cover,
    depths: tuple[float, ...],
    phi: float,
    face: str,
) -> float:
    """Asked for hundreds of times in a choice of bars, of a dozen sizes and faces."""
    return float(
        np.max(
            code.bond.anchorage(concrete, steel, phi, *_heights_of(cover, np.array(depths), phi, face), None)
        )
    )


def lap_of(
    beam: Beam,
    code: DesignCode,
    phi: float,
    face: str,
    share: float = 1.0,
    row: Row | None = None,
    stress: float = 1.0,
) -> float:
    """Longest lap of a bar of this face anywhere along the beam, where this share of the bars is lapped at
    one place, at this share of their yield."""
    around = None if row is None else around_of(beam, code, face, row)
    lap = code.bond.lap(beam.concrete, beam.bars, phi, *_heights(beam, phi, face), share, around, stress)
    return float(np.max(lap))


def _heights(beam: Beam, phi: float, face: str) -> tuple[Array, Array]:
    """Heights of a bar's axis above the bottom of each span, and the depths of the spans."""
    return _heights_of(beam.cover, np.array([s.deepest for s in beam.spans]), phi, face)


def _heights_of(cover: Cover, depth: Array, phi: float, face: str) -> tuple[Array, Array]:
    axis = (cover.bottom if face == "bottom" else cover.top) + 15.0 + 0.5 * phi
    return (np.full(len(depth), axis) if face == "bottom" else depth - axis), depth


def end_depths(beam: Beam) -> tuple[float, float]:
    """Depths of the beam at its outer ends."""
    return float(beam.spans[0].depths(0.0)), float(beam.spans[-1].depths(beam.spans[-1].length))


def depth_at_end(beam: Beam, x: float, side: int) -> float:
    """Depth of the span that a bar comes from, where its left (side 0) or right end stands at `x`: in a
    support where the soffit steps that is not the depth beyond it."""
    near = min(beam.supports, key=lambda s: abs(s.x - x))
    inside = x
    if abs(near.x - x) <= 0.5 * near.width + 1.0:
        inside = near.x + (0.5 * near.width + 2.0) * (1.0 if side == 0 else -1.0)
    span = next((s for s in beam.spans if s.start <= inside <= s.end), beam.spans[-side])
    return float(span.depths(min(max(x - span.start, 0.0), span.length)))


def end_share(beam: Beam, code: DesignCode, face: str, phi: float, x: Array) -> Array:
    """Share of its yield that a bar bent at the beam's outer ends, with the longest leg, has at each x; at
    least 5 %."""
    limits = run_limits(beam, 0.0, beam.length)
    share = np.ones(len(x))
    for side, (limit, kind) in enumerate(zip((limits.low, limits.high), limits.kinds, strict=True)):
        if kind == "outer":
            length, tail = _bent_end(beam, code, phi, face, end_depths(beam)[side])
            distance = x - limit if side == 0 else limit - x
            share = np.minimum(share, (distance + tail) / length)
    return np.clip(share, 0.05, 1.0)


def _bent_end(beam: Beam, code: DesignCode, phi: float, face: str, depth: float) -> tuple[float, float]:
    """Length that a bent end takes for full yield, and what of it the bend itself gives with the longest
    leg."""
    hook = code.bond.hook(beam.concrete, beam.bars, phi)
    if hook is not None:
        return float(hook), 0.0
    tail = leg_for(beam, code, phi, 1e9, depth) - 0.43 * code.detailing.bend_radius(phi) - 1.22 * phi
    return anchorage_of(beam, code, phi, face), tail


def region(x: Array, needed: Array, local: Array, mask: Mask) -> tuple[float, float] | None:
    """From where to where within `mask` the area `local` is less than `needed`; ends found on the line
    between stations, or at the first station past the mask where it lacks there as well: bars of two zones
    leave no place between them."""
    lacking = (needed > local + 1e-6) & mask
    if not lacking.any():
        return None
    index = np.flatnonzero(lacking)
    return _crossing(x, needed - local, int(index[0]), -1), _crossing(x, needed - local, int(index[-1]), 1)


def _crossing(x: Array, excess: Array, i: int, step: int) -> float:
    j = i + step
    if not 0 <= j < len(x):
        return float(x[i])
    if excess[j] > 0.0:
        return float(x[j])
    if not np.isfinite(excess[i]):
        return float(x[i])
    share = excess[i] / (excess[i] - excess[j]) if excess[i] > excess[j] else 1.0
    return float(x[i] + share * (x[j] - x[i]))


def needed_area(
    beam: Beam, code: DesignCode, forces: Forces, face: str, moment: Array, axis: Array, other: float
) -> Array:
    """Tension steel for `moment` (n,) with bars `axis` (n,) from their face."""
    at = forces.stations
    delta = forces.design.delta if face == "top" else 1.0
    factor, face_strips, d = code.bending.usual_factor, compressed(at, face), at.depth - axis
    concrete, steel = code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars)
    limit = code.bending.neutral_axis_limit(beam.concrete, beam.bars, delta)
    tension, _, _ = required_steel(
        moment / factor, face_strips, d, np.full(len(at), other), concrete, steel, limit
    )
    return tension


def stop(
    beam: Beam,
    code: DesignCode,
    limits: Limits,
    reach: tuple[float, float],
    stressed: tuple[float, float],
    anchorage: tuple[float, float],
    phi: float,
    depth: float,
) -> Piece:
    """A bar that covers `reach` with what the code asks for past it, and goes from end to end of what its
    stress asks for (`stressed`); bent at the ends of the beam where there is no room. `anchorage` of straight
    ends, and along bent ones."""
    step = beam.detailing.step
    unused = float(code.curtailment.unused_end(phi, depth - min(beam.cover.top, beam.cover.bottom)))
    start, end = min(reach[0] - unused, stressed[0]), max(reach[1] + unused, stressed[1])
    start, end = _into_simple_ends(beam, code, limits, phi, anchorage[1], (start, end))
    start, end = math.floor(start / step) * step, math.ceil(end / step) * step
    ends, legs = ["straight", "straight"], [0.0, 0.0]
    for side, kind in enumerate(limits.kinds):
        limit = limits.farthest(side)
        out = start < limit if side == 0 else end > limit
        if not out or kind == "built-in":
            continue
        if side == 0:
            start = limit
        else:
            end = limit
        if kind == "outer":
            room = (reach[0] - start) if side == 0 else (end - reach[1])
            lacking = anchorage[1] - room + limits.behind[side]
            ends[side], legs[side] = end_for(beam, code, phi, lacking, depth)
            if ends[side] != "straight":
                start, end = (limits.bent(0), end) if side == 0 else (start, limits.bent(1))
    return Piece(start, end, (ends[0], ends[1]), (legs[0], legs[1]))


def _into_simple_ends(
    beam: Beam, code: DesignCode, limits: Limits, phi: float, anchorage: float, ends: tuple[float, float]
) -> tuple[float, float]:
    """With the least anchorage past the face of a support at the beam's end, where a bar goes past it: less
    does not count there."""
    result = list(ends)
    for side, kind in enumerate(limits.kinds):
        past, sign = ends[side] - limits.faces[side], 2 * side - 1
        if kind == "outer" and sign * past > 0.0:
            minimum = float(code.bond.minimum_anchorage(anchorage, phi, 0.5 * beam.supports[-side].width))
            result[side] = limits.faces[side] + sign * max(sign * past, minimum)
    return result[0], result[1]


def end_for(beam: Beam, code: DesignCode, phi: float, lacking: float, depth: float) -> tuple[str, float]:
    """How a bar ends at the end of the beam, and the outer leg: bent, or turned back where a standard leg is
    too long."""
    shape = beam.detailing.end_shape
    if shape == "straight":
        return "straight", 0.0
    leg = leg_for(beam, code, phi, lacking, depth)
    if shape == "hook":
        return "hook", math.ceil(code.detailing.minimum_leg(phi, "hook") / 5.0) * 5.0
    if shape == "bend":
        return "bend", leg
    if (
        code.bond.hook(beam.concrete, beam.bars, phi) is not None
        and leg > depth - beam.cover.top - beam.cover.bottom
    ):
        return "hook", math.ceil(code.detailing.minimum_leg(phi, "hook") / 5.0) * 5.0
    return "bend", leg


def leg_for(beam: Beam, code: DesignCode, phi: float, lacking: float, depth: float) -> float:
    """Outer leg of a bend that makes up for `lacking` length, as far as the beam's depth allows; the standard
    leg where hooks have a length of their own."""
    if code.bond.hook(beam.concrete, beam.bars, phi) is not None:
        return math.ceil(code.detailing.minimum_leg(phi, "bend") / 5.0) * 5.0
    r = code.detailing.bend_radius(phi)
    wanted = lacking + 0.43 * r + 1.22 * phi  # the bend's axis is shorter than its outer corner
    maximum = depth - beam.cover.top - beam.cover.bottom - 40.0
    leg = min(
        max(wanted, code.detailing.minimum_leg(phi, "bend")),
        max(maximum, code.detailing.minimum_leg(phi, "bend")),
    )
    minimum = math.ceil(code.detailing.minimum_leg(phi, "bend") / 10.0 - 1e-9) * 10.0
    return max(math.floor(leg / 10.0) * 10.0 if leg >= maximum else math.ceil(leg / 10.0) * 10.0, minimum)


def must_develop(beam: Beam, code: DesignCode, side: int) -> bool:
    """Whether bars that run through end developed at an outer support (side 0: the left one)."""
    if (
        code.curtailment.continuity is None
        or beam.spans[-side].left is None
        or beam.spans[-side].right is None
    ):
        return False
    support = beam.supports[-side]
    edge = beam.on_perimeter
    return bool(beam.lateral) or (edge and (support.restrains_rotation or bool(beam.perimeter)))


def develops_at_ends(beam: Beam, code: DesignCode, phi: float, number: int, tie: float) -> bool:
    """Whether a number of bars of a diameter develop within the outer supports that require it, bent or
    straight."""
    cover = beam.cover.sides + tie
    for side in (0, 1):
        if not must_develop(beam, code, side):
            continue
        support, span = beam.supports[-side], beam.spans[-side]
        room = support.width - beam.cover.sides - 1.0
        length, tail = _bent_end(beam, code, phi, "bottom", end_depths(beam)[side])
        apart = (span.narrowest - 2.0 * cover - phi) / max(number - 1, 1)
        hook = code.bond.hook(beam.concrete, beam.bars, phi, apart, cover, bool(support.columns))
        if hook is not None:
            length = float(hook)
        if room + tail < length and room < anchorage_of(beam, code, phi, "bottom"):
            return False
    return True
