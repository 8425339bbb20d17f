"""Shapes, cut lengths, masses, and the figures that people ask about first."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from upright_bramble.analysis.bar_lines import Stretch, length_of, line_of, shape_of, sides_of
from upright_bramble.beam import Bar, Beam, Layout, Span, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.verify.bends import mandrels_of
from upright_bramble.verify.placement import Placed
from upright_bramble.verify.result import BarItem, StirrupItem

STEEL_DENSITY = 7850e-9  # kg/mm3
WHOLE = 0.5  # mm: lengths are told apart in whole millimetres
CARBON_CONCRETE = 300.0  # kg CO2e per m3, a usual middle; for comparing designs, not for declarations
CARBON_STEEL = 0.9  # kg CO2e per kg


def bar_items(code: DesignCode, beam: Beam, placed: Placed) -> list[BarItem]:
    """Of each entry of the layout; one that is bent up is one piece."""
    result = []
    bent = mandrels_of(beam, code, placed)
    for entry, own in placed.parts.own.items():
        phi, mandrel = float(placed.diameter[own[0]]), max(bent[g] for g in own)
        up = placed.entries[entry].bent_up
        line = line_of(beam, [placed.bars[g] for g in own], up, phi)
        item = bar_item(code, placed.entries[entry], phi, cut_step(beam), mandrel, line)
        low = next(g for g in own if placed.bars[g].face == placed.entries[entry].face)
        top = float(placed.axis[next(g for g in own if g != low)]) if up is not None else 0.0
        result.append(replace(item, axis=float(placed.axis[low]), line=line, top_axis=top))
    return result


def side_items(code: DesignCode, beam: Beam, layout: Layout, formers: Mapping[str, float]) -> list[BarItem]:
    """Side bars as the schedule has them: both sides together; on the `formers` (mm) by size that other bars
    are bent round, where their legs are long enough for these."""
    result = []
    for s in layout.sides:
        bar = Bar(
            mark=s.mark,
            face="side",
            layer=1,
            count=2 * s.rows,
            size=s.size,
            start=s.start,
            end=s.end,
            ends=s.ends,
            legs=s.legs,
            held=s.held,
        )
        phi, former = code.sizes[s.size].diameter, formers.get(s.size, 0.0)
        short = any(
            leg < code.detailing.minimum_leg(phi, kind, former)
            for kind, leg in zip(s.ends, s.legs, strict=True)
            if kind in ("bend", "hook")
        )
        result.append(bar_item(code, bar, phi, cut_step(beam), 0.0 if short else former))
    return result


def cut_step(beam: Beam) -> float:
    """What cut lengths are rounded up to: 25 mm, or an inch."""
    return 25.4 if beam.detailing.step == 25.4 else 25.0


def bar_item(
    code: DesignCode,
    bar: Bar,
    phi: float,
    step: float,
    mandrel: float = 0.0,
    line: Sequence[Stretch] = (),
) -> BarItem:
    """Cut length from outer dimensions (ISO 3766): each 90 degree bend takes r/2 + phi off the sum of the
    sides, each hook has its half circle along the axis, as have the bends of a `line` that is not
    level. Bent on a `mandrel` (mm), or on the smallest that the code permits (0)."""
    r, straight = 0.5 * mandrel or code.detailing.bend_radius(phi), bar.end - bar.start
    left, right = (_ended(code, phi, r, *end) for end in zip(bar.ends, bar.legs, strict=True))
    straight = length_of(line, r + 0.5 * phi) if line else straight
    length = straight + left[0] + right[0]
    if len(line) > 1:
        sides, shape = sides_of(line, phi, left[1], right[1]), shape_of(line, left[1] + right[1])
    else:  # a bar turned end for end is the same piece: hooks before bends, the longer before the shorter
        ends = sorted((left[1], right[1]), key=lambda v: (len(v), v[-1:]), reverse=True)
        sides = [straight, *ends[0], *ends[1]]
        if len(left[1]) == len(right[1]) == 1:
            sides = [*ends[0], straight, *ends[1]]
        shape = SHAPES.get((len(left[1]), len(right[1])), "99")
    cut = _up(length - WHOLE, step)  # pieces of one mark along a slope and on the level have one length
    mass = round(bar.count * cut * code.sizes[bar.size].area * STEEL_DENSITY, 3)
    bent = len(line) > 1 or any((*left[1], *right[1]))
    return BarItem(bar, phi, shape, cut, mass, _lettered(sides), mandrel=2.0 * r if bent else 0.0)


SHAPES = {(0, 0): "00", (0, 1): "11", (1, 0): "11", (1, 1): "21", (0, 2): "13", (2, 0): "13", (2, 2): "33"}
"""ISO 3766: of straight bars by the number of sides that their ends add, one of a bend and two of a hook."""


def _ended(code: DesignCode, phi: float, r: float, kind: str, leg: float) -> tuple[float, list[float]]:
    """What an end adds to the length between the outer limits, and its sides from the bar outwards, mm."""
    if kind not in ("bend", "hook"):
        return 0.0, []
    leg = max(leg, code.detailing.minimum_leg(phi, kind))
    if kind == "bend":
        return leg - 0.5 * r - phi, [leg]
    # half circle of the axis and the straight beyond it, less what the outer limit already counts
    return math.pi * (r + 0.5 * phi) + (leg - r - phi) - (r + phi), [2.0 * (r + phi), leg]


def _lettered(sides: Sequence[float]) -> tuple[tuple[str, float], ...]:
    """Dimensions by letters from A."""
    return tuple((letter, round(v, 1)) for letter, v in zip("ABCDEFGHIJ", sides, strict=False))


def stirrup_items(beam: Beam, code: DesignCode, zones: Sequence[StirrupZone]) -> list[StirrupItem]:
    result = []
    step = cut_step(beam)
    for zone in zones:
        phi = code.sizes[zone.size].diameter
        span = beam.spans[_span_at(beam, 0.5 * (zone.start + zone.end))]
        places = np.clip(
            np.array([zone.start, zone.start + (zone.count - 1) * zone.spacing]) - span.start,
            0.0,
            span.length,
        )
        heights = np.asarray(span.depths(places)) - beam.cover.top - beam.cover.bottom
        height, width = float(heights.mean()), float(np.mean(span.widths(places)) - 2.0 * beam.cover.sides)
        cut = _up(closed_stirrup(code, width, height, phi), step)
        links = zone.legs - 2  # inner legs: an open link with a hook at each end
        link = _up(height + 2.0 * code.detailing.stirrup_tail(phi), step) if links else 0.0
        mass = round((cut + links * link) * code.sizes[zone.size].area * STEEL_DENSITY * zone.count, 3)
        # a zone turned end for end is the same pieces
        first, last = sorted((round(float(v), 1) for v in heights), reverse=True)
        varying = (("A", first), ("A_last", last)) if abs(first - last) > 1.0 else (("A", round(height, 1)),)
        sides = (*varying, ("B", round(width, 1)), ("C", round(code.detailing.stirrup_tail(phi), 1)))
        result.append(
            StirrupItem(
                zone=zone,
                diameter=phi,
                shape="51",
                cut_length=cut,
                mass=mass,
                dimensions=sides,
                links=links,
                link_length=link,
                mandrel=2.0 * code.detailing.stirrup_radius(phi),
            )
        )
    return result


def closed_stirrup(code: DesignCode, width: float, height: float, phi: float) -> float:
    """Closed stirrup with two anchored tails (ISO 3766 shape 51)."""
    return (
        2.0 * (width + height)
        + 2.0 * code.detailing.stirrup_tail(phi)
        - 2.5 * code.detailing.stirrup_radius(phi)
        - 5.0 * phi
    )


def _span_at(beam: Beam, x: float) -> int:
    return next((i for i, s in enumerate(beam.spans) if x <= s.end), len(beam.spans) - 1)


def _up(length: float, step: float) -> float:
    return math.ceil(length / step - 1e-9) * step


def _mean(values: list[float]) -> float:
    """Along a taper (Simpson)."""
    return (values[0] + 4.0 * values[1] + values[2]) / 6.0


def _overhang(span: Span) -> float:
    """Half of the soffit of the flange beyond the web, as far as it works."""
    return (
        0.5 * (span.area(0.0) - span.widths(0.0) * span.depths(0.0)) / _thickness(span)
        if span.profile.flange
        else 0.0
    )


def _thickness(span: Span) -> float:
    return span.profile.flange.thickness if span.profile.flange else 0.0


def _formed(span: Span) -> float:
    """Length around a span's section that touches formwork: all but the top, and the edges of a slab."""
    profile = span.profile
    if profile.outline:
        top = [x for x, y in profile.outline if y <= min(q for _, q in profile.outline) + 1e-6]
        return profile.outline_size()[1] - (max(top) - min(top))
    return float(
        span.widths(0.5 * span.length)
        + 2.0 * span.depths(0.5 * span.length)
        + 2.0 * _overhang(span)
        - 2.0 * _thickness(span)
    )


