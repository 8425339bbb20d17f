"""Two right answers in bending where a standard prints a closed form: annex G of IS 456 and 3.4.4 of BS 8110 beside strain planes."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

import upright_bramble as ub
from plain_beams import BS, CSA, EN, IS, SI, beam, check, dead, live, written
from upright_bramble.codes.bs8110 import bending as bs
from upright_bramble.codes.is456 import bending as indian
from upright_bramble.codes.parts import PrintedSection
from upright_bramble.verify.derive import workings

T_BEAM = {
    "shape": "T", "depth": 550, "width": 300, "flange": {"thickness": 120, "width": "auto", "gap_left": "2.5 m", "gap_right": "2.5 m"},
}  # fmt: skip
SECTIONS = {"rectangle": {"shape": "rectangle", "depth": 600, "width": 300}, "T": T_BEAM}


def derived(result, check):
    return next(w for w in workings(result) if w.check == check.id).lines


@given(
    area=st.floats(500, 9000), width=st.floats(200, 500), wide=st.floats(1.2, 6), d=st.floats(300, 900), share=st.floats(0.1, 0.4),
    f_ck=st.floats(20, 50),
)  # fmt: skip
def test_the_axis_of_a_flange_balances_the_bars(area, width, wide, d, share, f_ck):
    """Compression at the closed form's axis is 0.87 f_y A_st, but for the small jump at D_f/x_u = 0.43."""
    d_f = share * d
    x_u = indian.flanged_axis(area, width, wide * width, d_f, f_ck, 500.0)
    if x_u > 0.46 * d:
        return
    assert indian.flanged_forces(x_u, width, wide * width, d_f, d, f_ck)[0] == pytest.approx(
        0.87 * 500.0 * area, rel=0.012
    )


@given(
    m=st.floats(30e6, 900e6),
    b_w=st.floats(200, 400),
    wide=st.floats(1.0, 5.0),
    d=st.floats(300, 900),
    h_f=st.floats(80, 200),
)
def test_the_moment_of_bars_is_the_bars_of_the_moment(m, b_w, wide, d, h_f):
    """BS 8110: what equation 1 or the lever arm asks for m resists m."""
    b, f_cu, f_yd = b_w * wide, 30.0, 437.0
    if (
        h_f > 0.45 * d
        or m > bs.flange_factor(h_f, d, b_w, b) * f_cu * b * d**2
        or m > 0.156 * f_cu * b * d**2
    ):
        return
    area = bs.flanged_steel(m, b_w, b, h_f, d, f_cu, f_yd)
    given_ = bs.printed_moment(PrintedSection(b, b_w, h_f, d, area), f_cu, f_yd)
    assert given_ == pytest.approx(m, rel=0.04)  # equation 1 is on the safe side of the block


def test_compression_bars_take_the_couple_that_the_steel_leaves():
    """By hand, IS 456 G-1.2 with 250.4 kN·m as M_u,lim: A_st2 of 421 mm2 pulls less than 600 mm2 of compression bars push."""
    section = PrintedSection(300.0, 300.0, 0.0, 550.0, 2000.0, 50.0, 600.0)
    expected = (
        250.404e6 + 0.87 * 415.0 * (2000.0 - 250.404e6 / (0.87 * 415.0 * 550.0 * (1 - 0.42 * 0.48))) * 500.0
    )
    assert indian.printed_moment(section, 20.0, 415.0) == pytest.approx(expected, rel=1e-4)
    alone = PrintedSection(300.0, 300.0, 0.0, 550.0, 2000.0)
    assert indian.printed_moment(alone, 20.0, 415.0) == pytest.approx(250.404e6, rel=1e-4)


def test_compression_bars_that_are_few_limit_the_couple():
    """BS 8110 by hand: 0.156 f_cu b d2 and 290 mm2 at yield, 390 mm apart; more tension bars give no more."""
    section = PrintedSection(260.0, 260.0, 0.0, 440.0, 3000.0, 50.0, 290.0)
    assert bs.printed_moment(section, 30.0, 437.0) == pytest.approx(
        0.156 * 30 * 260 * 440**2 + 290 * 437 * 390, rel=1e-6
    )
    none = PrintedSection(260.0, 260.0, 0.0, 440.0, 3000.0)
    assert bs.printed_moment(none, 30.0, 437.0) == pytest.approx(0.156 * 30 * 260 * 440**2, rel=1e-6)


