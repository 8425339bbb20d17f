"""A whole layout for the forces and what earlier rounds asked: bars of both faces, their lengths,
stirrups."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.bent_up import parts_of
from upright_bramble.beam import (
    Bar,
    Beam,
    Layout,
    StirrupZone,
    lapped_pairs,
    lapped_share,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion import curtail, stirrups
from upright_bramble.proportion.candidates import Demand, Run
from upright_bramble.proportion.carried import carried_on
from upright_bramble.proportion.choice import Weighed, Weighings
from upright_bramble.proportion.demands import compression_of, demand_of, runs_of
from upright_bramble.proportion.lengths import lengths_of
from upright_bramble.proportion.marks import marked
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.pieces import alike, clear_over_supports, ends_apart, laps_alike, symmetrical
from upright_bramble.proportion.side_bars import side_bars_of
from upright_bramble.proportion.start import Start, start_of
from upright_bramble.proportion.together import Runner, together
from upright_bramble.section.arrays import Array


@dataclass(frozen=True)
class Proposal:
    """A layout, how many arrangements of the whole beam's bars it is the cheapest of, and those that came
    next."""

    layout: Layout
    weighed: int
    runners: tuple[Runner, ...]


def propose(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    needs: Needs,
    held: Layout | None = None,
    weighings: Weighings | None = None,
) -> Proposal:
    """Bars and stirrups for the beam around what the user holds; `weighings` of earlier proposals for it.

    Raises NoProposal when no allowed bars fit.
    """
    if needs.fewer_marks:
        rates = replace(
            beam.detailing.rates, mark=max(beam.detailing.rates.mark, beam.detailing.rates.variety)
        )
        beam = replace(beam, detailing=replace(beam.detailing, rates=rates))
    own, weighings = held or Layout((), ()), weighings or Weighings()
    carried = carried_on(beam, code, own.bars)
    start = start_of(beam, code, forces, needs)
    # what carries held bars on is as fixed as they are; bent-up ones lie in both faces
    kept = replace(own, bars=parts_of(beam, code, (*own.bars, *carried), start.tie).bars)
    required: list[Demand] = []
    weighed: list[Weighed] = []
    compression = compression_of(beam, code, forces, start, needs)
    for face in ("bottom", "top"):
        for run in runs_of(beam, forces, face, needs):
            demand = demand_of(beam, code, forces, run, start, kept, compression[face])
            demand = _with_numbers(beam, run, demand, start, needs)
            required.append(demand)
            weighed.append(weighings.of(beam, code, forces, run, demand, start.tie))
    taken = together(beam, code, weighed, frozenset(b.size for b in kept.bars))
    bars: list[Bar] = []
    for w, demand, choice in zip(weighed, required, taken.choices, strict=True):
        bars += lengths_of(beam, code, forces, w.run, demand, choice, start.tie, needs)
    bars = symmetrical(clear_over_supports(beam, code, bars))
    bars = [b for face in ("bottom", "top") for b in ends_apart(beam, [v for v in bars if v.face == face])]
    bars = [_with_legs(b, needs.bend_legs.get((b.face, b.size), 0.0)) for b in alike(beam, code.sizes, bars)]
    bars = laps_alike(beam, _legs_inside(beam, code, bars, kept.bars))
    d = _depth(beam, code, forces, bars + list(kept.bars), start.tie)
    laps = _across_laps(beam, code, start, [*bars, *kept.bars])
    spans = stirrups.zones(
        beam, code, forces, d, start.ties, needs, list(kept.stirrups), laps, [*bars, *kept.bars]
    )
    ties = [
        StirrupZone("", start.ties.size, legs, round(float(a), 1), round(float(b), 1), float(s))
        for a, b, s, legs in spans
    ]
    return Proposal(
        marked(beam, code.sizes, [*bars, *carried], ties, own, side_bars_of(beam, code, forces, start, kept)),
        taken.weighed,
        taken.runners,
    )


def _with_numbers(beam: Beam, run: Run, demand: Demand, start: Start, needs: Needs) -> Demand:
    """Every stirrup leg has a bar to hold it, at both faces: at the top those that run through, at the bottom
    others of the span as well where there are several."""
    of = [legs for legs, span in zip(start.ties.legs, beam.spans, strict=True) if run.covers(span)]
    number = max(needs.number.get(run.face, 2), beam.detailing.least_bars)
    demand = replace(
        demand,
        below=needs.thinner.get(run.face, math.inf),
        anchored=frozenset(zone for face, zone in needs.anchored if face == run.face),
        slim=run.face in needs.slim,
        fewer=needs.fewer.get(run.face, math.inf),
    )
    if run.face == "bottom" and len(of) > 1:
        return replace(demand, least_number=max(number, min(of)), legs=tuple(of))
    return replace(demand, least_number=max(number, *of))


def _with_legs(bar: Bar, shortest: float) -> Bar:
    """Bends with legs no shorter than so, in steps of 10 mm."""
    leg = math.ceil(shortest / 10.0 - 1e-9) * 10.0
    legs = [
        max(old, leg) if kind == "bend" and old > 0.0 else old
        for kind, old in zip(bar.ends, bar.legs, strict=True)
    ]
    return replace(bar, legs=(legs[0], legs[1]))


def _legs_inside(beam: Beam, code: DesignCode, bars: list[Bar], kept: Sequence[Bar]) -> list[Bar]:
    """Legs of upper rows no longer than from their row to the cover of the other face, in steps of 5 mm; as
    the standard requires where even that is longer. The rows below may be `kept` ones."""
    result = []
    for bar in bars:
        if bar.layer > 1 and "bend" in bar.ends:
            phi = code.sizes[bar.size].diameter
            below = (b for b in (*bars, *kept) if b.face == bar.face and b.layer < bar.layer)
            outer = max((code.sizes[b.size].diameter for b in below), default=phi)
            gap = float(code.detailing.clear_spacing(max(outer, phi), beam.concrete.aggregate))
            raised = (bar.layer - 1) * (outer + gap) + beam.cover.top + beam.cover.bottom
            legs = []
            depths = curtail.depth_at_end(beam, bar.start, 0), curtail.depth_at_end(beam, bar.end, 1)
            for kind, leg, depth in zip(bar.ends, bar.legs, depths, strict=True):
                room = math.floor((depth - raised) / 5.0) * 5.0
                longest = max(room, code.detailing.minimum_leg(phi, "bend"))
                legs.append(min(leg, longest) if kind == "bend" else leg)
            bar = replace(bar, legs=(legs[0], legs[1]))
        result.append(bar)
    return result


def _across_laps(beam: Beam, code: DesignCode, start: Start, bars: list[Bar]) -> list[stirrups.Across]:
    """Laps with the number of stirrups that each of their outer thirds needs."""
    result, pairs = [], lapped_pairs(bars)
    for i, j in pairs:
        phi = code.sizes[bars[i].size].diameter
        share = lapped_share(
            bars, pairs, (i, j), 0.65 * curtail.lap_of(beam, code, phi, bars[i].face), code.sizes
        )
        required = code.bond.lap_stirrups(phi, share)
        if required > 0.0:
            number = math.ceil(0.5 * required / code.sizes[start.ties.size].area - 1e-9)
            result.append(
                stirrups.Across(
                    bars[j].start, bars[i].end, number, False, code.bond.lap_stirrup_spacing(phi, share)
                )
            )
    return result


def _depth(beam: Beam, code: DesignCode, forces: Forces, bars: list[Bar], tie: float) -> Array:
    """The smaller effective depth of both faces where second rows count wherever they are, (n,)."""
    at = forces.stations
    worst = np.zeros(len(at))
    for face, cover in (("bottom", beam.cover.bottom), ("top", beam.cover.top)):
        own = [b for b in bars if b.face == face]
        largest = max((code.sizes[b.size].diameter for b in own), default=16.0)
        gap = float(code.detailing.clear_spacing(largest, beam.concrete.aggregate))
        total, moment = np.zeros(len(at)), np.zeros(len(at))
        for b in own:
            here = (at.x >= b.start) & (at.x <= b.end)
            axis = cover + tie + 0.5 * largest + (b.layer - 1) * (largest + gap)
            total += here * b.count * code.sizes[b.size].area
            moment += here * b.count * code.sizes[b.size].area * axis
        mean = np.where(total > 0.0, moment / np.where(total > 0.0, total, 1.0), cover + tie + 0.5 * largest)
        worst = np.maximum(worst, mean)
    return at.depth - worst
