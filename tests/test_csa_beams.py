"""Beams by CSA A23.3 as a whole: shear by the general method from forces that act together."""

from __future__ import annotations

import math

import numpy as np
import pytest

import upright_bramble as ub
from plain_beams import CSA, beam, dead, live, written
from upright_bramble.verify.strength import anchored_faces

PROFILE = {"profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 300}}}


def designed(bars: str = "500W", **more):
    base = {**CSA, **PROFILE, "reinforcement": {"bars": bars, "stirrups": "400W"}, **more}
    spans = [{"span": length, "profile": "p"} for length in (6.4, 8.0, 5.2)]
    result = ub.design(
        beam(written(base, spans, [dead({"line": 14}, weight=True), live({"line": 24}, category="general")]))
    )
    assert result.status == "pass"
    return result


def by_hand(result, i: int, moment: float, shear: float, area: float) -> float:
    """V_r at a station by 11.3.6.4, in plain numbers; no torque, no axial force."""
    f, b = result.facts, result.beam
    d_v = max(0.9 * f.strength.d_shear[i], 0.72 * 600.0)
    pull = max(abs(moment), shear * d_v) / d_v + shear
    strain = min(pull / (2.0 * 200_000.0 * area), 0.003) if area else 0.003  # none is anchored over a lap
    stirrups, minimum = f.strength.spare[i], 0.06 * math.sqrt(b.concrete.strength) * 300.0 / 400.0
    crack = 300.0 if stirrups >= minimum else max(35.0 * d_v / (15.0 + b.concrete.aggregate), 0.85 * d_v)
    beta, theta = (
        0.4 / (1.0 + 1500.0 * strain) * 1300.0 / (1000.0 + crack),
        math.radians(29.0 + 7000.0 * strain),
    )
    concrete = 0.65 * beta * math.sqrt(b.concrete.strength) * 300.0 * d_v
    return min(
        concrete + 0.85 * stirrups * 400.0 * d_v / math.tan(theta),
        0.25 * 0.65 * b.concrete.strength * 300.0 * d_v,
    )


def test_general_shear_goes_by_sets_that_act_together():
    """Ratio and set at every station away from supports, found once more set by set; the extremes of all sets together would give more."""
    result = designed()
    f, fewer = result.facts, 0
    rows = f.forces.rows["strength"]
    moment, shear = (
        f.forces.factors["strength"] @ e for e in (f.forces.responses.moment, f.forces.responses.shear)
    )
    bottom, top = anchored_faces(f.code, f.placed, f.strength.d_shear)
    away = (
        np.abs(f.at.x[:, None] - np.array([s.x for s in f.beam.supports])).min(axis=1) > 800.0
    )  # nearer, V is that at d
    for i in np.flatnonzero(away & f.strength.valid):
        ratios = [
            v / by_hand(result, i, m, v, bottom[i] if m >= 0.0 else top[i])
            for m, v in zip(moment[:, i], np.abs(shear[:, i]), strict=True)
        ]
        worst = int(np.argmax(ratios))
        assert f.strength.shear_demand[i] / f.strength.shear.total[i] == pytest.approx(
            ratios[worst], rel=1e-6
        )
        assert rows[int(f.strength.governing_set[i])].label == f.origin(i, "")
        greatest, together = float(np.abs(moment[:, i]).max()), float(np.abs(shear[:, i]).max())
        fewer += (
            together / by_hand(result, i, greatest, together, f.strength.web.a_sl[i]) > ratios[worst] * 1.02
        )
    assert fewer > 20


def test_strong_bars_beside_plain_stirrups_leave_the_simplified_method():
    """11.3.6.3 goes by the bars along the beam; the stirrups are of 400 MPa in both."""
    strong, plain = designed("500W"), designed("400W")
    assert strong.facts.strength.governing_set is not None
    assert plain.facts.strength.governing_set is None
    assert set(plain.facts.strength.shear.cot.round(6)) == {round(1.0 / math.tan(math.radians(35.0)), 6)}


def test_the_force_of_a_chord_is_of_one_set():
    """11.3.9.2, simplified method: of the sets the one that pulls the bottom of a span most, by plain numbers."""
    result = designed("400W")
    f, cot = result.facts, 1.0 / math.tan(math.radians(35.0))
    moment, shear = (
        f.forces.factors["strength"] @ e for e in (f.forces.responses.moment, f.forces.responses.shear)
    )
    check = next(c for c in result.checks if c.id == "chord-force.bottom.2")
    i = check.station
    d_v = max(0.9 * f.strength.d_shear[i], 0.72 * 600.0)
    v = np.abs(shear[:, i])
    v_s = 0.85 * f.strength.spare[i] * 400.0 * d_v * cot
    force = (moment[:, i] / d_v + (v - 0.5 * np.minimum(v_s, v)) * cot).max()
    limit = f.forces.design.moment_max[f.at.of(1)].max() / d_v
    assert check.demand == pytest.approx(min(force, limit), rel=1e-6)


def test_torsion_goes_by_the_angle_of_the_method():
    """Strong bars crack more: the struts of torsion do not have the 35 degrees of the simplified method."""
    base = {**CSA, **PROFILE, "reinforcement": {"bars": "500W", "stirrups": "400W"}}
    loads = [dead({"line": 14}, {"torque": 6, "on": 1}, weight=True), live({"line": 18}, category="general")]
    result = ub.design(beam(written(base, [{"span": 6.4, "profile": "p"}], loads)))
    f = result.facts
    w = f.strength.twisted_web
    i = int(np.argmax(np.where(w.a_sl > 0.0, f.strength.twist.leg, 0.0)))
    d_v = max(0.9 * w.d[i], 0.72 * 600.0)
    strain = (max(w.moment[i], w.shear[i] * d_v) / d_v + math.hypot(w.shear[i], w.twisting[i])) / (
        2.0 * 200_000.0 * w.a_sl[i]
    )
    theta = math.radians(29.0 + 7000.0 * min(strain, 0.003))
    x_1 = 300.0 - 2.0 * (max(f.beam.cover.top, f.beam.cover.bottom, f.beam.cover.sides) + 0.5 * f.placed.tie)
    y_1 = x_1 + 300.0
    leg = f.forces.design.torsion[i] * math.tan(theta) / (2.0 * 0.85 * x_1 * y_1 * 0.85 * 400.0)
    assert f.strength.twist.leg[i] == pytest.approx(leg, rel=1e-6)
    assert theta != pytest.approx(math.radians(35.0), rel=1e-3)