def quantities(
    beam: Beam, bars: Sequence[BarItem], stirrups: Sequence[StirrupItem], laps: int
) -> dict[str, float]:
    low, high = beam.ends
    lengths = [s.length for s in beam.spans]
    lengths[0] -= low
    lengths[-1] += high - beam.length
    pairs = list(zip(beam.spans, lengths, strict=True))
    concrete = (
        sum(_mean([s.area(x * s.length) for x in (0.0, 0.5, 1.0)]) * length for s, length in pairs) / 1e9
    )
    around = [_formed(s) * length for s, length in pairs]
    forms = sum(around) / 1e6
    steel = sum(i.mass for i in bars) + sum(i.mass for i in stirrups)
    rates = beam.detailing.rates
    cost = steel * rates.steel + sum(i.bar.count for i in bars) * rates.bar
    cost += sum(i.zone.count for i in stirrups) * rates.stirrup
    cost += (
        len({i.bar.size for i in bars} | {i.zone.size for i in stirrups}) * rates.variety + laps * rates.lap
    )
    cost += (len({i.bar.mark for i in bars}) + len({i.zone.mark for i in stirrups})) * rates.mark
    return {
        "concrete_m3": concrete,
        "formwork_m2": forms,
        "steel_kg": steel,
        "steel_kg_per_m3": steel / concrete,
        "cost": cost + concrete * rates.concrete + forms * rates.formwork,
        "steel_cost": cost,
        "carbon_kg": concrete * CARBON_CONCRETE + steel * CARBON_STEEL,
    }
