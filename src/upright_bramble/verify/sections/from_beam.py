"""The section of a designed beam at one place, with the sets of forces that act there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Flange, Profile
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array
from upright_bramble.section.shape import shape_of
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.sections.model import BarAt, ClosedStirrups, CrossSection, ForceSet, ServiceSet


def section_at(f: Facts, x: float, index: int, name: str) -> CrossSection:
    """At x (mm) in a span: the profile with the flange that works there, bars as far as they are anchored,
    stirrups, and the sets of forces with the extremes of moment, shear and torque, strength and service."""
    beam = f.beam
    low, high = beam.clear(index)
    x = min(max(x, low), high)  # within a support sections are those at its face
    i = f.nearest_of(index, x)
    profile = _profile(f, i, index, x)
    span = replace(beam.spans[index], profile=profile, becomes=None)
    shape = shape_of([(float(px), -float(py)) for px, py in dict.fromkeys(span.outline(0.0))])
    stirrups = _stirrups(f, x)
    tie = stirrups.diameter if stirrups is not None else f.placed.tie
    bars = [*_bars(f, i, profile, tie), *_sides(f, i, profile, tie, x)]
    return CrossSection(
        title=name,
        shape=shape,
        profile=profile,
        concrete=beam.concrete,
        bars_steel=beam.bars,
        stirrups_steel=beam.stirrups,
        cover=beam.cover,
        axis="level",
        bars=tuple(bars),
        stirrups=stirrups,
        tie=tie,
        forces=_strength(f, i, index),
        service=_service(f.forces, f.code, i),
        wanted=beam.service,
        waive=dict(beam.waive),
        about=dict(beam.about),
    )


def _profile(f: Facts, i: int, index: int, x: float) -> Profile:
    """As it is there: of a taper in between, with the reach of the flange that counts at the station."""
    span, local = f.beam.spans[index], x - f.beam.spans[index].start
    p = span.profile
    if p.outline:
        return p
    top, bottom = (float(v) for v in span.edges(local))
    p = replace(
        p, depth=float(span.depths(local)), width=top, foot=None if abs(bottom - top) < 1e-6 else bottom
    )
    if p.flange is None:
        return p
    strips = f.at.sections.strips
    wide = float(max(strips.upper[i].max(), strips.lower[i].max()))
    reaches = f.forces.beam.spans[index].reach or ((p.flange.left, p.flange.right),) * 3
    left, right = min(reaches, key=lambda r: abs(sum(r) + p.width - wide))
    if left + right <= 0.0:
        return replace(p, flange=None)
    return replace(p, flange=Flange(p.flange.thickness, left, right, p.flange.cross_steel, p.flange.below))


def _bars(f: Facts, i: int, profile: Profile, tie: float) -> list[BarAt]:
    """Rows across the web, the thickest bars outside; of a lap one piece."""
    p, sizes = f.placed, f.code.sizes
    doubles = {lap.second for lap in p.laps if lap.first != lap.second and p.present[i, lap.first] > 0.0}
    rows: dict[tuple[str, int], list[tuple[float, int]]] = {}
    for g, bar in enumerate(p.bars):
        if p.effective[i, g] > 0.0 and g not in doubles:
            rows.setdefault((bar.face, bar.layer), []).append((sizes[bar.size].diameter, g))
    result: list[BarAt] = []
    for number, ((face, _), groups) in enumerate(sorted(rows.items())):
        each = [(phi, g) for phi, g in sorted(groups, reverse=True) for _ in range(p.bars[g].count)]
        places = _across(f, profile, face, [phi for phi, _ in each], tie)
        order = sorted(range(len(each)), key=lambda k: -abs(places[k]))
        for k, (phi, g) in zip(order, each, strict=True):
            nominal = sizes[p.bars[g].size].area
            lapped = any(g == lap.first and lap.second in doubles for lap in p.laps)
            area = nominal if lapped else min(float(p.effective[i, g]) / p.bars[g].count, nominal)
            result.append(BarAt(float(places[k]), -float(p.y[i, g]), p.bars[g].size, phi, area, number))
    return result


def _across(f: Facts, profile: Profile, face: str, phis: list[float], tie: float) -> Array:
    """Evenly between the stirrup's legs; what does not fit there over the flange on their side."""
    inside, flange = f.beam.cover.sides + 0.5 * max(phis), profile.flange
    gap = float(f.code.detailing.clear_spacing(max(phis), f.beam.concrete.aggregate))
    low, high = -0.5 * profile.narrowest + inside + tie, 0.5 * profile.narrowest - inside - tie
    if (
        sum(phis) + (len(phis) - 1) * gap > high - low + max(phis)
        and flange is not None
        and flange.below == (face == "bottom")
    ):
        low, high = (
            -0.5 * profile.width - flange.left + inside + tie,
            0.5 * profile.width + flange.right - inside - tie,
        )
    return np.linspace(low, high, len(phis)) if len(phis) > 1 else np.array([0.5 * (low + high)])


