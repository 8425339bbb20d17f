"""Bars longer than stock: where they are lapped, and into which pieces they are cut."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Bar, Beam, Span
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion.curtail import Limits, Piece, depth_at_end, end_for, lap_of, must_develop
from upright_bramble.section.arrays import Array, Mask, nearest

APART = 1.5  # lengths of a lap from middle to middle of two
NEARER = 50.0  # mm between places of laps where those between stations are too few


def through(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    limits: Limits,
    face: str,
    anchorage: float,
    lap: float,
    phi: float,
    pull: Array,
    share: Array,
    room: Mask,
    taken: Sequence[float] = (),
) -> list[Piece]:
    """Bars over a whole run, in pieces no longer than stock, lapped where this face pulls least (`pull`, n).

    `share` (n,) of the bars' yield that the section asks for: it sets how long the legs at the beam's ends
    are. `room` marks stations around which lapped pieces fit beside the extra bars; the middles of laps keep
    clear of those `taken` by others.
    """
    low, high = limits.low, limits.high
    ends, legs = ["straight", "straight"], [0.0, 0.0]
    depths = depth_at_end(beam, low, 0), depth_at_end(beam, high, 1)
    x = forces.stations.x
    valid = (x >= beam.design_range[0] - 1e-6) & (x <= beam.design_range[1] + 1e-6)
    step = beam.detailing.step
    for side, kind in enumerate(limits.kinds):
        if kind == "built-in":
            low, high = (
                (limits.faces[0] - anchorage, high) if side == 0 else (low, limits.faces[1] + anchorage)
            )
        elif kind == "outer":
            distance = x - low if side == 0 else high - x
            lacking = float((share * anchorage - distance)[valid].max())
            if beam.spans[-side].left is not None and beam.spans[-side].right is not None:
                minimum = float(code.bond.minimum_anchorage(anchorage, phi, 0.5 * beam.supports[-side].width))
                lacking = max(lacking, minimum - abs(limits.faces[side] - (low if side == 0 else high)) + 1.0)
            space = abs(limits.faces[side] - (low if side == 0 else high))
            held = must_develop(beam, code, side) and space < anchorage
            # a bar that only just needs a leg, or a top bar, is bent anyway: it closes the cage
            if lacking > 0.0 or face == "top" or held or beam.detailing.end_shape in ("bend", "hook"):
                lacking = max(lacking + limits.behind[side], 0.0)
                ends[side], legs[side] = end_for(beam, code, phi, lacking, depths[side])
        elif (
            share[valid].max(initial=0.0) > 0.0
        ):  # past an inner support as far as the force there has to be anchored
            far = (
                np.where(
                    share > 0.0,
                    x + (share * anchorage if side else -share * anchorage),
                    limits.high if side else limits.low,
                )
            )[valid]
            if side == 0:
                low = max(
                    math.floor(min(low, float(far.min())) / step) * step if far.min() < low else low,
                    limits.beyond[0],
                )
            else:
                high = min(
                    math.ceil(max(high, float(far.max())) / step) * step if far.max() > high else high,
                    limits.beyond[1],
                )
            lacking = (
                limits.beyond[0] - float(far.min()) if side == 0 else float(far.max()) - limits.beyond[1]
            )
            stopped = any(abs(limits.beyond[side] - s.x) <= 0.5 * s.width for s in beam.supports)
            if lacking > 1.0 and stopped:  # by a step in the soffit: bent up before it
                ends[side], legs[side] = end_for(beam, code, phi, lacking, depths[side])
    low, high = math.floor(low), math.ceil(high)
    if limits.kinds[0] == "outer":
        low = math.ceil(limits.low if ends[0] == "straight" else limits.bent(0))
    if limits.kinds[1] == "outer":
        high = math.floor(limits.high if ends[1] == "straight" else limits.bent(1))
    cuts = _lap_places(
        beam, forces, face, (float(low), float(high)), (legs[0], legs[1]), lap, pull, room, taken
    )
    return _cut(Piece(float(low), float(high), (ends[0], ends[1]), (legs[0], legs[1])), cuts, lap, step)


def _cut(piece: Piece, cuts: Sequence[float], lap: float, step: float) -> list[Piece]:
    """A bar in pieces that are lapped about these places."""
    pieces: list[Piece] = []
    start, kind, leg = piece.start, piece.ends[0], piece.legs[0]
    overlap = math.ceil(lap / step) * step
    for cut in cuts:
        stop_at = math.ceil((cut + 0.5 * overlap) / step) * step
        pieces.append(Piece(start, stop_at, (kind, "lap"), (leg, 0.0)))
        start, kind, leg = stop_at - overlap, "lap", 0.0
    pieces.append(Piece(start, piece.end, (kind, piece.ends[1]), (leg, piece.legs[1])))
    return pieces


def in_stock(
    beam: Beam, code: DesignCode, forces: Forces, bar: Bar, pull: Array, taken: Sequence[float]
) -> list[Bar]:
    """A bar that stops inside the beam in pieces no longer than stock, lapped where its face pulls least
    (`pull`, n) and clear of the laps `taken` by others; as it is where it is no longer, or must not be
    lapped."""
    phi = code.sizes[bar.size].diameter
    if bar.end - bar.start + sum(bar.legs) <= beam.detailing.longest_piece or not code.bond.lap_permitted(
        phi
    ):
        return [bar]
    lap = lap_of(beam, code, phi, bar.face)
    cuts = _lap_places(
        beam,
        forces,
        bar.face,
        (bar.start, bar.end),
        bar.legs,
        lap,
        pull,
        np.ones(len(pull), dtype=bool),
        taken,
    )
    pieces = _cut(Piece(bar.start, bar.end, bar.ends, bar.legs), cuts, lap, beam.detailing.step)
    return [replace(bar, start=v.start, end=v.end, ends=v.ends, legs=v.legs) for v in pieces]


def _lap_places(
    beam: Beam,
    forces: Forces,
    face: str,
    ends: tuple[float, float],
    legs: tuple[float, float],
    lap: float,
    pull: Array,
    room: Mask,
    taken: Sequence[float],
) -> list[float]:
    """Middles of laps: supports for bottom bars, where a span's inner part pulls least for top ones, else
    wherever the face pulls least."""
    x, (low, high) = forces.stations.x, ends
    if beam.detailing.laps_at:
        return [p for p in beam.detailing.laps_at if low + lap < p < high - lap]
    if high - low + sum(legs) <= beam.detailing.longest_piece - beam.detailing.step:
        return []
    usual = (
        [s.x for s in beam.supports]
        if face == "bottom"
        else [_calm(x, pull, s) for s in beam.spans if not s.cantilever]
    )
    longest, overlap = (
        beam.detailing.longest_piece - 2.0 * beam.detailing.step,
        lap + 2.0 * beam.detailing.step,
    )
    fine = np.arange(low, high, NEARER)
    # long laps of short pieces leave little choice: any place, at last end to end
    for grid, apart in ((x[::2], APART), (fine, APART), (fine, 1.0)):
        places = np.unique(np.concatenate([usual, grid]))
        places = places[(places > low + lap) & (places < high - lap)]
        price = _price(beam, forces, (low, high), usual, places, lap, pull, room, taken)
        cuts = cheapest_cuts(places, price, low, high, overlap, longest, legs, apart)
        if cuts:
            return cuts
    return []


def _price(
    beam: Beam,
    forces: Forces,
    ends: tuple[float, float],
    usual: Sequence[float],
    places: Array,
    lap: float,
    pull: Array,
    room: Mask,
    taken: Sequence[float],
) -> Array:
    """Of a lap at each of the `places` (p,): more where the face pulls or where lapped bars do not fit, less
    at the `usual` ones."""
    at = nearest(forces.stations.x, places)
    price = 1.0 + 6.0 * (pull[at] / max(float(pull.max()), 1.0)) ** 2 + 20.0 * ~room[at]
    price -= 0.3 * np.isin(places, usual)
    price += 10.0 * _third_over_support(beam, places, lap)
    # laps may become shorter once what lies beside them is known
    shortest = beam.detailing.shortest_piece - 0.3 * lap
    price += 15.0 * (np.minimum(places - ends[0], ends[1] - places) < shortest)
    for other in taken:
        # half a lap apart is neither together nor in turn: no one could say which bar carries which on
        gap = np.abs(places - other)
        price += 10.0 * (gap < 1.35 * lap + 4.0 * beam.detailing.step)
        price += 30.0 * ((gap > 1.0) & (gap < lap))
    return np.asarray(price)


def _third_over_support(beam: Beam, places: Array, lap: float) -> Mask:
    """Whether an outer third of a lap, which asks for stirrups of its own, would stand partly over a support,
    where there are none."""
    over = np.zeros(len(places), dtype=bool)
    for s in beam.supports:
        for side in (-1.0, 1.0):
            shared = 0.5 * s.width + lap / 6.0 - np.abs(places + side * lap / 3.0 - s.x)
            over |= shared > lap / 12.0
    return over


def cheapest_cuts(
    places: Array,
    price: Array,
    low: float,
    high: float,
    lap: float,
    stock: float,
    legs: tuple[float, float],
    apart: float = APART,
) -> list[float]:
    """The cheapest set of lap places that leaves no piece longer than stock, by looking back from each place;
    middles of laps stand `apart` so many of their lengths."""
    total, before = np.full(len(places), np.inf), np.full(len(places), -1)
    for j, here in enumerate(places):
        if here + 0.5 * lap - low <= stock - legs[0]:
            total[j] = price[j]
            continue
        first, last = (
            int(np.searchsorted(places, here + lap - stock)),
            int(np.searchsorted(places, here - apart * lap, side="right")),
        )
        if first < min(last, j):
            best = first + int(total[first : min(last, j)].argmin())
            total[j], before[j] = total[best] + price[j], best
    ended = np.where(high - places + 0.5 * lap <= stock - legs[1], total, np.inf)
    if not len(ended) or not np.isfinite(ended.min()):
        return []  # no stock is long enough between laps; verification and the schedule show the long bar
    cuts, j = [], int(ended.argmin())
    while j >= 0:
        cuts.append(float(places[j]))
        j = int(before[j])
    return cuts[::-1]


def _calm(x: Array, pull: Array, span: Span) -> float:
    """Where the inner part of a span pulls least; its middle where that is so over a stretch."""
    inner = (x >= span.start + 0.25 * span.length) & (x <= span.end - 0.25 * span.length)
    minimum = pull[inner].min()
    good = x[inner][pull[inner] <= minimum * 1.001 + 1e4]
    return float(good[np.abs(good - 0.5 * (span.start + span.end)).argmin()])
