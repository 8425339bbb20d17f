"""What both faces of a proposal build on: stirrups, shift, shifted moments with reserve, torsion."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.support_width import shear_at_d, shifted_moments
from upright_bramble.analysis.twist import chord_moment, side_rows, skin_bars, twist_of
from upright_bramble.beam import (
    Beam,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Twist
from upright_bramble.proportion import stirrups
from upright_bramble.proportion.needs import Needs
from upright_bramble.section.arrays import Array, Mask, greatest_by_group


@dataclass(frozen=True)
class Start:
    """What both faces build on: depths, shift, shifted moments with reserve, stirrups; bottom steel `pulled`
    at simple ends; `rows` of side bars along the whole line; `skin`: by span those of a deep web and how much
    each of them has (mm2)."""

    ties: stirrups.Ties
    tie: float
    moments: dict[str, Array]
    shift: Array
    rows: int
    skin: tuple[tuple[int, float], ...]
    pulled: Array
    twist: Twist | None = None


def start_of(beam: Beam, code: DesignCode, forces: Forces, needs: Needs) -> Start:
    at, design = forces.stations, forces.design
    guess = at.depth - max(beam.cover.top, beam.cover.bottom) - 20.0
    ties = stirrups.choose_ties(beam, code, forces, guess - 25.0, needs)
    tie = code.sizes[ties.size].diameter
    cot, _ = stirrups.strut_and_shear(beam, code, forces, guess)
    shift = code.shear.shift(guess, cot)
    keep = 1.0 - beam.detailing.reserve
    sagging, hogging = shifted_moments(at, design, shift)
    sagging, hogging = _with_chords(beam, code, forces, guess, sagging, hogging)
    twist = twist_of(beam, code, forces, stirrups.web(forces, guess), cot, tie)
    rows = side_rows(twist) if twist is not None else 0
    if twist is not None:
        pull = chord_moment(code, beam, twist, guess, rows)
        sagging, hogging = sagging + pull, hogging + pull
    moments = {"bottom": sagging / keep, "top": hogging / keep}
    # tension pulls at both faces; compression is left to verification, which counts it
    pull = 0.5 * np.maximum(-design.axial_min, 0.0) * 0.9 * guess
    moments = {face: m + pull / keep for face, m in moments.items()}
    for face, zones in (("bottom", at.span), ("top", top_zones(beam, forces))):
        factors = np.array([needs.bending.get((face, i), 1.0) for i in range(int(zones.max()) + 1)])
        moments[face] = moments[face] * factors[zones] * needs.relief.get(face, 1.0)
    start = Start(
        ties=ties,
        tie=tie,
        moments=moments,
        shift=shift,
        rows=max(rows, beam.detailing.side_rows),
        skin=tuple(zip(*skin_bars(beam, code, tie), strict=True)),
        pulled=np.zeros(len(at)),
        twist=twist,
    )
    return replace(start, pulled=_end_force(beam, code, forces, start))


def _with_chords(
    beam: Beam, code: DesignCode, forces: Forces, d: Array, sagging: Array, hogging: Array
) -> tuple[Array, Array]:
    """With what shear pulls in the bars of both faces; of top bars not nearer to a direct support than d."""
    at, design, web = forces.stations, forces.design, stirrups.web(forces, d)

    def pulled(signed: Array, sign: float) -> Array:
        def acting() -> tuple[Array, Array]:
            """Shear of every set that acts, and its moment, as far as support widths leave it: (sets, n)."""
            together = forces.acting_together
            if together is None:
                return shear_at_d(beam, at, design.shear, d)[None], signed[None]
            return shear_at_d(beam, at, np.abs(together[1]), d), np.minimum(sign * together[0], signed)

        return code.shear.chord_moment(
            beam.concrete, beam.stirrups, web, acting, signed, greatest_by_group(signed, at.span)
        )

    faces = np.array([s.x - sign * 0.5 * s.width for s in beam.supports if s.direct for sign in (-1.0, 1.0)])
    away = np.abs(at.x[:, None] - faces).min(axis=1, initial=np.inf) >= d
    return np.maximum(sagging, pulled(design.moment_max, 1.0)), np.where(
        away, np.maximum(hogging, pulled(-design.moment_min, -1.0)), hogging
    )


SLIGHT = 0.02  # of a span's greatest hogging: no more is none to speak of


def top_zones(beam: Beam, forces: Forces) -> np.ndarray:
    """The support whose bars are for the hogging at each station, (n,): the nearest; where a short span hogs
    past its middle, the one on whose side of the idle part, or of the least hogging, it lies."""
    at = forces.stations
    result = nearest_supports(beam, at.x)
    for i, span in enumerate(beam.spans):
        if span.left is None or span.right is None:
            continue
        rows = at.of(i)
        x, hogging = at.x[rows], np.maximum(-forces.design.moment_min[rows], 0.0)
        idle = x[hogging <= SLIGHT * max(float(hogging.max()), 1.0)]
        middle = 0.5 * (beam.supports[span.left].x + beam.supports[span.right].x)
        if len(idle) and idle.min() <= middle <= idle.max():
            continue
        divide = 0.5 * float(idle.min() + idle.max()) if len(idle) else float(x[hogging.argmin()])
        result[rows] = np.where(x < divide, span.left, span.right)
    return result


def nearest_supports(beam: Beam, x: Array) -> np.ndarray:
    return np.asarray(np.abs(x[:, None] - np.array([s.x for s in beam.supports])).argmin(axis=1))


def inside_ends(beam: Beam, x: Array) -> Mask:
    """Stations where sections are not designed: bars are only being anchored there."""
    low, high = beam.design_range
    return np.asarray((x < low - 1e-6) | (x > high + 1e-6))


def _end_force(beam: Beam, code: DesignCode, forces: Forces, start: Start) -> Array:
    """Bottom steel that the force at simple ends asks for at the face, with reserve, (n,) and 0 elsewhere."""
    at = forces.stations
    result = np.zeros(len(at))
    d = at.depth - beam.cover.bottom - start.tie - 10.0
    cot, _ = stirrups.strut_and_shear(beam, code, forces, d)
    force = code.curtailment.end_force(forces.design.shear, d, cot) + np.maximum(
        -forces.design.axial_min, 0.0
    )
    if start.twist is not None:
        rows = np.array([max(start.rows, skin) for skin, _ in start.skin])[at.span]
        width = 0.5 * start.twist.around - start.twist.side
        area = start.twist.bars / start.twist.around * (width + start.twist.side / (rows + 1.0))
        force = force + area * code.materials.steel_law(beam.bars).yield_stress
    yielding = code.materials.steel_law(beam.bars).yield_stress * (1.0 - beam.detailing.reserve)
    for s, span, face in (
        (0, beam.spans[0].left, beam.design_range[0]),
        (-1, beam.spans[-1].right, beam.design_range[1]),
    ):
        if span is None or beam.supports[s].fixed:
            continue
        near = np.abs(at.x - face) < 1e-3
        result[near] = force[near] / yielding
    return result
