"""Sections: closed forms against strain compatibility, and what must grow with what."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.section.arrays import window_max
from upright_bramble.section.cracked import cracked, uncracked
from upright_bramble.section.strength import Block, bending_resistance, required_steel
from upright_bramble.section.strips import Strips, rectangle, tee

CODE = get_code("en1992-1-1")
widths, depths_ = st.floats(150.0, 800.0), st.floats(250.0, 1500.0)


def _one(*values: float) -> np.ndarray:
    return np.array([list(values)])


@given(widths, depths_, st.floats(0.02, 0.45), st.sampled_from([20.0, 30.0, 45.0, 60.0, 80.0]))
def test_required_steel_verifies(b, h, mu, f_ck):
    """Steel from the closed form gives just the moment it was asked for, singly and doubly reinforced."""
    concrete, steel = CODE.materials.concrete_law(Concrete(f_ck)), CODE.materials.steel_law(Steel(500.0))
    limit = CODE.bending.neutral_axis_limit(Concrete(f_ck), Steel(500.0))
    d, d_2 = 0.9 * h, 0.08 * h
    moment = np.array([mu * b * d**2 * concrete.stress])
    block = Block(*(np.array([v]) for v in (b, b, 0.0)))
    tension, compression, _ = required_steel(
        moment, block, np.array([d]), np.array([d_2]), concrete, steel, limit
    )
    assume(np.isfinite(tension[0]))
    result = bending_resistance(
        rectangle(b, h), _one(tension[0], compression[0]), _one(d, d_2), concrete, steel
    )
    if compression[0] > 0.0:
        assert result.moment[0] == pytest.approx(moment[0], rel=1e-6)
        assert result.x[0] == pytest.approx(limit * d, rel=1e-6)
    else:
        assert result.moment[0] == pytest.approx(moment[0], rel=1e-6)
        assert result.x[0] <= limit * d * (1 + 1e-9)


@given(widths, depths_, st.floats(200.0, 6000.0), st.floats(1.01, 1.5))
def test_resistance_grows_with_steel(b, h, area, more):
    concrete, steel = CODE.materials.concrete_law(Concrete(30.0)), CODE.materials.steel_law(Steel(500.0))
    areas = np.array([[area, 300.0], [more * area, 300.0], [area, more * 300.0]])
    depths = np.broadcast_to(np.array([0.9 * h, 50.0]), (3, 2))
    m = bending_resistance(rectangle(np.full(3, b), np.full(3, h)), areas, depths, concrete, steel).moment
    assert m[1] > m[0] * (1 - 1e-9)
    assert m[2] >= m[0] * (1 - 5e-3)  # a bar near the neutral axis displaces concrete and may do nothing


@given(st.floats(0.3, 3.0))
def test_block_and_parabola_agree(percent):
    concrete = Concrete(30.0)
    steel = CODE.materials.steel_law(Steel(500.0))
    areas, depths = _one(percent / 100 * 300 * 500), _one(500.0)
    block = bending_resistance(
        rectangle(300, 550), areas, depths, CODE.materials.concrete_law(concrete), steel
    ).moment[0]
    curve = bending_resistance(
        rectangle(300, 550), areas, depths, CODE.materials.parabola_law(concrete), steel
    ).moment[0]
    assert block == pytest.approx(curve, rel=0.02)


def test_no_tension_steel_no_resistance():
    concrete, steel = CODE.materials.concrete_law(Concrete(30.0)), CODE.materials.steel_law(Steel(500.0))
    result = bending_resistance(rectangle(300, 500), _one(0.0, 0.0), _one(450.0, 50.0), concrete, steel)
    assert result.moment[0] == 0.0


def test_tee_turned_is_an_inverted_tee():
    t = tee(900.0, 150.0, 300.0, 600.0)
    turned = t.turned()
    area, first = t.first(np.array([600.0]))
    area_t, first_t = turned.first(np.array([600.0]))
    assert area[0] == area_t[0] == 900 * 150 + 300 * 450
    assert first[0] + first_t[0] == pytest.approx(area[0] * 600.0)


@given(widths, depths_, st.floats(200.0, 5000.0), st.floats(4.0, 25.0))
def test_cracked_section_by_quadratic(b, h, area, alpha):
    """b x^2/2 = alpha A (d - x), by hand."""
    d = 0.9 * h
    x = alpha * area / b * (np.sqrt(1 + 2 * b * d / (alpha * area)) - 1)
    result = cracked(rectangle(b, h), _one(area), _one(d), alpha)
    assert result.x[0] == pytest.approx(x, rel=1e-9)
    assert result.i[0] == pytest.approx(b * x**3 / 3 + alpha * area * (d - x) ** 2, rel=1e-9)
    assert result.s[0] == pytest.approx(area * (d - x), rel=1e-9)
    whole = uncracked(rectangle(b, h), _one(area), _one(d), alpha)
    assert whole.i[0] > b * h**3 / 12


def test_uncracked_without_bars_is_gross():
    whole = uncracked(
        Strips(_one(300.0), _one(300.0), _one(0.0), _one(500.0)), np.zeros((1, 1)), _one(450.0), 7.0
    )
    assert whole.x[0] == 250.0
    assert whole.i[0] == pytest.approx(300 * 500**3 / 12)


@given(
    st.lists(st.tuples(st.floats(0, 1000), st.floats(-5, 5)), min_size=2, max_size=40), st.floats(0.0, 400.0)
)
def test_window_max_by_brute_force(points, reach):
    x = np.array(sorted(p[0] for p in points))
    y = np.array([p[1] for p in points])
    got = window_max(x, y, reach)
    fine = np.linspace(-reach, reach, 41)
    for i, here in enumerate(x):
        inside = y[np.abs(x - here) <= reach]
        assert got[i] >= inside.max() - 1e-12
        if len(np.unique(x)) == len(x):
            between = np.interp(np.clip(here + fine, x[0], x[-1]), x, y)
            assert got[i] == pytest.approx(max(inside.max(), between.max()), abs=1e-6)


def test_an_axial_force_beyond_the_section_leaves_no_moment():
    """More tension than all bars at yield, more compression than the section: no balance, no moment, whatever the bars' places."""
    concrete, steel = CODE.materials.concrete_law(Concrete(30.0)), CODE.materials.steel_law(Steel(500.0))
    areas, depths = np.array([[400.0, 1600.0]]), np.array([[50.0, 450.0]])
    maximum = 2000.0 * 500 / 1.15
    for axial, moment in (
        (-1.02 * maximum, False),
        (-0.5 * maximum, True),
        (0.0, True),
        (500e3, True),
        (1e8, False),
    ):
        result = bending_resistance(rectangle(300.0, 500.0), areas, depths, concrete, steel, axial)
        assert (result.moment[0] > 0.0) == moment, axial
