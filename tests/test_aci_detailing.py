"""ACI 318 on bars as they lie: development, splices, cut-offs, hooks and integrity by hand; the section view says it in its own words."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from upright_bramble.beam import Bar, Concrete, Layout, Steel, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.pipeline import run_check
from upright_bramble.verify.placement import place
from yaml_beams import line, uniform

SI = get_code("aci318m-19")
CONCRETE, STEEL = Concrete(28.0), Steel(420.0)
GRADE = {"code": "aci318m-19", "concrete": CONCRETE, "bars": STEEL, "stirrups": STEEL}
TIES = (StirrupZone("s", "10", 2, 200.0, 9800.0, 200.0),)


def beam(load: float = 15.0, **more):
    lengths = [10000.0]
    return line(lengths, uniform(1, lengths, load), depth=700.0, width=350.0, **{**GRADE, **more})


def through(face: str, count: int = 3) -> Bar:
    return Bar(face, face, 1, count, "25", -120.0, 10120.0, ("bend", "bend"))


def checked(*bars: Bar, load: float = 15.0):
    result = run_check(beam(load), Layout(bars, TIES))
    return {c.id: c for c in result.checks}


def development(phi: float, top: bool) -> float:
    """25.4.2.3 by hand: f_y psi_t/(2.1 sqrt f'c) d_b to No. 19, 1.7 above; 300 mm at least."""
    factor = 1.3 if top else 1.0
    return max(420.0 * factor / ((2.1 if phi <= 19.2 else 1.7) * 28.0**0.5) * phi, 300.0)


@pytest.mark.parametrize("size", ["13", "19", "22", "29"])
@pytest.mark.parametrize("top", [False, True])
def test_development_and_splice_by_hand(size, top):
    phi = SI.sizes[size].diameter
    height = 640.0 if top else 60.0
    result = float(SI.bond.anchorage(CONCRETE, STEEL, phi, height, 700.0))
    assert result == pytest.approx(development(phi, top), rel=2e-3)
    assert float(SI.bond.lap(CONCRETE, STEEL, phi, height, 700.0)) == pytest.approx(max(1.3 * result, 300.0))
    # whatever the share lapped: Class B
    assert float(SI.bond.lap(CONCRETE, STEEL, phi, height, 700.0, 0.25)) == float(
        SI.bond.lap(CONCRETE, STEEL, phi, height, 700.0)
    )


@pytest.mark.parametrize(("overlap", "fine"), [(1.35, True), (1.25, False)])
def test_a_lap_is_judged_by_its_length(overlap, fine):
    """Class B is 1.3 l_d: a little more passes, a little less does not."""
    d_b, tie = (SI.sizes[size].diameter for size in ("25", "10"))
    clear = (350.0 - 2.0 * 30.0 - 2.0 * tie - 6.0 * d_b) / 2.0  # between three laps side by side
    l_d = 420.0 / (1.1 * 28.0**0.5 * 0.5 * (clear + d_b) / d_b) * d_b
    assert l_d < development(d_b, False)
    first = Bar("a", "bottom", 1, 3, "25", -120.0, 6000.0, ("bend", "lap"))
    on = Bar("b", "bottom", 1, 3, "25", 6000.0 - overlap * l_d, 10120.0, ("lap", "bend"))
    check = checked(first, on, through("top"))["lap.bottom.a-b"]
    assert check.ok == fine
    assert check.clause == "25.5.2.1"
    assert check.demand == pytest.approx(1.3 * l_d, rel=2e-3)


def test_a_bar_counts_from_beyond_its_end_alone():
    """9.7.3.3: of a bar that stops in the span the last d is not counted on, and it ramps over l_d."""
    extra = Bar("x", "bottom", 1, 2, "25", 2000.0, 8000.0)
    b = beam()
    from upright_bramble.analysis import analyse

    forces = analyse(b, SI)
    placed = place(b, SI, Layout((through("bottom"), extra, through("top")), TIES), forces.stations)
    share = placed.effective[:, 1] / placed.area[1]
    x, d = forces.stations.x, 700.0 - 30.0 - 9.5 - 12.7
    l_d = development(SI.sizes["25"].diameter, False)
    assert share[(x > 2000.0) & (x < 2000.0 + d - 20.0)].max() == 0.0
    assert share[(x > 2000.0 + max(d, l_d)) & (x < 8000.0 - max(d, l_d))].min() == pytest.approx(1.0)
    ramp = (x > 2000.0 + d + 1.0) & (x < 2000.0 + l_d)
    assert share[ramp] == pytest.approx((x[ramp] - 2000.0) / l_d, rel=3e-3)


def test_a_place_between_stations_where_neither_of_two_bars_counts():
    """One bar stops past the other: each counts up to d from its end, which leaves a gap between stations. Both stations beside it
    have the bars that run through alone; where the gap is none they have one of the two as well."""
    from upright_bramble.analysis import analyse

    b = beam()
    at = analyse(b, SI).stations
    d = 700.0 - 30.0 - SI.sizes["10"].diameter - 0.5 * SI.sizes["25"].diameter
    k = int(np.searchsorted(at.x, 5100.0))
    low, high = float(at.x[k]), float(at.x[k + 1])
    assert high - low > 60.0
    own = 2.0 * SI.sizes["25"].area
    for gap in (20.0, -20.0):
        middle = 0.5 * (low + high)
        bars = (
            through("bottom", 2),
            Bar("x", "bottom", 1, 2, "25", 1500.0, middle - 0.5 * gap + d),
            Bar("y", "bottom", 1, 2, "25", middle + 0.5 * gap - d, 9000.0),
        )
        there = place(b, SI, Layout(bars, TIES), at).face_area(True, anchored=True)[[k, k + 1]]
        # l_d is more than d: what counts is developed in part
        assert (there == pytest.approx(own)) if gap > 0.0 else (there > 1.5 * own).all()


def test_a_bar_that_stops_in_tension_needs_shear_to_spare():
    """9.7.3.5: no more than two thirds of the resistance, or three quarters where twice the steel goes on."""
    extra = Bar("x", "bottom", 1, 2, "25", 2500.0, 7500.0)
    check = checked(through("bottom"), extra, through("top"))["cut-off.bottom.x-left"]
    result = run_check(beam(), Layout((through("bottom"), extra, through("top")), TIES))
    at = result.forces.stations
    i = int(np.abs(at.x - 2500.0).argmin())
    whole = result.curves.shear_total[i]
    assert any(check.resistance == pytest.approx(part * whole, rel=1e-6) for part in (2.0 / 3.0, 0.75))


def test_integrity_needs_two_bars_and_a_quarter():
    one = replace(through("bottom"), count=1)
    many = Bar("m", "bottom", 1, 5, "25", 1500.0, 8500.0)
    result = checked(one, many, through("top"))
    assert not result["integrity.bottom.1"].ok  # one bar of six
    assert not result["integrity.number.1"].ok
    assert result["integrity.bottom.1"].demand == pytest.approx(0.25 * 6.0 * 510.0)
    fine = checked(replace(one, count=2), replace(many, count=4), through("top"))
    assert fine["integrity.bottom.1"].ok
    assert "integrity.number.1" not in fine


def test_hooks_develop_in_their_own_length():
    """25.4.3.1 by hand: psi_r 1.6, psi_o 1.25, psi_c f'c/105 + 0.6, over 23 sqrt f'c, d_b to the power 1.5."""
    phi = SI.sizes["25"].diameter
    by_hand = 420.0 * 1.6 * 1.25 * (28.0 / 105.0 + 0.6) / (23.0 * 28.0**0.5) * phi**1.5
    assert float(SI.bond.hook(CONCRETE, STEEL, phi)) == pytest.approx(by_hand, rel=2e-3)


def test_the_section_view_speaks_the_code(bramble):
    """Own symbols by each code; a user of one reads none of the other's."""
    given = [
        "--size",
        "350x600",
        "--cover",
        "40",
        "--bars",
        "4x25@535",
        "--stirrups",
        "2x10@150",
        "-M",
        "250",
        "-V",
        "150",
        "--service",
        "150",
    ]
    us = bramble(
        "section",
        "--code",
        "aci318m-19",
        "--concrete",
        "28 MPa",
        "--steel",
        "Grade 420",
        *given,
        "--no-colour",
    )
    en = bramble("section", "--concrete", "C30/37", "--steel", "B500B", *given, "--no-colour")
    assert us.status == en.status == 0, us.err + en.err
    for words, own, other in (
        ("phi M_n", us, en),
        ("A_v/s", us, en),
        ("f_s", us, en),
        ("M_Rd", en, us),
        ("cot theta", en, us),
        ("A_sw/s", en, us),
    ):
        assert words in own.out
        assert words not in other.out
    assert "Table 22.5.5.1 (a)" in us.out


def test_hooks_of_side_bars_far_from_each_other_are_shorter():
    """25.4.3.2: psi_r is 1.0 for bars six diameters apart, 1.6 nearer; psi_o 1.0 in a column's core, 1.25 elsewhere; the bars count by
    the share of that length, to their hooks, that they have."""
    from upright_bramble.analysis import analyse
    from upright_bramble.analysis.side_bars import side_bar_anchored
    from upright_bramble.beam import SideBars

    b = beam()
    at = analyse(b, SI).stations
    phi, f_c = SI.sizes["19"].diameter, 28.0
    psi_c = f_c / 105.0 + 0.6
    for rows, psi_r in ((2, 1.0), (6, 1.6)):
        apart = (700.0 - 60.0 - 20.0) / (rows + 1)
        assert (apart >= 6.0 * phi) == (psi_r == 1.0)
        length = 420.0 * psi_r * 1.25 * psi_c / (23.0 * f_c**0.5) * phi**1.5
        side = SideBars("", rows, "19", -120.0, 10_120.0, False, ("bend", "bend"), (300.0, 300.0))
        k = int(np.searchsorted(at.x, -120.0 + 0.5 * length)) - 1
        local = side_bar_anchored(b, SI, at, [side], SI.sizes["10"].diameter)
        share = (at.x[k] + 120.0) / length
        assert 0.2 < share < 1.0
        assert local.anchored[k] == pytest.approx(share * SI.sizes["19"].area, rel=5e-3)


def test_stirrups_confine_all_bars_of_a_row_where_one_develops():
    """25.4.2.2 with Grade 690: at every place of the development the bars that are there count, not those at its middle alone."""
    steel = Steel(690.0)
    b = replace(beam(), bars=steel)
    long, late = Bar("a", "top", 1, 2, "25", -120.0, 6000.0, ("bend", "straight")), 5700.0
    extra = Bar("c", "top", 1, 3, "25", late, 10_120.0, ("straight", "bend"))
    result = run_check(b, Layout((through("bottom"), long, extra), TIES))
    check = next(c for c in result.checks if c.id == "confinement.bars.a-right")
    # two legs of 71 mm2, five bars, 200 mm: K_tr of 25.4.2.4 against half a diameter
    assert check.x >= late - 1.0
    assert check.resistance == pytest.approx(40.0 * 2.0 * SI.sizes["10"].area / (200.0 * 5.0), rel=1e-3)
    assert check.demand == pytest.approx(0.5 * SI.sizes["25"].diameter)
    assert not check.ok


@pytest.mark.parametrize(("sides", "psi_o"), [(58.0, 1.0), (54.0, 1.25)])
def test_the_stirrup_belongs_to_the_side_cover_of_a_hook(sides, psi_o):
    """25.4.3.2: in a column 65 mm beside the bars, 58 and a stirrup of 9.5, make psi_o 1.0; 54 and 9.5 do not. Three bars of 25.4 stand
    further apart than six diameters only in a web of 650 mm."""
    from upright_bramble.analysis import analyse
    from upright_bramble.beam import Column, Cover

    b = beam()
    supports = tuple(replace(s, columns=(Column(3000.0, 2e9),)) for s in b.supports)
    b = replace(b, cover=Cover(30.0, 30.0, sides), supports=supports)
    at = analyse(b, SI).stations
    placed = place(b, SI, Layout((through("bottom"), through("top", 2)), TIES), at)
    phi, f_c = SI.sizes["25"].diameter, 28.0
    apart = (350.0 - 2.0 * (sides + SI.sizes["10"].diameter) - phi) / 2.0
    assert apart < 6.0 * phi
    by_hand = 420.0 * 1.6 * psi_o * (f_c / 105.0 + 0.6) / (23.0 * f_c**0.5) * phi**1.5
    assert placed.ends_in[0, 0] == pytest.approx(by_hand, rel=2e-3)
