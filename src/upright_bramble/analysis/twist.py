"""Torque beside shear: what it asks for along the beam, and the strut angle that both share."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.analysis.forces import Forces
from upright_bramble.analysis.support_width import half_span_peak
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Tube, Twist, Web
from upright_bramble.section.arrays import Array

HALF_BAR = 10.0  # half of a corner bar, mm, before the bars are known


def tube_of(beam: Beam, forces: Forces, tie: float) -> Tube:
    """The web as a tube, with the greatest of the covers all round."""
    at = forces.stations
    cover = max(beam.cover.top, beam.cover.bottom, beam.cover.sides)
    flanges = [s.profile.flange for s in beam.spans]
    sizes = np.array([(f.thickness, f.left, f.right) if f is not None else (0.0, 0.0, 0.0) for f in flanges])[
        at.span
    ]
    return Tube(
        at.width,
        at.depth,
        np.full(len(at), cover + 0.5 * tie),
        np.full(len(at), cover + tie + HALF_BAR),
        sizes[:, 0],
        sizes[:, 1],
        sizes[:, 2],
    )


def strut(beam: Beam, code: DesignCode, forces: Forces, d: Array, tie: float) -> Array:
    """cot theta for the largest shear of each half span, torque counted by what it uses of the struts."""
    at, design = forces.stations, forces.design
    demand = design.shear
    if design.torsion.any() and not beam.compatible_torsion:
        demand = demand + code.torsion.equivalent_shear(tube_of(beam, forces, tie), d, design.torsion)
    peak = half_span_peak(beam, at, demand)
    return code.shear.strut(beam.concrete, at.width, d, peak, beam.detailing.reserve, design.axial_min)


def twist_of(
    beam: Beam, code: DesignCode, forces: Forces, web: Web, cot: Array, tie: float, reserve: float = 0.0
) -> Twist | None:
    """What torque asks for at every station; None without any. `reserve` is kept back of every resistance."""
    design = forces.design
    if not design.torsion.any():
        return None
    shear, torque = design.shear / (1.0 - reserve), design.torsion / (1.0 - reserve)
    tube = tube_of(beam, forces, tie)
    result = code.torsion.required(
        beam.concrete, (beam.bars, beam.stirrups), web, tube, shear, torque, cot, beam.compatible_torsion
    )
    return carried_on(forces, result, code.torsion.extension(tube.b - 2.0 * tube.tie_axis, web.d))


def carried_on(forces: Forces, twist: Twist, reach: Array) -> Twist:
    """With reinforcement going on for `reach` (n,) beyond where it is required, as much as there."""
    at, needed = forces.stations, twist.leg > 0.0
    if not needed.any() or not reach.any():
        return twist
    leg, bars, spacing = twist.leg.copy(), twist.bars.copy(), twist.spacing.copy()
    for index in range(len(at.first) - 1):
        rows = np.arange(at.first[index], at.first[index + 1])
        local = rows[needed[rows]]
        if not len(local):
            continue
        away = np.abs(at.x[rows][:, None] - at.x[local])
        nearest, more = local[away.argmin(axis=1)], ~needed[rows] & (away.min(axis=1) <= reach[rows] + 1e-6)
        for values in (leg, bars, spacing):
            values[rows] = np.where(more, values[nearest], values[rows])
    return replace(twist, leg=leg, bars=bars, spacing=spacing)


def side_rows(twist: Twist) -> int:
    """Rows of side bars that keep the bars around the section close enough, where torque asks for any."""
    required = twist.bars > 0.0
    if not required.any():
        return 0
    return max(int(np.ceil(float(twist.side[required].max()) / twist.bar_spacing - 1e-9)) - 1, 0)


def skin_bars(beam: Beam, code: DesignCode, tie: float) -> tuple[list[int], list[float]]:
    """By span the rows of side bars that a deep web asks for, and the area of each (mm2); 0 for none."""
    rows, area = [0] * len(beam.spans), [0.0] * len(beam.spans)
    for index in range(len(beam.spans)):
        apart, required, height = skin_of(beam, code, index, tie)
        if np.isfinite(apart):
            rows[index] = max(int(np.ceil(height / apart - 1e-9)) - 1, 1)
            # of the rows at both sides about half stand in the tension half
            area[index] = required / rows[index]
    return rows, area


def skin_of(beam: Beam, code: DesignCode, index: int, tie: float) -> tuple[float, float, float]:
    """Of a span: widest distance of side bars, area of those of the tension half, height between the corner
    bars."""
    span = beam.spans[index]
    cover = beam.cover.sides + tie
    apart, area = code.cracking.skin(
        beam.concrete, beam.bars, span.narrowest, span.deepest, cover, beam.service
    )
    return apart, area, span.deepest - beam.cover.top - beam.cover.bottom - 2.0 * (tie + HALF_BAR)


def side_bar_area(twist: Twist, rows: int) -> Array:
    """Of each side bar, (n,), mm2."""
    return np.asarray(twist.bars / twist.around * twist.side / (rows + 1.0))


def chord_moment(code: DesignCode, beam: Beam, twist: Twist, d: Array, rows: int | Array) -> Array:
    """Moment (n,) that torque adds to the bending of both faces: the code's own, or that whose tension steel
    is what torque asks of the bars of one face: its width, and the sides up to half way to the next bars."""
    if twist.moment is not None:
        return twist.moment
    width = 0.5 * twist.around - twist.side
    area = twist.bars / twist.around * (width + twist.side / (rows + 1.0))
    return np.asarray(
        code.bending.usual_factor * area * code.materials.steel_law(beam.bars).yield_stress * 0.9 * d
    )
