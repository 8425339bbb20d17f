"""Bars along the sides of the web: where they lie, and what of them is anchored."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import CRANKED, Beam, SideBars
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array


def bar_tail(code: DesignCode, phi: float, kind: str, leg: float) -> float:
    """Length of bar beyond its outer limit, measured along its axis round the bend; `leg` outer length, 0:
    the code's minimum. Where a bar is bent up, `leg` is the length that goes on from there. mm."""
    if kind == CRANKED:
        return leg
    if kind in ("straight", "lap"):
        return 0.0
    radius = code.detailing.bend_radius(phi)
    leg = leg or code.detailing.minimum_leg(phi, kind)
    turn = 0.5 * np.pi if kind == "bend" else np.pi
    return float(max(leg - radius - phi, 0.0) + turn * (radius + 0.5 * phi) - (radius + phi))


def room_for_leg(beam: Beam, width: float, tie: float) -> float:
    """Across a web of this width for the leg of a bent side bar, from inside a stirrup of diameter `tie` to
    the cover of the other side, mm."""
    return width - 2.0 * beam.cover.sides - tie


@dataclass(frozen=True)
class SideBar:
    """The least side bar at each station, (n,): its area, and what of it is anchored there, mm2."""

    full: Array
    anchored: Array


def side_bar_anchored(
    beam: Beam, code: DesignCode, at: Stations, sides: Sequence[SideBars], tie: float
) -> SideBar:
    """A side bar counts by the share of its anchorage length to its nearer end; of lapped pieces the sum, no
    more than one bar."""
    x, depth = at.x, at.depth
    full_area, anchored = np.full(len(x), np.inf), np.zeros(len(x))
    for s in sides:
        phi, area = code.sizes[s.size].diameter, code.sizes[s.size].area
        edge = beam.cover.bottom + tie
        inner = depth - beam.cover.top - beam.cover.bottom - 2.0 * tie
        highest = edge + inner * s.rows / (s.rows + 1.0)  # the row with the poorest bond
        length = code.bond.anchorage(beam.concrete, beam.bars, np.full(len(x), phi), highest, depth)
        apart = float(inner.min()) / (s.rows + 1.0)
        here = (x >= s.start - 1e-6) & (x <= s.end + 1e-6)
        shares = []
        for side, (end, distance) in enumerate(((s.start, x - s.start), (s.end, s.end - x))):
            hook = _hook(beam, code, phi, apart, end, tie)
            if s.ends[side] == "bend" and hook is not None:
                shares.append(distance / hook)
            else:
                shares.append((distance + bar_tail(code, phi, s.ends[side], s.legs[side])) / length)
        share = np.clip(np.minimum(*shares), 0.0, 1.0)
        anchored = np.where(here, anchored + share * area, anchored)
        full_area = np.where(here, np.minimum(full_area, area), full_area)
    full_area = np.where(np.isfinite(full_area), full_area, 0.0)
    return SideBar(full_area, np.minimum(anchored, full_area))


def _hook(beam: Beam, code: DesignCode, phi: float, apart: float, end: float, tie: float) -> float | None:
    """Length that the bent end of a side bar takes, by the distance of the rows and the column it ends in,
    mm; None where the code has none."""
    core = any(s.columns and abs(end - s.x) <= 0.5 * s.width for s in beam.supports)
    cover = beam.cover.sides + tie
    length = code.bond.hook(beam.concrete, beam.bars, *(np.array([v]) for v in (phi, apart, cover, core)))
    return None if length is None else float(length[0])
