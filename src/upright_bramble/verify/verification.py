"""The judgement of a layout: every check, every curve, every quantity."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam, Layout, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.errors import LayoutError
from upright_bramble.section.arrays import Array
from upright_bramble.verify.bearing import bearings_of
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.gaps import gaps
from upright_bramble.verify.messages import messages_of
from upright_bramble.verify.placement import Placed, place
from upright_bramble.verify.practice import practice
from upright_bramble.verify.quantities import STEEL_DENSITY, bar_items, quantities, side_items, stirrup_items
from upright_bramble.verify.required import required_areas
from upright_bramble.verify.result import (
    BarItem,
    Check,
    Curves,
    Message,
    Result,
    StageItem,
    StirrupItem,
    Unverified,
    accepted,
)
from upright_bramble.verify.run import judge
from upright_bramble.verify.service import Serviced, governing_lines, verify_service
from upright_bramble.verify.strength import Strength, verify_strength


def verify(beam: Beam, code: DesignCode, forces: Forces, layout: Layout) -> Result:
    """Judge the bars of `layout`.

    Raises LayoutError when there is nothing to judge: no bars, or sizes that the catalogue does not have.
    """
    if not layout.bars:
        raise LayoutError("the layout has no bars; `bramble design` proposes some")
    placed = place(beam, code, layout, forces.stations, bearings_of(beam, code, forces))
    strength = verify_strength(beam, code, forces, layout, placed)
    serviced = verify_service(beam, code, forces, placed)
    required = required_areas(beam, code, forces, strength)
    facts = Facts(
        beam=beam,
        code=code,
        forces=forces,
        placed=placed,
        strength=strength,
        serviced=serviced,
        required=required,
        layout=layout,
    )
    judged = [*judge(facts), *gaps(facts)]
    checks = [accepted(c, beam.accept) for c in judged if isinstance(c, Check)]
    bars = bar_items(code, beam, placed)
    formers = {item.bar.size: item.mandrel for item in sorted(bars, key=lambda item: item.mandrel)}
    bars += side_items(code, beam, layout, formers)
    stirrups = _with_struts(code, beam, forces, strength, layout)
    curves = _curves(forces, placed, strength, serviced, required)
    totals = quantities(beam, bars, stirrups, len(placed.laps))
    totals["main_bars_over_least"] = _over_least(forces, curves, bars)
    totals["percent_most"] = 100.0 * float(_percent(forces, curves).max())
    own_messages = [m for m in judged if isinstance(m, Message)]
    messages = [
        *messages_of(beam, code, forces, layout, placed, checks, totals["percent_most"]),
        *own_messages,
        *practice(facts, bars, stirrups),
    ]
    stages = (
        StageItem(name, s.age, s.creep, float(s.modulus.min()), s.tensile_strength, float(s.shrinkage.max()))
        for name, s in serviced.stages.items()
    )
    return Result(
        beam=beam,
        code_title=code.title,
        forces=forces,
        layout=layout,
        curves=curves,
        checks=tuple(checks),
        messages=tuple(messages),
        bars=tuple(bars),
        stirrups=tuple(stirrups),
        quantities=totals,
        sizes=code.sizes,
        stages=tuple(stages),
        has_strut_angle=bool(code.words.symbol("cot_theta")),
        facts=facts,
        gaps=tuple(g for g in judged if isinstance(g, Unverified)),
        out_of_scope=tuple(code.words.out_of_scope),
    )


def _with_struts(
    code: DesignCode, beam: Beam, forces: Forces, strength: Strength, layout: Layout
) -> list[StirrupItem]:
    """Stirrups as scheduled, each with the flattest strut that it works with and the model of its shear."""
    cot = strength.shear.cot
    models = code.shear.model(beam.concrete, beam.stirrups, strength.web, strength.ties.asw_s, cot)
    stirrups = []
    for item in stirrup_items(beam, code, layout.stirrups):
        where = _within(forces.stations.x, item.zone)
        steepest = int(where[cot[where].argmin()])
        uniform = len(set(cot)) <= 1
        names = sorted({models[k] for k in where.tolist()}) if uniform else [models[steepest]]
        stirrups.append(replace(item, strut=float(cot[steepest]), model=", ".join(names)))
    return stirrups


def _curves(
    forces: Forces, placed: Placed, strength: Strength, serviced: Serviced, required: Mapping[str, Array]
) -> Curves:
    """What is drawn along the beam, (n,) each."""
    lines, spans = serviced.lines, len(forces.beam.spans)
    at = forces.stations
    return Curves(
        design_moment_max=strength.moment_max,
        design_moment_min=-strength.moment_min,
        design_shear=strength.shear_demand,
        top_required=_finite(required["top"]),
        top_provided=placed.tension_area(False, anchored=True),
        bottom_required=_finite(required["bottom"]),
        bottom_provided=placed.face_area(True, anchored=True),
        top_percent=_of_web(placed.face_area(False, anchored=True), at.width, strength.d_top),
        bottom_percent=_of_web(placed.face_area(True, anchored=True), at.width, strength.d_bottom),
        moment_positive=strength.positive.moment,
        moment_negative=-strength.negative.moment,
        shear_total=strength.shear.total,
        shear_concrete=strength.shear.concrete,
        shear_stirrups=strength.shear.stirrups,
        strut_cot=strength.shear.cot,
        deflection_immediate=governing_lines(at, spans, lines.immediate),
        deflection_long_term=governing_lines(at, spans, lines.long_term),
        deflection_after_finishes=governing_lines(at, spans, lines.after_finishes),
        deflection_striking=governing_lines(at, spans, lines.striking),
        deflection_live=_lines_of(forces, lines.live),
        deflection_after_partitions=_lines_of(forces, lines.after_partitions),
        crack_top=serviced.cracking_top.width,
        crack_bottom=serviced.cracking_bottom.width,
        stress_top=serviced.cracking_top.stress,
        stress_bottom=serviced.cracking_bottom.stress,
    )


def _lines_of(forces: Forces, lines: np.ndarray | None) -> np.ndarray | None:
    """The governing line of each span, where there are any."""
    return None if lines is None else governing_lines(forces.stations, len(forces.beam.spans), lines)


def _over_least(forces: Forces, curves: Curves, bars: Sequence[BarItem]) -> float:
    """Mass of the bars over the theoretical least: what the sections ask for, integrated along the beam."""
    at, required = forces.stations, curves.top_required + curves.bottom_required
    minimum = (
        sum(float(np.trapezoid(required[at.of(i)], at.x[at.of(i)])) for i in range(len(at.first) - 1))
        * STEEL_DENSITY
    )
    return sum(i.mass for i in bars) / minimum if minimum > 0.0 else 0.0


def _within(x: np.ndarray, zone: StirrupZone) -> np.ndarray:
    """Stations within a zone, or the one next to it."""
    inside = np.flatnonzero((x >= zone.start - 1e-6) & (x <= zone.end + 1e-6))
    return inside if len(inside) else np.array([np.abs(x - zone.start).argmin()])


def _of_web(area: np.ndarray, width: np.ndarray, d: np.ndarray) -> np.ndarray:
    """In percent of b d."""
    return np.asarray(100.0 * area / (width * np.maximum(d, 1.0)))


def _finite(area: np.ndarray) -> np.ndarray:
    """Sections that no steel is enough for show 0 here and fail their check."""
    return np.where(np.isfinite(area), area, 0.0)


def _percent(forces: Forces, curves: Curves) -> np.ndarray:
    """Tension steel over the gross section, per face the larger."""
    gross = forces.stations.sections.strips.gross()[0]
    return np.maximum(curves.top_provided, curves.bottom_provided) / gross
