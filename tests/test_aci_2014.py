"""ACI 318-14 by what differs from the 2019 edition, each number by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.aci318.edition_2014 import cover_factor
from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC
from upright_bramble.codes.parts import Web
from upright_bramble.errors import CodeError
from upright_bramble.section.cracked import Elastic

US, SI, NEWER = get_code("aci318-14"), get_code("aci318m-14"), get_code("aci318-19")
PSI, IN, KIP, LB = 6.894757293168361e-3, 25.4, 4448.2216, 4.4482216
CONCRETE = Concrete(4000.0 * PSI)
GRADE_60 = Steel(60_000.0 * PSI)


def _web(axial: float = 0.0) -> Web:
    one = np.array([1.0])
    return Web(12.0 * IN * one, 21.5 * IN * one, 1.0 * IN**2 * one, 288.0 * IN**2 * one, axial * one)


def test_concrete_carries_twice_the_root_without_size_effect():
    for stirrups in (0.0, 1.0):
        state = US.shear.state(CONCRETE, GRADE_60, _web(), np.array([stirrups]), np.ones(1))
        assert state.concrete[0] / KIP == pytest.approx(
            0.75 * 2.0 * math.sqrt(4000.0) * 12.0 * 21.5 / 1000.0, rel=1e-6
        )


@pytest.mark.parametrize(
    ("kips", "share"),
    [(50.0, 1.0 + 50_000.0 / 288.0 / 2000.0), (-30.0, 1.0 - 30_000.0 / 288.0 / 500.0), (-200.0, 0.0)],
)
def test_axial_force_changes_what_the_concrete_carries(kips, share):
    state = US.shear.state(CONCRETE, GRADE_60, _web(kips * KIP), np.zeros(1), np.ones(1))
    assert state.concrete[0] / KIP == pytest.approx(
        0.75 * share * 2.0 * math.sqrt(4000.0) * 12.0 * 21.5 / 1000.0, abs=1e-3
    )


def test_legs_across_the_beam_have_no_rule():
    assert np.isinf(US.shear.maximum_leg_spacing(CONCRETE, _web(), np.array([1e6]))).all()
    assert np.isfinite(NEWER.shear.maximum_leg_spacing(CONCRETE, _web(), np.array([1e6]))).all()


def test_strain_of_tension_control_and_the_least_strain():
    eps_ty = 60_000.0 / 29e6
    phi = US.bending.resistance_factor(np.array([0.005, 0.004, eps_ty]), GRADE_60)
    assert phi == pytest.approx([0.9, 0.65 + 0.25 * (0.004 - eps_ty) / (0.005 - eps_ty), 0.65])
    assert float(US.bending.neutral_axis_limit(CONCRETE, GRADE_60)) == pytest.approx(0.003 / 0.007)
    assert float(NEWER.bending.neutral_axis_limit(CONCRETE, GRADE_60)) == pytest.approx(
        0.003 / (0.006 + eps_ty)
    )


def test_hooks_grow_with_the_diameter():
    """No. 8, 4000 psi: 0.02 f_y/sqrt(f'c) d_b = 19.0 in; 0.7 of it with the covers of 25.4.3.2."""
    plain = float(US.bond.hook(CONCRETE, GRADE_60, 1.0 * IN, 6.0 * IN, 2.0 * IN)) / IN
    covered = float(US.bond.hook(CONCRETE, GRADE_60, 1.0 * IN, 6.0 * IN, 2.5 * IN)) / IN
    assert plain == pytest.approx(0.02 * 60_000.0 / math.sqrt(4000.0))
    assert covered == pytest.approx(0.7 * plain)
    metric = float(SI.bond.hook(Concrete(28.0), Steel(420.0), 25.4, 150.0, 50.0))
    assert metric == pytest.approx(0.24 * 420.0 / math.sqrt(28.0) * 25.4)


def test_development_has_no_factor_for_the_grade():
    length = [
        float(c.bond.anchorage(CONCRETE, Steel(80_000.0 * PSI), 1.0 * IN, 2.0 * IN, 24.0 * IN))
        for c in (US, NEWER)
    ]
    assert length[0] == pytest.approx(length[1] / 1.15)
    assert not US.bond.confines(Steel(80_000.0 * PSI))
    assert math.isinf(US.bond.confining_spacing(Steel(80_000.0 * PSI), 25.4, 142.0, 4))
    with pytest.raises(CodeError, match="not in this edition"):
        US.materials.steel("Grade 100")


def test_effective_inertia_by_the_cube():
    one = np.array([1.0])
    stage = US.service.stages(CONCRETE, _Service(), one)["short"]
    gross, cracked = (
        Elastic(300.0 * one, i * one, 0.0 * one, 540.0 * one, 300.0 * one, 300.0 * one, one, one)
        for i in (5.4e9, 2.0e9)
    )
    m_cr = stage.tensile_strength * 5.4e9 / 300.0
    bent = US.service.curvature(2.0 * m_cr * one, gross, cracked, 600.0 * one, stage, False)
    i_e = 5.4e9 / 8.0 + 2.0e9 * 7.0 / 8.0
    assert float(bent[0]) == pytest.approx(2.0 * m_cr / (stage.short_modulus * i_e))
    uncracked = US.service.curvature(0.9 * m_cr * one, gross, cracked, 600.0 * one, stage, False)
    assert float(uncracked[0]) == pytest.approx(0.9 * m_cr / (stage.short_modulus * 5.4e9))


class _Service:
    age_at_loading = 28.0


def test_clauses_are_those_of_the_edition():
    assert US.words.source("ACI 318-19, 25.4.2.3") == "ACI 318-14, 25.4.2.2"
    assert US.words.source("ACI 318-19, 22.5.1.2") == "ACI 318-14, 22.5.1.2"
    assert NEWER.words.source("ACI 318-19, 25.4.2.3") == "ACI 318-19, 25.4.2.3"
    assert US.words.clauses["cover.bars"] == "25.4.2.2"


@pytest.mark.parametrize(("code", "grade", "beyond"), [(US, "80", "100"), (SI, "550", "690")])
def test_grades_end_at_80(code, grade, beyond):
    """20.2.2.4: Grade 80 (550) is in this edition, Grade 100 (690) is not."""
    assert code.materials.steel(grade).strength == pytest.approx(550.0, rel=5e-3)
    with pytest.raises(CodeError, match="not in this edition"):
        code.materials.steel(beyond)


@pytest.mark.parametrize(
    ("size", "side", "tail", "factor"),
    [
        (0.75, 2.5, 2.0, 0.7),
        (0.75, 2.45, 2.1, 1.0),
        (0.75, 2.6, 1.95, 1.0),
        (0.75, 2.6, 2.1, 0.7),
        (1.41, 2.5, 2.0, 0.7),  # No. 11
        (1.693, 3.0, 3.0, 1.0),  # No. 14
    ],
)
def test_hooks_with_cover_develop_in_less(size, side, tail, factor):
    """25.4.3.2: 2.5 in. beside the hook and 2 in. of the bar beyond it, for No. 11 and smaller; 65 and 50 mm in SI."""
    assert float(cover_factor(size * IN, side * IN, tail * IN, INCH_POUND)) == factor
    if size == 0.75:
        metric = [cover_factor(19.1, 65.0 * side / 2.5, 50.0 * tail / 2.0, METRIC)]
        assert [float(v) for v in metric] == [factor]
