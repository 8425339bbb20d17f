"""The design code as an object: national values, combinations, arrangements, and what must move with what."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes import get_code, known_codes
from upright_bramble.codes.en1992 import bond, cracking, materials, service, shear
from upright_bramble.codes.parts import Group, Web
from upright_bramble.errors import CodeError

EN, UK = get_code("en1992-1-1"), get_code("en1992-1-1", "uk")
C30, B500 = Concrete(30.0), Steel(500.0)
strengths = st.sampled_from([12.0, 20.0, 30.0, 40.0, 50.0, 60.0, 80.0, 90.0])


def test_known_codes_and_annexes():
    assert "en1992-1-1" in known_codes()
    assert EN.annex == "recommended"
    assert "UK" in UK.title
    for wrong in (("nonsense", None), ("en1992-1-1", "nowhere")):
        with pytest.raises(CodeError, match="is not a valid"):
            get_code(*wrong)


def test_annex_values():
    """What the UK annex changes, and what it leaves."""
    differ = {k for k in EN.values if EN.values[k].value != UK.values[k].value and not k.startswith("psi_")}
    assert differ == {
        "alpha_cc",
        "k_1",
        "k_2_strain",
        "k_3",
        "k_4_strain",
        "f_ck_shear_max",
        "beta_1",
        "xi",
        "span_depth_most",
        "w_max_dry",
    }
    assert all(v.clause for v in UK.values.values())
    assert UK.materials.concrete_law(C30).stress == pytest.approx(17.0)
    assert EN.materials.concrete_law(C30).stress == pytest.approx(20.0)


def test_a_value_of_ones_own():
    code = get_code("en1992-1-1", "uk", {"gamma_c": 1.4})
    assert code.values["gamma_c"].changed
    assert not code.values["gamma_s"].changed
    assert code.materials.concrete_law(C30).stress == pytest.approx(0.85 * 30 / 1.4)
    for key, value in (("gamma_c", -1.0), ("gamma_c", float("nan")), ("gamma_c", 0.0), ("gamma_q", 1.5)):
        with pytest.raises(CodeError, match=r"cannot be used|is not a valid code value"):
            get_code("en1992-1-1", None, {key: value})


def test_grades_and_steels():
    assert EN.materials.concrete_strength("C32/40") == 32.0
    assert EN.materials.steel("B500C").ductility == "C"
    for call in (lambda: EN.materials.concrete_strength("C30"), lambda: EN.materials.steel("S355")):
        with pytest.raises(CodeError, match="is not a valid"):
            call()


def test_neutral_axis_limits_without_redistribution():
    """5.5(4) with delta = 1: (1 - 0.44)/1.25, and 0.6 in the UK; lower above C50."""
    assert EN.bending.neutral_axis_limit(C30, B500) == pytest.approx(0.448)
    assert UK.bending.neutral_axis_limit(C30, B500) == pytest.approx(0.6)
    high = Concrete(70.0)
    assert EN.bending.neutral_axis_limit(high, B500) == pytest.approx(
        (1 - 0.54) / (1.25 * (0.6 + 0.0014 / 0.00265643)), rel=1e-4
    )
    assert EN.bending.neutral_axis_limit(high, B500) < EN.bending.neutral_axis_limit(C30, B500)


def test_combinations_of_one_and_of_none():
    names = [c.name for c in EN.actions.combinations([Group("B", "imposed", "B")]) if c.level == "strength"]
    assert names == ["1.35 G", "1.35 G + 1.5 Q[B]", "1 G", "1 G + 1.5 Q[B]"]
    levels = {c.level: c for c in EN.actions.combinations([])}
    assert set(levels) == {"strength", "characteristic", "frequent", "quasi_permanent"}
    assert all(c.variable == () for c in EN.actions.combinations([]))


def test_accompanying_factors():
    """EN 1990 6.10: the leader in full, the others with psi_0; service levels with psi_1 and psi_2."""
    groups = [Group("C", "imposed", "C"), Group("H", "imposed", "H")]
    result = {(c.level, c.permanent, c.variable) for c in EN.actions.combinations(groups)}
    assert ("strength", 1.35, (1.5, 0.0)) in result
    assert ("strength", 1.35, (1.5 * 0.7, 1.5)) in result
    assert ("characteristic", 1.0, (0.7, 1.0)) in result
    assert ("frequent", 1.0, (0.7, 0.0)) in result
    assert ("frequent", 1.0, (0.6, 0.0)) in result
    assert ("quasi_permanent", 1.0, (0.6, 0.0)) in result
    uk = {(c.level, c.permanent, c.variable) for c in UK.actions.combinations(groups)}
    assert ("strength", 1.35, (1.5, 1.5 * 0.7)) in uk  # roofs accompany in the UK


@given(st.integers(1, 12))
def test_arrangements(spans):
    result = dict(EN.analysis.arrangements(spans))
    assert all(len(row) == spans for row in result.values())
    assert len(set(result.values())) == len(result)
    rows = set(result.values())
    assert tuple([True] * spans) in rows
    assert tuple([False] * spans) in rows
    for a in range(spans - 1):
        if spans > 2:
            assert tuple(i in (a, a + 1) for i in range(spans)) in rows
    if spans > 1:
        assert tuple(i % 2 == 0 for i in range(spans)) in rows
        assert tuple(i % 2 == 1 for i in range(spans)) in rows


@given(st.floats(1e4, 2e6), st.floats(150.0, 600.0), st.floats(200.0, 1200.0), strengths)
def test_strut_is_the_flattest_that_holds(v, b, d, f_ck):
    concrete = Concrete(f_ck)
    arrays = [np.array([x]) for x in (b, d, v)]
    cot = EN.shear.strut(concrete, *arrays, 0.0)
    nothing = np.zeros(1)
    state = EN.shear.state(
        concrete, B500, Web(arrays[0], arrays[1], nothing, arrays[0] * arrays[1]), nothing, cot
    )
    assert 1.0 <= cot[0] <= 2.5
    if cot[0] > 1.0 + 1e-9:
        assert state.crushing[0] >= v * (1 - 1e-9)
    if 1.0 + 1e-6 < cot[0] < 2.5 - 1e-6:
        assert state.crushing[0] == pytest.approx(v)
    with_reserve = EN.shear.strut(concrete, *arrays, 0.1)
    assert with_reserve[0] <= cot[0] + 1e-12


@given(
    st.floats(150.0, 600.0), st.floats(200.0, 1200.0), st.floats(0.0, 5000.0), st.floats(0.1, 3.0), strengths
)
def test_shear_resistance_grows(b, d, a_sl, asw_s, f_ck):
    concrete, cot = Concrete(f_ck), np.array([1.5])

    def state(more_steel: float = 1.0, more_ties: float = 1.0):
        return EN.shear.state(
            concrete, B500, Web(*(np.array([v]) for v in (b, d, more_steel * a_sl, b * d))), np.array([more_ties * asw_s]), cot
        )  # fmt: skip

    base = state()
    assert state(more_steel=1.5).concrete[0] >= base.concrete[0]
    assert state(more_ties=1.5).stirrups[0] == pytest.approx(1.5 * base.stirrups[0])
    assert base.total[0] <= base.crushing[0]
    assert base.total[0] >= min(base.concrete[0], base.crushing[0])
    # the concrete's share never falls below its minimum without any steel
    assert base.concrete[0] >= state(more_steel=0.0).concrete[0]


def test_uk_caps_the_strength_in_shear():
    b, d, a_sl, asw_s, cot, gross = (np.array([v]) for v in (300.0, 450.0, 2000.0, 0.5, 2.0, 150e3))
    args = (Web(b, d, a_sl, gross), asw_s, cot)
    strong, capped = (UK.shear.state(Concrete(f), B500, *args) for f in (70.0, 50.0))
    np.testing.assert_allclose(strong.concrete, capped.concrete)
    np.testing.assert_allclose(strong.crushing, capped.crushing)
    assert EN.shear.state(Concrete(70.0), B500, *args).concrete[0] > strong.concrete[0]


@given(st.floats(6.0, 40.0), strengths)
def test_anchorage_grows_with_the_bar_and_falls_with_strength(phi, f_ck):
    concrete = Concrete(f_ck)
    good = float(EN.bond.anchorage(concrete, B500, phi, 50.0, 500.0))
    assert good < float(EN.bond.anchorage(concrete, B500, 1.1 * phi, 50.0, 500.0))
    assert good == pytest.approx(0.7 * float(EN.bond.anchorage(concrete, B500, phi, 450.0, 500.0)))
    assert good >= float(EN.bond.anchorage(Concrete(min(f_ck + 10.0, 90.0)), B500, phi, 50.0, 500.0)) - 1e-9
    assert float(EN.bond.lap(concrete, B500, phi, 50.0, 500.0)) >= 1.5 * good - 1e-6
    assert float(EN.bond.minimum_anchorage(good, phi)) >= 10.0 * phi
    assert float(EN.bond.minimum_anchorage(good, phi)) <= max(good, 100.0, 10.0 * phi)


@pytest.mark.parametrize(
    ("height", "h", "good"),
    [
        (50, 200, True),
        (240, 240, True),
        (250, 500, True),
        (251, 500, False),
        (300, 600, False),
        (350, 700, True),
        (401, 700, False),
    ],
)
def test_bond_conditions(height, h, good):
    """Figure 8.2: the lowest 250 mm are good, in deep members all but the top 300 mm."""
    assert bool(bond.good_bond(float(height), float(h))) is good


@given(st.floats(30.0, 90.0), st.floats(60.0, 600.0), st.floats(3.0, 90.0), st.sampled_from("SNR"))
def test_creep_and_shrinkage_move_the_right_way(humidity, h_0, age, cement):
    creep = materials.creep_coefficient
    base = float(creep(30.0, humidity, h_0, age, cement=cement))
    assert base > 0
    assert float(creep(30.0, humidity, h_0, age + 30.0, cement=cement)) < base  # older concrete creeps less
    assert float(creep(30.0, min(humidity + 5, 95.0), h_0, age, cement=cement)) <= base
    assert float(creep(45.0, humidity, h_0, age, cement=cement)) < base
    grown = [float(creep(30.0, humidity, h_0, age, age + t, cement)) for t in (1.0, 30.0, 1000.0, 1e7)]
    assert grown == sorted(grown)
    assert grown[-1] == pytest.approx(base, rel=1e-3)
    shrunk = [
        float(materials.shrinkage_strain(30.0, humidity, h_0, t, cement=cement))
        for t in (8.0, 100.0, 1e4, float("inf"))
    ]
    assert shrunk == sorted(shrunk)


def test_stages():
    stages = EN.service.stages(C30, Service(), np.array([300 * 500 / 800.0, 300 * 900 / 1200.0]))
    assert set(stages) == {"short", "striking", "finishes", "partitions", "lasting"}
    short, finishes, lasting = (stages[k] for k in ("short", "finishes", "lasting"))
    assert (short.modulus > finishes.modulus).all()
    assert (finishes.modulus > lasting.modulus).all()
    assert lasting.modulus[1] > lasting.modulus[0]  # the thicker one creeps less
    assert (lasting.shrinkage > finishes.shrinkage).all()
    assert short.short_modulus == lasting.short_modulus == materials.secant_modulus(30.0)


@given(st.floats(50.0, 400.0), st.floats(0.003, 0.05), st.floats(5.0, 20.0))
def test_strain_difference_bounds(sigma, rho, alpha):
    result = float(cracking.strain_difference(sigma, rho, alpha, 2.9))
    assert 0.6 * sigma / 200_000 <= result <= sigma / 200_000


@given(st.floats(1e6, 1e9), st.floats(1e6, 1e9))
def test_distribution_lies_between_uncracked_and_cracked(m, m_cr):
    lasting, short = (float(service.distribution(m, m_cr, beta)) for beta in (0.5, 1.0))
    assert 0.0 <= short <= lasting <= 1.0
    assert (lasting == 0.0) == (m <= m_cr)


def test_shift_and_end_force_belong_together():
    """a_l = z cot/2 and F = V a_l / z = V cot / 2."""
    d, cot, v = 500.0, 2.0, 1e5
    assert float(EN.shear.shift(d, cot)) == pytest.approx(0.45 * d * cot)
    assert float(EN.curtailment.end_force(v, d, cot)) == pytest.approx(0.5 * v * cot)
    assert float(shear.additional_tension(v, cot)) == pytest.approx(0.5 * v * cot)
