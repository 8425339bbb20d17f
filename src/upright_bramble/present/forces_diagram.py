"""Envelopes of forces along a beam, before there is any result."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.support_width import shear_at_d
from upright_bramble.beam import Beam
from upright_bramble.files.result_data import beam_data
from upright_bramble.files.result_file import BeamOut
from upright_bramble.present.diagrams import LARGE, MEDIUM, WIDTH, Sheet, filled
from upright_bramble.present.panels import BROKEN, DASHED, Curve, Fill, Ground, Panel, end_marks, moment_marks
from upright_bramble.present.scene import Scene, Words
from upright_bramble.section.arrays import Array


def forces_diagram(beam: Beam, forces: Forces, level: str = "strength") -> Scene:
    """Envelopes of a level on centrelines, with the peaks named."""
    ground = _ground_of(beam, forces)
    sheet = Sheet(Scene(WIDTH, title=f"forces along {beam.mark}"), ground)
    sheet.scene.add(Words(16.0, 42.0, f"{beam.mark}  {beam.title}", LARGE, bold=True))
    sets = len(forces.envelopes[level].labels)
    sheet.scene.add(Words(16.0, 64.0, f"{level.replace('_', '-')} level, {sets} sets of forces", MEDIUM))
    sheet.scene.height = filled(sheet, _panels_of(beam, forces, level, ground), 84.0, spans=True)
    return sheet.scene


def _ground_of(beam: Beam, forces: Forces) -> Ground:
    known = BeamOut.model_validate(beam_data(beam))
    return Ground(known, forces.stations.x, forces.stations.span + 1)


def _panels_of(beam: Beam, forces: Forces, level: str, g: Ground) -> list[Panel]:
    """Envelopes of a level on centrelines; for strength what sections are designed for beside them."""
    e, strength = forces.envelopes[level], level == next(iter(forces.envelopes))
    k, f = g.system.factor("moment"), g.system.factor("force")
    high, low = e.moment_max / k, e.moment_min / k
    curves = [*_pair(high, low, "envelope on centrelines")]
    if strength and forces.redistributed is not None:
        after = forces.redistributed
        curves += [
            Curve(after.moment_max / k, "berry", BROKEN, 1.2),
            Curve(after.moment_min / k, "berry", BROKEN, 1.2, "after redistribution"),
        ]
    if strength:
        designed = np.minimum(forces.design.moment_min, 0.0) / k
        curves.append(Curve(designed, "straw", DASHED, 1.3, "for design: over the support's width"))
    every = np.ones(len(high), dtype=bool)
    moment = Panel(
        "moment",
        "moment",
        g.system.unit("moment"),
        300.0,
        tuple(curves),
        (Fill(low, high, "mist"),),
        moment_marks(g, high, low, every, within=False),
        down=True,
    )
    design = (
        shear_at_d(beam, forces.stations, forces.design.shear, 0.9 * forces.stations.depth) / f
        if strength
        else None
    )
    result = [
        moment,
        _at_ends(g, "shear", g.system.unit("force"), e.shear_.high / f, e.shear_.low / f, design),
    ]
    if forces.responses.twisted:
        result.append(
            _at_ends(g, "torsion", g.system.unit("moment"), e.torsion_.high / k, e.torsion_.low / k, None)
        )
    return result


def _pair(high: Array, low: Array, name: str) -> Sequence[Curve]:
    return Curve(high, "ink", name=name), Curve(low, "ink")


def _at_ends(g: Ground, title: str, unit: str, high: Array, low: Array, design: Array | None) -> Panel:
    """An envelope that is largest at the ends of spans, with its values there."""
    curves = [*_pair(high, low, "envelope")]
    if design is not None:
        curves.append(
            Curve(np.minimum(high, design), "straw", DASHED, 1.3, "for stirrups: at d from the face")
        )
        curves.append(Curve(np.maximum(low, -design), "straw", DASHED, 1.3))
    marks = end_marks(g, high, low, np.ones(len(high), dtype=bool))
    return Panel(title, title, unit, 260.0, tuple(curves), (Fill(low, high, "mist"),), marks)
