"""What is handed to the clause functions: which dimension, which grade, which side of a bound."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

import upright_bramble as ub
from plain_beams import EN, SI, beam, check, dead, live, named, unverified, written
from upright_bramble.analysis import analyse
from upright_bramble.analysis.flanges import sections_at, torsion_constant, with_flanges
from upright_bramble.analysis.suspension import suspension_forces
from upright_bramble.beam import Concrete, Flange, Steel, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.codes.csa_a23.bond import compression_splice
from upright_bramble.codes.parts import Around, CoverWish, EndFacts, Tube, Web
from upright_bramble.files.section_file import section_of
from upright_bramble.pipeline import run_forces
from upright_bramble.proportion.stirrups import _around
from upright_bramble.section.curvature import Bent, stiffened
from upright_bramble.verify.groups import soffit
from upright_bramble.verify.sections.curves import curves_of
from yaml_beams import line, uniform

ONE = np.array([1.0])


def tube(b: float, h: float, tie_axis: float, bar_axis: float) -> Tube:
    return Tube(b * ONE, h * ONE, tie_axis * ONE, bar_axis * ONE, 0.0 * ONE, 0.0 * ONE, 0.0 * ONE)


@pytest.mark.parametrize(
    ("grade", "ksi"), [("40", 40.0), ("Grade 60", 60.0), ("grade 80", 80.0), ("100", 100.0)]
)
def test_grades_of_us_bars(grade, ksi):
    assert get_code("aci318-19").materials.steel(grade).strength == pytest.approx(6.894757 * ksi, rel=1e-6)


@pytest.mark.parametrize(
    ("grade", "strength"), [("280", 280.0), ("420", 420.0), ("550", 550.0), ("690", 690.0)]
)
def test_grades_of_metric_bars(grade, strength):
    assert get_code("aci318m-19").materials.steel(grade).strength == strength


def test_ninety_minutes_of_fire_are_long():
    """R90, 400 wide: 35 mm for a continuous beam by Table 5.6, 45 for a simple one by Table 5.5 (40 from 400 on); the latter for both."""
    required = get_code("en1992-1-1").cover.required
    sides = [
        required(CoverWish("XC1", 90, 4, None, (16.0, 16.0), (8.0, 8.0), 200.0, over)).sides
        for over in (True, False)
    ]
    assert sides[0] == sides[1] > 25.0


def test_torsion_by_indian_rules_measures_between_corner_bars():
    """300 x 600, bars 50 and stirrup axis 36 from the faces, d = 550; T = 40 kNm, V = 100 kN; Fe415.

    V_e = 100 + 1.6 x 40/0.3 = 313.3 kN, tau_ve = 1.899 MPa. 41.4.3: 40e6/(200 x 500 x 361.05) + 100e3/(2.5 x 500 x 361.05) = 1.3295
    mm2/mm, above (tau_ve - tau_c) b/f. The legs of torsion are half of what that is above the stirrups for shear."""
    code = get_code("is456-2000")
    concrete, steel = Concrete(25.0), Steel(415.0)
    web = Web(300.0 * ONE, 550.0 * ONE, 825.0 * ONE, 180_000.0 * ONE, h=600.0 * ONE)
    tau_c = float(code.shear.concrete(concrete, web)[0])
    f = 415.0 / 1.15
    equal = 40e6 / (200.0 * 500.0 * f) + 100e3 / (2.5 * 500.0 * f)
    tau_ve = 313_333.3 / (300.0 * 550.0)
    for_shear = max(100e3 / (300.0 * 550.0) - tau_c, 0.0) * 300.0 / f
    twist = code.torsion.required(
        concrete, (steel, steel), web, tube(300.0, 600.0, 36.0, 50.0), 1e5 * ONE, 4e7 * ONE, ONE, False
    )
    assert equal > (tau_ve - tau_c) * 300.0 / f
    assert float(twist.leg[0]) == pytest.approx(0.5 * (equal - for_shear), rel=2e-3)
    assert float(twist.around[0]) == pytest.approx(2.0 * (228.0 + 528.0))


def test_torque_in_the_strain_of_canadian_beams():
    """350 x 600, stirrup axes 46 from the faces: p_h = 2 (258 + 508) = 1532, A_o = 0.85 x 258 x 508 = 111 404 mm2; 0.45 p_h T/A_o."""
    twisting = get_code("csa-a23.3-19").torsion.shear_for_strain(tube(350.0, 600.0, 46.0, 60.0), 4e7 * ONE)
    assert float(twisting[0]) == pytest.approx(0.45 * 1532.0 * 4e7 / 111_404.4, rel=1e-5)


def test_tension_stiffening_between_the_lines():
    """E I = 4e13: at 100 kNm 2.5e-6 1/mm uncracked, 8e-6 cracked; M_cr = 60 kNm, beta 0.5: zeta = 1 - 0.5 x 0.36 = 0.82, the mean
    0.82 x 8e-6 + 0.18 x 2.5e-6 = 7.01e-6. Below the cracking moment the uncracked line."""
    moment = np.array([100e6, 40e6])
    bent = Bent(np.array([8e-6, 3e-6]), moment, 0.0 * moment, 0.0 * moment, moment > 0.0)
    assert stiffened(bent, 60e6, 4e13, 0.5) == pytest.approx([7.01e-6, 1.0e-6])


def test_a_flange_in_tension_between_two_equal_ends_is_judged():
    """A span fixed at both ends hogs alike at both: twelve top bars, most of them beside the web, are looked at from either end."""
    flange = {"thickness": 120, "width": 1500}
    base = {**EN, "profiles": {"p": {"shape": "T", "depth": 500, "width": 250, "flange": flange}}}
    ends = {"at_left": {"fixed": True}, "at_right": {"fixed": True}}
    text = written(base, [{"span": 8.0, "profile": "p", **ends}], [dead({"line": 25}), live({"line": 15})])
    bars = "bottom 2x20 -0.1..8.1\ntop 12x20 -0.9..8.9\nstirrups 10x2 0.2..7.8 100"
    (crushing,) = named(check(text, bars), "flange.crushing-tension.1")
    assert crushing.demand > 0.1


def test_the_moment_of_an_end_taken_as_simple_says_where_it_comes_from():
    """9.2.1.2(1) at the outer ends, the envelope over the inner support and in the span."""
    text = written(EN, [6.0, 5.0], [dead({"line": 15}, weight=True), live({"line": 10})])
    result = ub.design(beam(text))

    def said(check: str) -> str:
        lines = ub.why(result, check).lines
        return " ".join(f"{line.text} {line.clause}" for line in lines)

    for end in ("bending.hogging.S0", "bending.hogging.S2"):
        assert "the end taken as simple" in said(end)
        assert "9.2.1.2(1)" in said(end)
        assert "design envelope at this place" not in said(end)
    for inner in ("bending.hogging.S1", "bending.sagging.1"):
        assert "the end taken as simple" not in said(inner)


def test_a_stirrup_is_left_of_a_zone_that_a_held_one_cuts():
    """What the held zone leaves of another is kept however short it is: one stirrup too."""
    held = [StirrupZone("", "8", 2, 1000.0, 2000.0, 100.0)]
    assert _around(700.0, 2300.0, 200.0, held) == [(700.0, 700.0, 200.0), (2300.0, 2300.0, 200.0)]
    assert _around(900.0, 2100.0, 200.0, held) == []
    assert _around(300.0, 2500.0, 200.0, held) == [(300.0, 700.0, 200.0), (2300.0, 2500.0, 200.0)]


def test_bars_chosen_for_a_section_stand_behind_those_that_are_there(bramble):
    """Bars of 25 mm at 544 of 600 mm, 25 mm clear: chosen ones of 20 mm lie 12.5 + 25 + 10 mm further in; at the top, where there are
    none, 35 + 8 + 10 mm from the face."""
    call = ("section", "--size", "350x600", "--concrete", "C30/37", "--steel", "B500B", "--cover", "35")
    chosen = ("--choose", "20", "--choose-stirrups", "8", "--json")
    behind = bramble(*call, "--bars", "2x25@544", "-M", "310", *chosen).json["chosen"]
    assert "2ø20 at 497 mm" in behind
    first = bramble(*call, "--bars", "2x25@60", "-M", "150", *chosen).json["chosen"]
    assert "ø20 at 547 mm" in first


def test_a_number_told_twice_keeps_its_clause():
    """The shortest leg of a bend follows from Figure 8.1, and says what it is for as well."""
    text = written(EN, [6.0, 5.0], [dead({"line": 15}, weight=True), live({"line": 10})])
    result = ub.design(beam(text))
    check = next(c.id for c in result.checks if c.id.startswith("bend.leg"))
    (line,) = (v for v in ub.why(result, check).lines if v.symbol == "leg_min")
    assert line.clause.endswith("Figure 8.1")
    assert line.formula
    assert "shortest leg" in line.text


def test_what_a_hung_force_reaches_is_a_third_of_the_depth():
    """9.2.5: forces hung up to two thirds of 600 mm apart share a place; farther ones do not; of one place they add up."""

    def hung(*places: float):
        loads = [{"point": 50, "at": x, "on": 1, "hung": True} for x in places]
        base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 300}}}
        described = beam(written(base, [6.0], [dead(*loads)]))
        forces = analyse(described, get_code("en1992-1-1"))
        return suspension_forces(described, get_code("en1992-1-1"), forces)

    (alone,) = hung(3.0)
    assert (alone.ends[0], alone.ends[1]) == pytest.approx((2800.0, 3200.0))
    assert max(s.force for s in hung(3.0, 3.0)) == pytest.approx(2.0 * alone.force)
    assert max(s.force for s in hung(2.9, 3.25)) == pytest.approx(2.0 * alone.force)
    assert max(s.force for s in hung(2.8, 3.25)) == pytest.approx(alone.force)


def test_lasting_load_halves_what_the_concrete_between_cracks_does():
    """(7.18), (7.19) with beta 0.5 on every point of the curve; the cracking moment and E I of the transformed section by hand."""
    given = {
        "bramble_section": 1, "title": "sill", "code": "en1992-1-1", "concrete": {"grade": "C30/37"}, "reinforcement": {"bars": "B500B"},
        "cover": 35, "form": {"shape": "rectangle", "width": 300, "depth": 500}, "bars": [{"size": "20", "at": [x, 450]} for x in (50, 150, 250)],
        "stirrups": {"size": "8", "legs": 2, "spacing": 200}, "forces": [{"name": "a", "moment": 60}],
    }  # fmt: skip
    section, code, _ = section_of(given)
    curves = curves_of(section, code, section.forces[0])
    e_c, f_ctm, area = 22e3 * 3.8**0.3, 0.3 * 30.0 ** (2.0 / 3.0), 3.0 * 0.25 * np.pi * 20.0**2
    more = (200e3 / e_c - 1.0) * area
    axis = (150e3 * 250.0 + more * 450.0) / (150e3 + more)
    inertia = 300.0 * 500.0**3 / 12.0 + 150e3 * (axis - 250.0) ** 2 + more * (450.0 - axis) ** 2
    cracking = f_ctm * inertia / (500.0 - axis)
    bent, (mean, moment) = curves.bent[0], curves.stiffened
    cracked = moment > 1.05 * cracking
    zeta = 1.0 - 0.5 * (cracking / moment[cracked]) ** 2
    own = bent.curvature[: len(moment)][cracked]
    by_hand = zeta * own + (1.0 - zeta) * np.minimum(moment[cracked] / (e_c * inertia), own)
    assert cracked.sum() > 5
    assert mean[cracked] == pytest.approx(by_hand, rel=5e-3)


@pytest.mark.parametrize(
    ("hooked", "shear", "asked"), [(False, 50e3, True), (True, 50e3, False), (False, 0.5, False)]
)
def test_ends_that_need_no_development_by_indian_rules(hooked, shear, asked):
    """26.2.3.3(c): bars that are bent past the face, and ends without shear, need none; L_d = 700 within 1.3 x 60e6/50e3 + 100."""
    end = EndFacts(shear, 450.0, 1.0, 0.0, 0.0, 0.0, 700.0, 60e6, 100.0, hooked)
    demand, limit, _ = get_code("is456-2000").curtailment.end_anchorage(end)
    assert demand == (700.0 if asked else 0.0)
    if asked:
        assert limit == pytest.approx(1.3 * 60e6 / shear + 100.0)


def test_the_least_compression_splice_of_csa():
    assert compression_splice(9.5, 400.0) == 300.0
    assert compression_splice(11.3, 400.0) == pytest.approx(max(0.073 * 400.0 * 11.3, 300.0))


def test_both_overhangs_of_a_thin_flange_lower_the_cracking_torque_of_csa():
    """11.2.9.2: a compatible torque is cut to what the section cracks at, 0.38 sqrt(f'c) A_c^2/p_c, the lesser of the section with its
    overhangs (of no more than three times 60 mm) and without. 300 x 600: 180 at one side 190800^2/2160, at both 201600^2/2520; a flange
    of 150 mm has more than the web alone, 180000^2/1800."""
    code = get_code("csa-a23.3-19")
    concrete, steel = Concrete(30.0), Steel(400.0)

    def leg(flange: float, left: float, right: float) -> float:
        web = Web(300.0 * ONE, 540.0 * ONE, 1500.0 * ONE, 180_000.0 * ONE, h=600.0 * ONE)
        sizes = (300.0, 600.0, 45.0, 55.0, flange, left, right)
        flanged = Tube(*(v * ONE for v in sizes))
        twist = code.torsion.required(concrete, (steel, steel), web, flanged, 1e5 * ONE, 5e8 * ONE, ONE, True)
        return float(twist.leg[0])

    one = leg(60.0, 180.0, 0.0) / (190.8e3**2 / 2160.0)
    assert leg(60.0, 0.0, 180.0) / (190.8e3**2 / 2160.0) == pytest.approx(one, rel=1e-9)
    assert leg(60.0, 180.0, 180.0) / (201.6e3**2 / 2520.0) == pytest.approx(one, rel=1e-6)
    assert leg(60.0, 500.0, 400.0) == pytest.approx(leg(60.0, 180.0, 180.0), rel=1e-9)
    assert leg(150.0, 400.0, 400.0) / (180e3**2 / 1800.0) == pytest.approx(one, rel=1e-6)


@pytest.mark.parametrize(("depths", "apart"), [((400.0, 400.0), 450.0), ((400.0, 500.0), 300.0)])
def test_where_one_place_is_deep_side_bars_of_is_456_are_near_everywhere(depths, apart):
    """26.5.1.7(b): side bars of beams deeper than 450 mm are 300 mm apart; in a haunch the deepest place decides."""
    code, two = get_code("is456-2000"), np.ones(2)
    h = np.array(depths)
    web = Web(300.0 * two, h - 50.0, 800.0 * two, 300.0 * h, h=h)
    haunch = Tube(300.0 * two, h, 40.0 * two, 50.0 * two, 0.0 * two, 0.0 * two, 0.0 * two)
    twist = code.torsion.required(
        Concrete(25.0), (Steel(500.0), Steel(415.0)), web, haunch, 5e4 * two, 2e7 * two, two, False
    )
    assert twist.bar_spacing == apart


def test_two_bars_that_develop_at_a_perimeter_end_are_enough():
    """9.7.7.1, 9.7.7.4: a quarter of the bottom steel and two bars; with one bar of the same area there is none."""
    profile = {"shape": "L", "depth": 600, "width": 350, "flange": {"thickness": 150, "gap_left": "3 m"}}
    column = {"below": {"height": "3 m", "size": [500, 500], "far_end": "fixed"}}
    ends = {"at_left": {"column": column}, "at_right": {"column": column}}
    base = {**SI, "profiles": {"p": profile}}
    text = written(
        base,
        [{"span": 6.0, "profile": "p", **ends}],
        [dead({"line": 15}), live({"line": 5}, category="occupied")],
        width=500,
    )
    bent = "bend bend 250"
    top = f"top 2x16 -0.2..6.2 {bent}\nstirrups 10x2 0.3..5.7 150"
    for words, fine in (
        (f"bottom 2x16 -0.2..6.2 {bent}", True),
        (f"bottom 1x22 -0.2..6.2 {bent}\nbottom 1x13 0.6..5.4", False),
    ):
        found = named(check(text, f"{words}\n{top}"), "integrity.end-bottom.S0-right")
        assert [c.ok for c in found] == [fine], words


def test_laps_of_indian_bars_near_a_corner_are_longer():
    """26.2.5.1: 1.4 times as long with less than twice the diameter of cover at a corner or to bars beside, at the top with less cover
    twice; 20 mm bars, so 40 mm."""
    code, concrete, steel = get_code("is456-2000"), Concrete(25.0), Steel(415.0)

    def lap(cover: float, height: float = 50.0, beside: float = 200.0) -> float:
        around = Around(beside * ONE, cover * ONE, cover * ONE, 1e4 * ONE)
        given = (concrete, steel, 20.0 * ONE, height * ONE, 500.0 * ONE)
        return float(code.bond.lap(*given, 0.25, around)[0])

    far = lap(41.0)
    assert lap(39.0) == pytest.approx(1.4 * far)
    assert lap(60.0) == pytest.approx(far)
    assert lap(41.0, height=450.0) == pytest.approx(far)
    assert lap(39.0, height=450.0) == pytest.approx(2.0 * far)


def test_perimeter_bars_reach_the_axis_where_the_soffit_steps():
    """9.7.7.1, 9.7.7.2(b): bars that stop 150 mm past the faces of a wide support at a step do for an inner beam with its closed stirrups,
    and not for one of the perimeter."""
    profiles = {
        name: {"shape": "rectangle", "depth": depth, "width": 350} for name, depth in (("p", 600), ("q", 700))
    }
    items = [{"span": 6.0, "profile": "p"}, {"span": 6.0, "profile": "q"}]
    loads = [dead({"line": 10}), live({"line": 5}, category="occupied")]
    bars = "bottom 3x19 -0.2..5.85\nbottom 3x19 6.15..12.2\ntop 3x19 -0.2..12.2\nstirrups 10x2 0.4..5.6 150\nstirrups 10x2 6.4..11.6 150"
    for more, fine in (({}, True), ({"integrity": "perimeter"}, False)):
        text = written({**SI, "profiles": profiles}, items, loads, width=600, **more)
        found = named(check(text, bars), "integrity.bottom.1") + named(
            check(text, bars), "integrity.bottom.2"
        )
        assert [c.ok for c in found] == [fine, fine]


SINGLE = written({**EN}, [6.0], [dead({"line": 20}), live({"line": 10})])


@pytest.mark.parametrize(("start", "carried"), [(-0.06, 2), (-0.07, 4)])
def test_at_a_simple_end_bars_count_from_their_least_anchorage_on(start, carried):
    """l_b,min of 20 mm bars is 0.3 x 715 = 214 mm (8.6): 210 mm past the face are none, 220 mm count in proportion."""
    layout = f"""
      bottom 2x20 -0.12..6.12 bend bend 300
      bottom 2x20 {start}..6.12
      top 2x12 -0.12..6.12
      stirrups 8x2 0.2..5.8 150
    """
    (end,) = named(check(SINGLE, layout), "anchorage.end.S0")
    straight = 2 * 314.16 * (0.15 - start) * 1000 / 715 * 500 / 1.15
    bent = end.resistance - straight * (carried == 4)
    both = check(SINGLE, layout.replace(f"bottom 2x20 {start}..", "bottom 2x20 0.3.."))
    assert bent == pytest.approx(named(both, "anchorage.end.S0")[0].resistance, rel=0.02)


@pytest.mark.parametrize(
    ("share", "ends", "provided"),
    [(0.5, "", 157.1), (1.2, "", 785.4), (0.5, "lap", 785.4), (1.2, "lap", 785.4)],
)
def test_the_least_steel_goes_on_to_where_the_tension_ends(share, ends, provided):
    """Between the last station in tension and the place where the moment changes its sign a bar stops, or just past
    it; one that is lapped there is carried on by its partner."""
    text = written({**EN}, [6.0, 6.0], [dead({"line": 20}), live({"line": 10})])
    forces = analyse(beam(text), get_code("en1992-1-1"))
    at, moment = forces.stations, forces.design.moment_max
    last = int(np.flatnonzero((at.span == 0) & (moment > 0.01 * moment.max()))[-1])
    over = moment[[last, last + 1]] - 0.01 * moment.max()
    assert over[1] < 0.0
    stop = at.x[last] + share * (at.x[last + 1] - at.x[last]) * over[0] / (over[0] - over[1])
    assert stop < at.x[last + 1]
    partner = f"bottom 2x20 {stop / 1000 - 1.6:.4f}..7.5 lap straight" if ends else "bottom 2x20 7.0..12.12"
    layout = f"""
      bottom 2x10 -0.12..12.12
      bottom 2x20 -0.12..{stop / 1000:.4f} {"straight" if ends else ""} {ends}
      {partner}
      top 4x20 -0.12..12.12
      stirrups 8x2 0.2..5.8 150
      stirrups 8x2 6.2..11.8 150
    """
    result = check(text, layout)
    (least,) = named(result, "minimum.bottom.1")
    assert least.resistance == pytest.approx(provided, rel=1e-3)
    assert least.ok == (provided > 200.0)
    (cracks,) = named(result, "minimum.cracks-bottom.1")
    assert cracks.resistance == pytest.approx(provided, rel=1e-3)


@pytest.mark.slow
@pytest.mark.parametrize(("line", "told"), [(28.1, True), (35.5, False)])
def test_a_force_near_a_support_that_makes_half_of_the_shear_asks_for_struts(line, told):
    """100 kN at 750 mm from the face, beside 28.1 kN/m 0.53 of the shear there, beside 35.5 kN/m 0.47 of it."""
    loads = [dead({"line": line}, {"point": 100, "on": 1, "at": 0.9})]
    result = ub.design(beam(written(SI, [6.0], loads)))
    assert bool(unverified(result, "deep.span")) == told


def test_past_a_step_a_bar_goes_on_at_the_depth_that_its_span_has_there():
    """The middle span tapers from 500 to 650 between deeper ones: its bars lie 500 deep to the left and 650 to the right of it."""
    profiles = {
        "p": {"shape": "rectangle", "depth": 800, "width": 300},
        "a": {"shape": "rectangle", "depth": 500, "width": 300},
        "b": {"shape": "rectangle", "depth": 650, "width": 300},
    }
    spans = [
        {"span": 6, "profile": "p"},
        {"span": 6, "profile": {"from": "a", "to": "b"}},
        {"span": 6, "profile": "p"},
    ]
    described = beam(written({**EN, "profiles": profiles}, spans, [dead({"line": 10})]))
    at = run_forces(described).stations
    depth = soffit(described, at, 1)
    assert set(depth[at.span == 0]) == {500.0}
    assert set(depth[at.span == 2]) == {650.0}
    middle = at.span == 1
    assert depth[middle] == pytest.approx(500.0 + 150.0 * (at.x[middle] - 6000.0) / 6000.0)


def test_the_torsion_constant_of_a_flanged_section():
    """300 x 600 and what a flange of 1200 x 150 has beyond it: a b^3 (1/3 - 0.21 b/a (1 - b^4/(12 a^4))); the same whichever way the
    rectangle lies."""
    plain = line([6000.0], uniform(1, [6000.0], 10.0), depth=600.0)
    flanged = replace(plain.spans[0].profile, flange=Flange(150.0, 450.0, 450.0))
    whole = replace(plain, spans=(replace(plain.spans[0], profile=flanged),))
    tee = sections_at(with_flanges(whole, get_code("en1992-1-1")), 0, np.array([3000.0]))
    assert float(tee.flange_width[0]) == 1200.0

    def rectangle(a: float, b: float) -> float:
        return a * b**3 * (1.0 / 3.0 - 0.21 * b / a * (1.0 - b**4 / (12.0 * a**4)))

    assert float(torsion_constant(tee)[0]) == pytest.approx(rectangle(600.0, 300.0) + rectangle(900.0, 150.0))


def test_stirrups_beside_a_force_near_a_support_of_csa():
    assert get_code("csa-a23.3-19").shear.near_support_resistance(Steel(400.0), 200.0) == pytest.approx(68e3)


@pytest.mark.parametrize(
    ("more", "known"),
    [({}, True), ({"redistribution": {"percent": 10}}, False), ({"arrangements": "every"}, False)],
)
def test_sets_act_together_while_the_envelope_is_theirs_alone(more, known):
    """Moments that were redistributed, and every choice of loaded spans, belong to no set of forces any more."""
    text = written(EN, [6.0, 5.0], [dead({"line": 20}, weight=True), live({"line": 15})], **more)
    forces = run_forces(beam(text))
    assert (forces.acting_together is not None) == known


def test_sets_of_a_taper_do_not_act_together():
    """Inclined chords carry part of the shear, moment by moment."""
    profiles = {
        "p": {"shape": "rectangle", "depth": 500, "width": 300},
        "q": {"shape": "rectangle", "depth": 700, "width": 300},
    }
    spans = [{"span": 6.0, "profile": {"from": "p", "to": "q"}}, 5.0]
    text = written({**EN, "profiles": profiles}, spans, [dead({"line": 20}, weight=True), live({"line": 15})])
    assert run_forces(beam(text)).acting_together is None