def _sides(f: Facts, i: int, profile: Profile, tie: float, x: float) -> list[BarAt]:
    here = [s for s in f.layout.sides if s.start <= x <= s.end]
    if not here or not f.placed.present[i].any():
        return []
    ys = f.placed.y[i][f.placed.present[i] > 0.0]
    result: list[BarAt] = []
    for s in here[:1]:  # of a lap one piece
        size = f.code.sizes[s.size]
        reach = 0.5 * profile.narrowest - f.beam.cover.sides - tie - 0.5 * size.diameter
        for k, y in enumerate(np.linspace(float(ys.min()), float(ys.max()), s.rows + 2)[1:-1]):
            result += [
                BarAt(side, -float(y), s.size, size.diameter, size.area, 90 + k) for side in (-reach, reach)
            ]
    return result


def _stirrups(f: Facts, x: float) -> ClosedStirrups | None:
    zones = [z for z in f.layout.stirrups if z.start - z.spacing <= x <= z.end + z.spacing]
    if not zones:
        return None
    zone = max(zones, key=lambda z: (-max(z.start - x, x - z.end, 0.0), z.spacing))
    size = f.code.sizes[zone.size]
    return ClosedStirrups(zone.size, size.diameter, size.area, zone.legs, zone.spacing)


def _strength(f: Facts, i: int, index: int) -> tuple[ForceSet, ...]:
    """Of the sets that act together those with an extreme, moments as support widths leave them, shear as it
    is verified near supports; where sets are not known the extremes themselves, which the names say."""
    design, level = f.forces.design, f.code.actions.levels[0]
    rows = f.at.of(index)
    low, high = float(design.moment_min[i]), float(design.moment_max[i])
    faces = [s.x + sign * 0.5 * s.width for s in f.beam.supports for sign in (-1.0, 1.0)]
    beside = min(abs(float(f.at.x[i]) - face) for face in faces) < float(f.strength.d_shear[i])

    def greatest(moment: float) -> float:
        """Of the span with this sign; beside supports bars are verified by their anchorage, and nothing is
        added."""
        extreme = (
            float(design.moment_max[rows].max()) if moment > 0.0 else -float(design.moment_min[rows].min())
        )
        return abs(moment) if beside else max(extreme, abs(moment))

    def other(moment: float) -> float:
        return (
            0.0
            if beside
            else max(
                -float(design.moment_min[rows].min())
                if moment > 0.0
                else float(design.moment_max[rows].max()),
                0.0,
            )
        )

    acting, together = f.acting_sets, f.forces.acting_together
    if acting is None or together is None:
        moments = dict.fromkeys(m for m in (high, low) if abs(m) > 1e3)
        axial, shear, torque = (
            float(design.axial_min[i]),
            float(f.strength.shear_demand[i]),
            float(design.torsion[i]),
        )
        names = {m: f"extremes, {'sagging' if m > 0.0 else 'hogging'}" for m in moments}
        return tuple(
            ForceSet(
                name=names[m],
                moment=m,
                moment_y=0.0,
                axial=axial,
                shear=shear,
                shear_y=0.0,
                torque=torque,
                greatest_moment=greatest(m),
                greatest_other=other(m),
            )
            for m in moments
        )
    moment, sheared, twisted = acting.moment[:, i], acting.shear[:, i], np.abs(together[2][:, i])
    labels = [row.label for row in f.forces.rows[level]]
    picked = dict.fromkeys(
        int(k) for k in (moment.argmax(), moment.argmin(), sheared.argmax(), twisted.argmax())
    )
    result = {k: (float(np.clip(moment[k], low, high)), float(sheared[k]), float(twisted[k])) for k in picked}
    return tuple(
        ForceSet(
            name=labels[k],
            moment=m,
            moment_y=0.0,
            axial=0.0,
            shear=v,
            shear_y=0.0,
            torque=t,
            greatest_moment=greatest(m),
            greatest_other=other(m),
        )
        for k, (m, v, t) in result.items()
    )


def _service(forces: Forces, code: DesignCode, i: int) -> tuple[ServiceSet, ...]:
    result: list[ServiceSet] = []
    for level in code.actions.levels[1:]:
        if level in forces.missing or level not in forces.factors:
            continue
        lines: Array = forces.moments(level)[:, i]
        labels = [row.label for row in forces.rows[level]]
        for k in dict.fromkeys(int(v) for v in (lines.argmax(), lines.argmin())):
            name = level.replace("_", "-")
            if abs(float(lines[k])) > 1e3:
                result.append(ServiceSet(f"{name}: {labels[k]}", level, float(lines[k])))
    return tuple({(s.level, round(s.moment)): s for s in reversed(result)}.values())[::-1]