def test_a_deep_flange_has_no_closed_form():
    assert bs.printed_moment(PrintedSection(600.0, 300.0, 220.0, 440.0, 9000.0), 30.0, 437.0) is None


@pytest.mark.parametrize("shape", sorted(SECTIONS))
@pytest.mark.parametrize("base", [IS, BS], ids=["IS", "BS"])
def test_derivations_give_the_closed_form_beside_the_strains(base, shape):
    """In the span, where few top bars count, both ways give about one number; the last line is the check's."""
    text = written(
        {**base, "profiles": {"p": SECTIONS[shape]}},
        [6.5],
        [dead({"line": 20}, weight=True), live({"line": 15}, category="general")],
    )
    result = ub.design(beam(text))
    check = next(c for c in result.checks if c.id == "bending.sagging.1")
    lines = derived(result, check)
    printed = [line for line in lines if line.symbol.endswith(",printed")]
    assert len(printed) == 1
    assert "strain compatibility" in printed[0].text
    assert printed[0].formula
    assert printed[0].clause.startswith(("IS 456, G-", "BS 8110-1, 3.4.4"))
    assert printed[0].value * 1.0 == pytest.approx(check.resistance, rel=0.06)
    assert lines[-1].value == pytest.approx(check.resistance, rel=1e-9)


def test_a_code_without_printed_formulas_has_none():
    result = ub.design(beam(written(EN, [6.0], [dead({"line": 20}), live({"line": 10})])))
    check = next(c for c in result.checks if c.id == "bending.sagging.1")
    assert not any("printed" in line.symbol for line in derived(result, check))


def test_factors_of_ones_own_have_no_printed_form():
    """The printed numbers hold 1.5 and 1.15."""
    text = written(
        {**IS, "code_values": {"gamma_c": 1.6}},
        [6.0],
        [dead({"line": 20}), live({"line": 10}, category="general")],
    )
    result = ub.design(beam(text))
    check = next(c for c in result.checks if c.id == "bending.sagging.1")
    assert not any("printed" in line.symbol for line in derived(result, check))


@pytest.mark.slow
@pytest.mark.parametrize("share", [0, 15])
def test_redistributed_supports_have_no_printed_form(share):
    """Its x_u,max and K' are those of elastic moments; the span keeps its printed form."""
    loads = [dead({"line": 20}, weight=True), live({"line": 12}, category="general")]
    more = {"redistribution": {"percent": share}} if share else {}
    result = ub.design(beam(written(IS, [5.0, 5.0], loads, **more)))
    for one in (c for c in result.checks if c.id in ("bending.hogging.S1", "bending.sagging.1")):
        printed = [v for v in derived(result, one) if v.symbol.endswith(",printed")]
        assert bool(printed) is (not share or one.id.startswith("bending.sagging"))


def put_in(numbers: str) -> float:
    """A line of numbers worked out as it stands; factors stand side by side."""
    plain = numbers.replace(";", ",").replace("^", "**")
    return float(eval(re.sub(r"(?<=[\d)]) (?=[\d(])", " * ", plain)))


@pytest.mark.parametrize(
    ("base", "sizes"),
    [(EN, (20, 16, 8)), (SI, (19, 16, 10)), (CSA, (20, 15, 10)), (IS, (20, 16, 8)), (BS, (20, 16, 8))],
    ids=lambda v: v["code"] if isinstance(v, dict) else "",
)
def test_numbers_put_into_a_balance_come_to_its_moment(base, sizes):
    """Forces with their powers of ten, levers and strains, of a section with bars at both faces, by each code."""
    big, small, tie = sizes
    loads = [dead({"line": 12}, weight=True), live({"line": 6}, category=category(base))]
    bars = f"bottom 4x{big} -0.1..6.1\ntop 2x{small} -0.1..6.1\nstirrups {tie}x2 0.2..5.8 150"
    result = check(written(base, [6.0], loads), bars)
    lines = derived(result, next(c for c in result.checks if c.id == "bending.sagging.1"))
    told = [v for v in lines if v.symbol.startswith(("F_s", "eps_s", "M_")) and v.numbers]
    assert {v.symbol[:2] for v in told} == {"F_", "ep", "M_"}
    for line in told:
        assert put_in(line.numbers) == pytest.approx(line.value, rel=6e-3, abs=2e-5), line


def category(base: dict) -> str:
    return {EN["code"]: "B", SI["code"]: "occupied"}.get(base["code"], "general")
