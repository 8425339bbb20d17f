"""A check of each kind worked out by hand, with the numbers of the standard written out here once more."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

import upright_bramble as ub
from plain_beams import (
    BS,
    CSA,
    EN,
    IS,
    SI,
    US,
    beam,
    check,
    dead,
    design,
    layout_of,
    live,
    named,
    unverified,
    written,
)
from upright_bramble.beam.wishes import Rates
from upright_bramble.pipeline import code_of, run_forces
from upright_bramble.verify import workings
from upright_bramble.verify.bearing import bearings_of

F_CTM = 0.30 * 30.0 ** (2.0 / 3.0)
F_YD = 500.0 / 1.15
STIRRUPS = "\nstirrups 8x2 0.2..5.8 150"
PLAIN = f"bottom 3x20 -0.12..6.12 bend bend 200\ntop 2x16 -0.12..6.12{STIRRUPS}"


def category(base) -> str:
    return "B" if base["code"] == EN["code"] else "occupied"


def simple(*loads, base=EN, length=6.0, **more) -> str:
    actions = [dead(*(loads or ({"line": 12},)), weight=True), live({"line": 8}, category=category(base))]
    return written(base, [length], actions, **more)


def two(base=EN, load=20, lengths=(6.0, 6.0), **more) -> str:
    return written(
        base,
        list(lengths),
        [dead({"line": load}, weight=True), live({"line": load}, category=category(base))],
        **more,
    )


def one(result, name: str):
    collected = named(result, name)
    assert collected, sorted({c.id for c in result.checks})
    return collected[0]


# ------------------------------------------------------------------ amounts


def test_maximum_reinforcement():
    """4 % of 300 x 500: 6000 mm2; five bars of 40 are 6283."""
    result = one(
        check(simple(), f"bottom 5x40 -0.12..6.12\ntop 2x16 -0.12..6.12{STIRRUPS}"), "maximum.steel.bottom-1"
    )
    assert (result.demand, result.resistance) == pytest.approx((5 * math.pi * 400.0, 0.04 * 300.0 * 500.0))
    assert not result.ok


def test_minimum_reinforcement_of_the_eurocode():
    """0.26 f_ctm/f_yk b_t d with d = 500 - 30 - 8 - 10."""
    result = one(check(simple(), PLAIN), "minimum.bottom.1")
    assert result.demand == pytest.approx(0.26 * F_CTM / 500.0 * 300.0 * 452.0)
    assert result.resistance == pytest.approx(3 * math.pi * 100.0)


@pytest.mark.parametrize(("overridden", "width"), [(False, 797.7), (True, 1107.8)])
def test_minimum_reinforcement_of_a_flange_in_tension(overridden, width):
    """1200 x 150 on a web of 300, 500 deep: A = 285 000 mm2, y = 167.1 mm, I = 5554e6 mm4, W_t = 33.24e6 mm3, as a rectangle of
    6 W_t/h2 = 797.7 mm; the mean width down to the axis is (1200 x 150 + 300 x 17.1)/167.1 = 1107.8 mm."""
    flange = {"thickness": 150, "width": 1200}
    base = {**EN, "profiles": {"p": {"shape": "T", "depth": 500, "width": 300, "flange": flange}}}
    more = {"code_values": {"As_min_flange": 20}} if overridden else {}
    bars = "bottom 3x20 -0.12..12.12\ntop 8x20 -0.12..12.12\nstirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..11.8 150"
    result = one(check(two(base, **more), bars), "minimum.top.S1")
    assert result.demand == pytest.approx(0.26 * F_CTM / 500.0 * width * 452.0, rel=1e-3)


@pytest.mark.parametrize(("face", "where"), [("top", "S1"), ("bottom", "2")])
def test_minimum_reinforcement_for_cracks(face, where):
    """0.4 k f_ctm A_ct/f_yk with half of the section in tension and k = 1 - 0.35 (500 - 300)/500."""
    bars = "bottom 3x20 -0.12..12.12\ntop 3x20 -0.12..12.12\nstirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..11.8 150"
    result = one(check(two(), bars), f"minimum.cracks-{face}.{where}")
    assert result.demand == pytest.approx(0.4 * 0.86 * F_CTM * 150.0 * 500.0 / 500.0, rel=1e-6)


# ------------------------------------------------------------------ room


def test_rows_of_both_faces():
    """In 200 mm of depth: bottom bars up to 142 from the top, top bars down to 200 - 142; 20 mm aggregate and 5."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": 200, "width": 300}}}
    result = one(
        check(
            simple(base=base, length=3.0),
            "bottom 3x20 -0.12..3.12\ntop 3x20 -0.12..3.12\nstirrups 8x2 0.2..2.8 100",
        ),
        "fit.rows.1",
    )
    assert (result.demand, result.resistance) == pytest.approx((25.0, 142.0 - 58.0))


def test_bars_in_the_corners_of_stirrups():
    result = one(
        check(simple(), f"bottom 3x20 1..6.12\ntop 2x16 -0.12..6.12{STIRRUPS}"), "fit.corners-bottom.1"
    )
    assert (result.demand, result.resistance, result.ok) == (2.0, 0.0, False)


@pytest.mark.parametrize(
    ("profile", "depth"), [({"from": "q", "to": "p"}, 425.0), ({"from": "p", "to": "q"}, 350.0)]
)
def test_rows_at_the_sides_of_a_taper(profile, depth):
    """Five rows of 12 and six gaps of 25 from 3 m to the end, between the bars of both faces where the beam is least deep."""
    base = {**EN, "profiles": {**EN["profiles"], "q": {"shape": "rectangle", "depth": 350, "width": 300}}}
    text = written(
        base, [{"span": 6.0, "profile": profile}], [dead({"line": 6}, weight=True), live({"line": 4})]
    )
    result = one(check(text, f"{PLAIN}\nsides 5x12 3..6"), "fit.sides")
    assert (result.demand, result.resistance) == pytest.approx(
        (5 * 12.0 + 6 * 25.0, depth - 60.0 - 2.0 * (8.0 + 20.0)), abs=1.0
    )


def test_legs_across_the_beam():
    """Two legs of 8 inside covers of 30: 300 - 60 - 8 apart; 0.75 d, no more than 600."""
    result = one(check(simple(), PLAIN), "spacing.legs.1")
    assert result.demand == pytest.approx(232.0)
    assert result.resistance == pytest.approx(0.75 * min(452.0, 500.0 - 46.0), rel=1e-3)


def test_upward_movement_is_told():
    """A long span lifts the cantilever beside it: told, decides nothing."""
    text = written(
        EN,
        [7.0, {"span": 1.5, "profile": "p", "free": True}],
        [dead({"line": 18, "on": 1}), live({"line": 12, "on": 1})],
    )
    bars = (
        "bottom 4x20 -0.12..7.1\ntop 3x20 -0.12..8.45\nstirrups 8x2 0.2..6.8 150\nstirrups 8x2 7.2..8.4 150"
    )
    result = one(check(text, bars), "deflection.upward.2")
    assert result.severity == "advice"
    assert result.demand > 0.0


# ------------------------------------------------------------------ laps


def basic_anchorage(phi: float) -> float:
    """Good bond, f_ctd of C30/37: phi/4 f_yd/f_bd."""
    return phi / 4.0 * F_YD / (2.25 * 0.7 * F_CTM / 1.5)


@pytest.mark.parametrize(("face", "eta"), [("bottom", 1.0), ("top", 0.7)])
def test_laps_of_the_eurocode(face, eta):
    """All bars of a face at one place: alpha_6 1.5; stirrups of one bar's area at no more than 150 mm."""
    other = "top" if face == "bottom" else "bottom"
    bars = f"{face} 2x25 -0.12..3.6 straight lap\n{face} 2x25 2.4..6.12 lap straight\n{other} 2x16 -0.12..6.12{STIRRUPS}"
    result = check(simple(), bars)
    length = one(result, f"lap.{face}.01-02")
    alpha_2 = (
        1.0 - 0.15 * (38.0 - 25.0) / 25.0
    )  # cover 30 and a stirrup of 8; half the distance of the two laps is 62
    assert length.demand == pytest.approx(1.5 * alpha_2 * basic_anchorage(25.0) / eta, rel=1e-6)
    assert length.resistance == pytest.approx(1200.0)
    across = one(result, f"lap-stirrups.{face}.01-02")
    assert across.demand == pytest.approx(math.pi * 25.0**2 / 4.0)
    third = 400.0  # of the lap from 2400 to 3600: stirrups stand at 200 + 150 k
    inside = min(sum(a <= 200.0 + 150.0 * k <= a + third for k in range(40)) for a in (2400.0, 3200.0))
    assert across.resistance == pytest.approx(2.0 * inside * math.pi * 16.0)  # of both ends, a leg of each
    apart = one(result, f"lap-spacing.{face}.01-02")
    assert (apart.demand, apart.resistance) == pytest.approx((150.0, 150.0))


@pytest.mark.parametrize("face", ["bottom", "top"])
def test_half_of_bars_in_two_rows_may_be_lapped_at_one_place(face):
    other = "top" if face == "bottom" else "bottom"
    rows = "\n".join(
        f"{face}-{k} 2x16 -0.12..7.0 straight lap\n{face}-{k} 2x16 5.0..12.12 lap straight" for k in (1, 2)
    )
    bars = f"{rows}\n{other} 3x20 -0.12..12.12\nstirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..11.8 150"
    result = named(check(two(), bars), f"lap-share.{face}")
    if face == "top":  # pulled over the support
        assert result
        assert all((c.demand, c.resistance) == pytest.approx((1.0, 0.5)) for c in result)
    else:  # pressed there: all of them may be
        assert not result


@pytest.mark.parametrize("face", ["bottom", "top"])
def test_the_thickest_bars_are_not_lapped(face):
    other = "top" if face == "bottom" else "bottom"
    text = simple(
        {"line": 0.5},
        base={**US, "profiles": {"p": {"shape": "rectangle", "depth": 30, "width": 24}}},
        length=20.0,
        width=14,
    )
    bars = f"{face} 2x14 -0.12..4 straight lap\n{face} 2x14 1.5..6.2 lap straight\n{other} 2x8 -0.12..6.2\nstirrups 4x2 0.25..5.85 6"
    result = one(check(text, bars), f"lap-size.{face}.01-02")
    assert not result.ok


# ------------------------------------------------------------------ service and exposure


def test_stress_of_the_users_own():
    """n M (d - x)/I of the cracked section, found here from its own equilibrium."""
    text = simple(detailing={"service_stress": 150})
    result = check(text, PLAIN)
    collected = one(result, "service-stress.bottom.1")
    stage = result.facts.serviced.stages["lasting"]
    alpha = 200_000.0 / float(stage.modulus[0])
    area, above, d, d_2 = 3 * math.pi * 100.0, 2 * math.pi * 64.0, 452.0, 46.0
    # b x^2/2 + alpha A_s2 (x - d_2) = alpha A_s (d - x); concrete that compressed bars displace is taken off
    low, high = 1.0, 451.0
    for _ in range(80):
        x = 0.5 * (low + high)
        low, high = (
            (x, high)
            if 150.0 * x * x + (alpha - 1.0) * above * (x - d_2) < alpha * area * (d - x)
            else (low, x)
        )
    inertia = 100.0 * x**3 + (alpha - 1.0) * above * (x - d_2) ** 2 + alpha * area * (d - x) ** 2
    moment = (25.0 * 0.15 + 12.0 + 0.3 * 8.0) * 36.0 / 8.0 * 1e6
    assert collected.demand == pytest.approx(alpha * moment * (d - x) / inertia, rel=2e-2)
    assert collected.resistance == pytest.approx(150.0)


def test_limits_of_concrete_in_service():
    """0.45 f_ck under the lasting load; 0.6 f_ck under the rare one where chlorides are: told."""
    base = {
        **EN,
        "cover": {"top": 55, "bottom": 55, "sides": 55, "exposure": "XD1"},
        "profiles": {"p": {"shape": "rectangle", "depth": 320, "width": 300}},
    }
    result = check(
        simple({"line": 16}, base=base), f"bottom 4x25 -0.09..6.09\ntop 2x16 -0.09..6.09{STIRRUPS}"
    )
    lasting, rare = one(result, "concrete-stress.bottom.1"), one(result, "concrete-stress-rare.bottom.1")
    assert (lasting.resistance, rare.resistance) == pytest.approx((13.5, 18.0))
    assert (lasting.severity, rare.severity) == ("advice", "advice")
    assert not lasting.ok
    assert not rare.ok


def test_strength_for_the_exposure():
    """C25/30 where XC4 usually has C30/37: advice."""
    base = {
        **EN,
        "concrete": {"grade": "C25/30"},
        "cover": {"top": 40, "bottom": 40, "sides": 40, "exposure": "XC4"},
    }
    result = one(
        check(simple(base=base), f"bottom 3x20 -0.11..6.11\ntop 2x16 -0.11..6.11{STIRRUPS}"),
        "cover.concrete.beam",
    )
    assert (result.demand, result.resistance, result.severity, result.ok) == (30.0, 25.0, "advice", False)


@pytest.mark.parametrize(("aggregate", "more"), [(32.0, 0.0), (40.0, 5.0)])
def test_cover_of_bars_for_bond(aggregate, more):
    """phi + 10, and 5 more for aggregate above 32 mm; cover and stirrup there."""
    base = {**EN, "concrete": {"grade": "C30/37", "aggregate": aggregate}}
    result = one(check(simple(base=base), PLAIN), "cover.bars.bottom")
    assert (result.demand, result.resistance) == pytest.approx((20.0 + 10.0 + more, 38.0))


@pytest.mark.parametrize(("face", "where", "load"), [("bottom", "1", 18), ("top", "S1", 12)])
def test_crack_tables(face, where, load):
    """Table 7.3N at the stress of the check, linear between its rows (0.3 mm)."""
    layout = "bottom 3x20 -0.12..12.12\ntop 3x20 -0.12..12.12\nstirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..11.8 150"
    result = check(two(load=load), layout)
    collected = one(result, f"crack-table.{face}.{where}")
    state = result.facts.cracks(face == "bottom")
    stress = float(state.stress[collected.station])
    rows = (
        (160.0, 300.0, 32.0),
        (200.0, 250.0, 25.0),
        (240.0, 200.0, 16.0),
        (280.0, 150.0, 12.0),
        (320.0, 100.0, 10.0),
    )
    k = max(i for i in range(len(rows) - 1) if rows[i][0] <= stress)
    t = (stress - rows[k][0]) / 40.0
    apart = rows[k][1] + t * (rows[k + 1][1] - rows[k][1])
    thick = (
        (rows[k][2] + t * (rows[k + 1][2] - rows[k][2])) * F_CTM / 2.9 * 0.4 * 250.0 / (2.0 * (500.0 - 452.0))
    )
    assert collected.resistance == pytest.approx(apart, rel=1e-6) or collected.resistance == pytest.approx(
        thick, rel=1e-6
    )


# ------------------------------------------------------------------ what is not verified


def test_deep_spans_are_not_verified():
    result = unverified(
        check(simple(length=1.4), "bottom 3x20 -0.12..1.52\ntop 2x16 -0.12..1.52\nstirrups 8x2 0.2..1.2 100"),
        "deep.span.1",
    )
    assert "2.80 times as long as deep" in result[0].reason


def test_mesh_of_a_deep_span_of_aci():
    """Clear span of three depths: 0.0025 of the section over two faces, d/5 with d = 0.9 h."""
    bars = "bottom 3x19 -0.1..1.9\ntop 2x16 -0.1..1.9\nstirrups 10x2 0.2..1.6 100"
    (result,) = unverified(check(simple(base=SI, length=1.8), bars), "deep.span.1")
    assert "clear span 3.00 depths" in result.reason
    assert "375 mm²/m at each face" in result.reason
    assert "at most 90.0 mm apart" in result.reason


@pytest.mark.parametrize(
    ("force", "at", "deep"),
    [(160.0, 0.8, True), (160.0, 5.2, True), (160.0, 1.6, False), (70.0, 0.8, False), (70.0, 5.2, False)],
)
def test_forces_near_supports_of_aci(force, at, deep):
    """Within two depths of a face and more than half of the shear there: 1.4 x 70 kN is 46 % of it, 68 % of that at the other face."""
    text = simple({"line": 20}, {"point": force, "on": 1, "at": at}, base=SI)
    bars = "bottom 5x25 -0.1..6.1\ntop 3x19 -0.1..6.1\nstirrups 10x2 0.2..5.8 100"
    result = unverified(check(text, bars), "deep.span.1")
    assert bool(result) == deep
    assert not deep or "within two depths of the face" in result[0].reason


def test_hinges_have_joints_that_are_not_designed():
    text = written(
        EN,
        [5.0, {"span": 5.0, "profile": "p", "hinges": [1.0]}, 5.0],
        [dead({"line": 10}), live({"line": 10})],
    )
    bars = "bottom 3x16 -0.12..15.12\ntop 3x16 -0.12..15.12\n" + "\n".join(
        f"stirrups 8x2 {5 * k + 0.2}..{5 * k + 4.8} 150" for k in range(3)
    )
    assert [u.id for u in unverified(check(text, bars), "joints.hinge")] == ["joints.hinge.2-1"]


@pytest.mark.parametrize(("wide", "told"), [(900, True), (470, True), (440, False)])
def test_wide_outlines_are_not_verified(wide, told):
    """Where it is more than half as wide again as the web, 300."""
    side = 0.5 * (wide - 300)
    right, inner = wide - side, [[side, 500], [side, 150]]
    outline = [[0, 0], [wide, 0], [wide, 150], [right, 150], [right, 500], *inner, [0, 150]]
    result = check(simple(base={**EN, "profiles": {"p": {"shape": "polygon", "outline": outline}}}), PLAIN)
    assert [u.id for u in unverified(result, "flange.outline")] == (["flange.outline.1"] if told else [])


@pytest.mark.parametrize("side", ["left", "right"])
@pytest.mark.parametrize(
    ("thickness", "gap", "one_side", "two_sides"),
    [(40, 4.0, 240.0, 320.0), (120, 4.0, 475.0, 712.5), (120, 0.5, 250.0, 250.0)],
)
def test_flanges_of_aci(side, thickness, gap, one_side, two_sides):
    """Table 6.3.2.1: 6 h, l_n/12 at one side, 8 h, l_n/8 at two, half of the gap; l_n = 5.7 m."""
    one_flange = {
        "shape": "L",
        "depth": 500,
        "width": 300,
        "flange": {"thickness": thickness, f"gap_{side}": gap, "side": side},
    }
    two_flanges = {
        "shape": "T",
        "depth": 500,
        "width": 300,
        "flange": {"thickness": thickness, "gap_left": gap, "gap_right": gap},
    }
    for profile, out in ((one_flange, one_side), (two_flanges, two_sides)):
        result = check(
            simple(base={**SI, "profiles": {"p": profile}}),
            PLAIN.replace("x20", "x19").replace("x8", "x10").replace(" 8x2", " 10x2"),
        )
        wide = float(result.forces.stations.sections.flange_width[0]) - 300.0
        assert wide == pytest.approx(out if profile is one_flange else 2.0 * out)


def test_lateral_supports():
    """50 b/cbrt(h/b) against what is given."""
    text = simple(base={**EN, "bracing": 4.0})
    result = one(check(text, PLAIN), "bracing.span.1")
    assert (result.demand, result.resistance) == pytest.approx(
        (4000.0, 50.0 * 300.0 / (500.0 / 300.0) ** (1.0 / 3.0))
    )


# ------------------------------------------------------------------ ACI 318


def test_torsion_bars_of_aci():
    """0.042 s and 3/8 in: 12 mm bars beside stirrups 250 mm apart, 0.042 x 250."""
    text = simple({"line": 6}, {"torque": 6}, base=SI)
    result = one(
        check(
            text,
            "bottom 3x19 -0.1..6.1\ntop 3x13 -0.1..6.1\nsides 1x13 -0.1..6.1\nstirrups 10x2 0.2..5.8 250",
        ),
        "torsion.bar-size.1",
    )
    assert (result.demand, result.resistance) == pytest.approx((0.042 * 250.0, 12.7), rel=1e-3)


def test_legs_for_compression_bars_of_aci():
    """Five bars in compression that are counted on: three of them held, by three legs."""
    base = {**SI, "profiles": {"p": {"shape": "rectangle", "depth": 350, "width": 400}}}
    text = simple({"line": 45}, base=base)
    result = one(
        check(
            text,
            "bottom-1 5x29 -0.1..6.1\nbottom-2 2x29 -0.1..6.1\ntop 5x19 -0.1..6.1\nstirrups 10x2 0.2..5.8 100",
        ),
        "spacing.compressed-legs.1",
    )
    assert (result.demand, result.resistance, result.ok) == (3.0, 2.0, False)


def test_a_third_of_the_top_bars_goes_past_inflection():
    """Four bars over the support, two of them short: half goes on, a third is required."""
    bars = "bottom 3x19 -0.1..12.1\ntop 2x19 -0.1..12.1\ntop 2x19 5..7\nstirrups 10x2 0.2..5.8 150\nstirrups 10x2 6.2..11.8 150"
    result = one(check(two(SI, 16), bars), "support-share.top.S1-left")
    assert (result.demand, result.resistance) == pytest.approx((4 * 284.0 / 3.0, 2 * 284.0))


def test_inflection_limits_the_development_of_bottom_bars():
    """l_d against M_n/V_u + l_a with l_a no more than d or 12 d_b."""
    bars = (
        "bottom 3x25 -0.1..12.1\ntop 3x25 -0.1..12.1\nstirrups 10x2 0.2..5.8 100\nstirrups 10x2 6.2..11.8 100"
    )
    result = check(two(SI, 22), bars)
    collected = one(result, "anchorage.inflection.1-right")
    d = 500.0 - 40.0 - 9.5 - 12.7
    pull = 3 * 510.0 * 420.0
    nominal = pull * (d - 0.5 * pull / (0.85 * 28.0 * 300.0))
    shear = float(result.forces.design.shear[collected.station])
    assert collected.resistance == pytest.approx(nominal / shear + max(d, 12.0 * 25.4), rel=2e-3)
    clear = (300.0 - 2.0 * 40.0 - 2.0 * 9.5 - 3.0 * 25.4) / 2.0
    c_b = min(0.5 * (clear + 25.4), 40.0 + 9.5 + 12.7)
    assert collected.demand == pytest.approx(420.0 / (1.1 * math.sqrt(28.0) * c_b / 25.4) * 25.4, rel=1e-6)
    assert collected.demand < 420.0 / (1.7 * math.sqrt(28.0)) * 25.4


def test_perimeter_beams_of_aci():
    """A sixth of the top steel runs through, and is developed at the ends with a column."""
    column = {"column": {"below": {"height": 3.0, "size": [400, 400]}}}
    text = written(
        {**SI, "integrity": "perimeter"},
        [{"span": 6.0, "profile": "p", "at_left": dict(column)}, {"span": 6.0, "profile": "p", "at_right": dict(column)}],
        [dead({"line": 18}, weight=True), live({"line": 12}, category="occupied")], width=400,
    )  # fmt: skip
    bars = "bottom 3x19 -0.15..12.15 bend bend 300\ntop 2x19 -0.15..12.15 bend bend 300\ntop 4x19 4.5..7.5\nstirrups 10x2 0.25..5.75 100\nstirrups 10x2 6.25..11.75 100"
    result = check(text, bars)
    through, end = one(result, "integrity.top.1"), one(result, "integrity.end-top.S0-right")
    assert (through.demand, through.resistance) == pytest.approx((6 * 284.0 / 6.0, 2 * 284.0))
    assert end.demand == pytest.approx(2 * 284.0 / 6.0)


def test_two_bars_at_least_go_through():
    """One thick bar all along is a quarter of the steel, but not two bars (9.7.7.2)."""
    bars = "bottom 1x32 -0.1..12.1\nbottom 2x19 0.6..5.4\nbottom 2x19 6.6..11.4\ntop 3x25 -0.1..12.1\n"
    bars += "stirrups 10x2 0.2..5.8 150\nstirrups 10x2 6.2..11.8 150"
    result = named(check(two(SI, 12), bars), "integrity.number")
    assert [(c.demand, c.resistance, c.ok) for c in result] == [(2.0, 1.0, False)] * 2


def test_top_bars_that_stop_in_tension_need_shear_to_spare():
    """Two thirds of the shear resistance where the others are not twice what is required."""
    bars = "bottom 3x19 -0.1..12.1\ntop 2x19 -0.1..12.1\ntop 3x19 5.4..6.6\nstirrups 10x2 0.2..5.8 200\nstirrups 10x2 6.2..11.8 200"
    result = check(two(SI, 20), bars)
    collected = one(result, "cut-off.top.03")
    total = float(result.facts.strength.shear.total[collected.station])
    assert collected.resistance == pytest.approx(2.0 / 3.0 * total, rel=0.02)


def test_the_legs_of_an_upper_row_end_under_the_cover_too():
    """500 mm deep, covers of 30: a leg of 440 from the first row just fits; from the second, 20 + 25 mm up, no more than 395 do."""
    rows = "bottom 3x20 -0.1..6.1 bend bend 440\nbottom-2 2x20 -0.1..6.1 bend bend {leg}\ntop 2x16 -0.1..6.1\nstirrups 8x2 0.2..5.8 150"
    for leg, expected in ((440, [440.0, 440.0]), (395, [])):
        result = check(
            written(EN, [6.0], [dead({"line": 12}, weight=True), live({"line": 12})]), rows.format(leg=leg)
        )
        failing = [c for c in result.checks if c.id.startswith("inside.bars")]
        assert [c.demand for c in failing] == expected
        assert all(c.resistance == pytest.approx(395.0) for c in failing)


@pytest.mark.parametrize(("spacing", "passes"), [(53.0, True), (51.0, False)])
def test_the_largest_aggregate_passes_between_stirrups_with_10_mm_to_spare(spacing, passes):
    """Aggregate of 32 and stirrups of 10: 52 mm between centres, more than the 50 of any stirrups."""
    base = {**EN, "concrete": {"grade": "C30/37", "aggregate": 32}}
    layout = f"bottom 3x20 -0.1..6.1 bend bend 200\ntop 2x16 -0.1..6.1\nstirrups 10x2 0.2..{0.2 + 100 * spacing / 1000} {spacing}"
    result = check(written(base, [6.0], [dead({"line": 12}, weight=True), live({"line": 12})]), layout)
    own = next(c for c in result.checks if c.id.startswith("fit.stirrups"))
    assert own.ok is passes
    assert own.demand == pytest.approx(52.0)


@pytest.mark.parametrize("short", [0, 29, 61, 93, 125, 149])
@pytest.mark.parametrize("base", [EN, SI], ids=["EN", "ACI"])
def test_where_a_bar_stops_is_judged_and_not_the_next_station(base, short):
    """One span of 6 m, stations 150 mm apart: two bars go through, the third stops on either side of the peak.

    Past the place where it counts no longer (EN: its end; ACI: d before it) the two resist alone, with the moment of that
    place, or in EN the one a_l = 0.45 d cot theta nearer to the peak.
    """
    eurocode = base is EN
    (size, thin, tie), (phi, tie_phi) = (
        (("20", "12", "8"), (20.0, 8.0)) if eurocode else (("19", "13", "10"), (19.05, 9.525))
    )
    area, cover = (math.pi * 100.0 if eurocode else 284.0), base["cover"]["bottom"]
    d = 500.0 - cover - tie_phi - 0.5 * phi
    stops = 4300.0 - short
    end = stops + (0.0 if eurocode else d)
    bars = (
        f"bottom 2x{size} -0.12..6.12 bend bend 250\nbottom 1x{size} {6.0 - end / 1e3:.5f}..{end / 1e3:.5f}"
    )
    others = f"top 2x{thin} -0.12..6.12\nstirrups {tie}x2 0.2..5.8 150"
    result = check(simple({"line": 15}, base=base), f"{bars}\n{others}")
    weight = 0.3 * 0.5 * (25.0 if eurocode else 24.0)
    q = 1.35 * (15.0 + weight) + 1.5 * 8.0 if eurocode else 1.2 * (15.0 + weight) + 1.6 * 8.0
    pull, block = 2.0 * area * (F_YD if eurocode else 420.0), 300.0 * (20.0 if eurocode else 0.85 * 28.0)
    resistance = pull * (d - 0.5 * pull / block) * (1.0 if eurocode else 0.9)
    x = max(stops - (0.45 * d * 2.5 if eurocode else 0.0), 3000.0)
    ratio = one(result, "bending.sagging.1").ratio
    # a little less for what the top bars add
    assert 0.99 * q * x * (6000.0 - x) / 2.0 < ratio * resistance < 1.001 * q * x * (6000.0 - x) / 2.0


def test_bars_that_a_step_of_the_soffit_stops_take_nothing_from_those_above_it():
    """A cantilever 350 mm deep beside a span of 450: the span's bottom bars, bent up in the support 100 mm below the cantilever's
    soffit, are no partners of its own bars, whose share that is anchored counts as if they were not there."""
    base = {
        **EN,
        "profiles": {
            "p": {"shape": "rectangle", "depth": 450, "width": 250},
            "q": {"shape": "rectangle", "depth": 350, "width": 250},
        },
    }
    spans = [{"span": 0.9, "profile": "q", "free": True}, {"span": 4.0, "profile": "p"}]
    text = written(
        base, spans, [dead({"line": 10}, {"couple": 19, "on": 1, "at": 0.45}, weight=True)], width=350
    )
    own = "bottom 2x12 0.03..1.0 bend straight 240"
    others = "top 2x12 0.03..5.0 bend straight 240\nstirrups 8x2 0.05..4.6 150"
    beside = "bottom 4x12 0.755..5.0 bend straight 240"
    alone, both = (check(text, "\n".join(rows)) for rows in ((own, others), (own, beside, others)))
    area = 2 * math.pi * 36.0
    for result in (alone, both):
        length, x = float(result.facts.placed.anchorage[0]), result.forces.stations.x
        i = int(abs(x - 765.0).argmin())
        share = (1000.0 - float(x[i])) / length
        assert 0.5 < share < 1.0
        assert float(result.facts.placed.effective[i][result.facts.placed.bottom].sum()) == pytest.approx(
            share * area, rel=1e-6
        )


def test_side_bars_count_for_the_spans_that_have_them():
    """Webs of 1100, 500 and 1100 mm, side bars in the first: 250 mm apart at most for half of 0.8 f_yk and 0.3 mm (Table 7.3N), a fifth
    of the height between the corner bars with four rows; the last span has none. A design has them in both deep spans alone."""
    base = {
        **EN,
        "profiles": {
            "p": {"shape": "rectangle", "depth": 1100, "width": 300},
            "q": {"shape": "rectangle", "depth": 500, "width": 300},
        },
    }
    spans = [{"span": 6, "profile": k} for k in "pqp"]
    text = written(base, spans, [dead({"line": 20}), live({"line": 8})])
    stirrups = "\n".join(f"stirrups 8x2 {a}..{a + 5.6} 200" for a in (0.2, 6.2, 12.2))
    bars = f"bottom 3x16 -0.12..18.12\ntop 3x16 -0.12..18.12\n{stirrups}\nsides 4x12 -0.12..5.95"
    result = check(text, bars)
    height = 1100.0 - 2.0 * (30.0 + 8.0 + 10.0)
    assert one(result, "skin.spacing.1").ratio == pytest.approx(height / 5.0 / 250.0)
    assert one(result, "skin.area.1").resistance == pytest.approx(4.0 * math.pi * 36.0)
    mixed = check(text, bars.replace("sides 4x12 -0.12..5.95", "sides 4x16 -0.12..3\nsides 4x12 2.2..5.95"))
    assert one(mixed, "skin.area.1").resistance == pytest.approx(4.0 * math.pi * 36.0)  # the thinner ones
    assert not named(result, "skin.spacing.2")
    assert one(result, "skin.spacing.3").ratio == pytest.approx(height / 250.0)
    made = design(text)
    assert made.status != "fail"
    assert {(s.start < 6000.0, s.end > 12000.0) for s in made.layout.sides} == {(True, False), (False, True)}
    for s in made.layout.sides:
        assert s.end < 6000.0 or s.start > 12000.0


def test_a_bar_that_ends_at_a_point_load_has_a_station_past_it():
    """The stations at the load itself still have the bar; the one 0.5 mm beyond does not."""
    bars = "bottom 2x20 -0.12..6.12 bend bend 200\nbottom 2x20 0.3..3.5"
    result = check(simple({"point": 60, "on": 1, "at": 3.5}), f"{bars}\ntop 2x12 -0.12..6.12{STIRRUPS}")
    x = result.forces.stations.x
    assert abs(x - 3500.5).min() < 1e-6
    past = int(abs(x - 3500.5).argmin())
    assert float(result.facts.placed.face_area(True, anchored=False)[past]) == pytest.approx(
        2 * math.pi * 100.0
    )


@pytest.mark.parametrize(
    ("base", "bar", "steel", "provided"),
    [
        (EN, "20", 1.35 / (500 / 1.15), 157.08),
        (SI, "19", 1.4 / (0.75 * 420), 142.0),
        (CSA, "20", 1.4 / (0.85 * 400), 200.0),
        (IS, "20", 1.5 / (0.87 * 415), 157.08),
        (BS, "20", 1.4 / (0.95 * 460), 157.08),
    ],
    ids=["EN", "SI", "CSA", "IS", "BS"],
)
def test_a_hung_force_hangs_on_stirrups_of_its_own(base, bar, steel, provided):
    """100 kN at a stirrup: three of 10 mm (10M) stand within a third of the depth; their factored yield force (ACI: with phi of shear)."""
    loads = dead({"line": 1}, {"point": 100, "on": 1, "at": 3.0, "hung": True})
    bars = f"bottom 4x{bar} -0.12..6.12 bend bend 250\ntop 2x{bar} -0.12..6.12\nstirrups 10x2 0.2..5.8 100"
    found = one(check(written(base, [6], [loads]), bars), "hanging.stirrups")
    assert found.demand == pytest.approx(100e3 * steel)
    assert found.resistance == pytest.approx(3.0 * provided, rel=1e-4)


@pytest.mark.parametrize(
    ("base", "lowest"),
    [(EN, 0.7), (SI, 0.8), (CSA, 0.8), (IS, 0.7), (BS, 0.7)],
    ids=["EN", "SI", "CSA", "IS", "BS"],
)
def test_no_more_is_redistributed_than_the_code_permits(base, lowest):
    """EN 5.5(4), ACI 6.6.5.3, CSA 9.2.4, IS 37.1.1(c), BS 3.2.2.1."""
    bar = "19" if base is SI else "20"
    stirrups = "stirrups 10x2 0.2..5.8 100\nstirrups 10x2 6.2..11.8 100"
    bars = f"bottom 4x{bar} -0.12..12.12 bend bend 250\ntop 4x{bar} -0.12..12.12\n{stirrups}"
    for percent in (100.0 * (1.0 - lowest), 35):
        text = written(base, [6, 6], [dead({"line": 20})], redistribution={"percent": percent})
        found = one(check(text, bars), "redistribution.minimum")
        assert found.demand == pytest.approx(lowest)
        assert found.resistance == pytest.approx(1.0 - percent / 100.0)
        assert found.ok == (percent < 34.0)


def cantilever(*loads: dict) -> str:
    return written(EN, [6, {"span": 2.0, "profile": "p", "free": True}], [dead(*loads)])


def test_straight_bars_go_to_a_free_tip():
    """(6.18): what shear pulls is that of the place: q s^2/2 + q s a_l at s from the tip, a_l = 0.45 d cot theta (2.5), not q (s + a_l)^2/2."""
    through = "bottom 4x16 -0.12..7.97 bend straight 250\ntop 2x16 -0.12..7.97 bend straight 250"
    others = "top 2x16 4.0..7.6\nstirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..7.92 150"
    result = check(cantilever({"line": 30}), f"{through}\n{others}")
    worst = one(result, "bending.hogging.S1")
    assert worst.ok
    assert worst.x < 6200.0
    d = 500.0 - 30.0 - 8.0 - 8.0
    a_l, q = 0.45 * d * 2.5e-3, 1.35 * 30.0
    stop = next(c for c in named(result, "curtailment.top") if c.x > 6000.0)
    x = (8000.0 - stop.x) / 1e3
    assert stop.demand == pytest.approx(1e6 * q * (x * x / 2.0 + x * a_l), rel=0.01)


@pytest.mark.parametrize(("end", "passes"), [("straight", False), ("bend", True)])
def test_a_load_at_the_tip_has_to_be_anchored_there(end, passes):
    """60 kN 60 mm from the tip pull 81 kN x 1.25 in the last bars; straight ones have only just begun."""
    leg = " 400" if end == "bend" else " 250"
    bars = f"bottom 4x16 -0.12..7.97 bend straight 250\ntop 4x20 -0.12..7.97 bend {end}{leg}"
    stirrups = "stirrups 8x2 0.2..5.8 150\nstirrups 8x2 6.2..7.9 75"
    result = check(cantilever({"point": 60, "on": 2, "at": 1.94}), f"{bars}\n{stirrups}")
    assert one(result, "bending.hogging.S1").ok == passes


def test_the_neutral_axis_is_derived_with_the_depth_that_it_refers_to():
    """4 of 20 mm below, 2 of 12 mm above, d = 500 - 30 - 8 - 10: x is that of the section, d and x/d belong to it."""
    bars = "bottom 4x20 -0.12..6.12 bend bend 250\ntop 2x12 -0.12..6.12\nstirrups 8x2 0.2..5.8 150"
    result = check(simple({"line": 15}), bars)
    worked = next(w for w in workings(result) if w.check == "ductility.sagging.1")
    values = {line.symbol: line.value for line in worked.lines}
    assert values["d"] == pytest.approx(452.0)
    assert values["x/d"] == pytest.approx(values["x"] / 452.0)
    assert values["x"] == pytest.approx(4 * math.pi * 100.0 * F_YD / (0.8 * 300.0 * 20.0), rel=0.2)


def test_minimum_reinforcement_of_a_flange_in_tension_between_spans():
    """ACI 9.6.1.2: twice the web only where statics alone determine the moments; over two spans 1.4/f_y b_w d with d = 600 - 40 -
    9.5 - 9.55."""
    flange = {"thickness": 120, "width": 1500}
    base = {**SI, "profiles": {"p": {"shape": "T", "depth": 600, "width": 300, "flange": flange}}}
    bars = "bottom 3x19 -0.11..12.11\ntop 4x19 -0.11..12.11\nstirrups 10x2 0.2..5.8 150\nstirrups 10x2 6.2..11.8 150"
    result = one(check(two(base, 40), bars), "minimum.top.S1")
    assert result.demand == pytest.approx(1.4 / 420.0 * 300.0 * (600.0 - 40.0 - 9.5 - 9.55), rel=1e-4)


def test_minimum_reinforcement_of_a_flange_in_tension_in_a_cantilever():
    """ACI 9.6.1.2(b): twice the web over the cantilever, once over the other support of a line of two spans."""
    flange = {"thickness": 120, "width": 1500}
    base = {**SI, "profiles": {"p": {"shape": "T", "depth": 600, "width": 300, "flange": flange}}}
    text = two(base, 40, (6.0, 6.0, {"span": 2.0, "profile": "p", "free": True}))
    bars = "bottom 3x19 -0.11..13.95\ntop 6x19 -0.11..13.95 straight bend 250\nstirrups 10x2 0.2..5.8 150\nstirrups 10x2 6.2..11.8 150"
    result = check(text, f"{bars}\nstirrups 10x2 12.2..13.9 150")
    d = 600.0 - 40.0 - 9.5 - 9.55
    for name, width in (("minimum.top.S1", 300.0), ("minimum.top.S2", 600.0)):
        assert one(result, name).demand == pytest.approx(1.4 / 420.0 * width * d, rel=1e-3), name


@pytest.mark.parametrize(
    ("face", "leg", "passes"),
    [("bottom", 420.0, True), ("bottom", 420.5, False), ("top", 420.0, True), ("top", 420.5, False)],
)
def test_a_leg_stands_between_both_covers(face, leg, passes):
    """500 deep, cover 50 at the top and 30 at the bottom: from the outside of a bar inside its stirrup 500 - 50 - 30."""
    base = {**EN, "cover": {"top": 50, "bottom": 30, "sides": 30}}
    rows = ("bottom 3x20 -0.12..6.12", "top 2x20 -0.12..6.12")
    layout = "\n".join(row + (f" bend bend {leg}" if row.startswith(face) else "") for row in rows)
    result = check(simple(base=base), layout + STIRRUPS)
    assert all(c.ok for c in named(result, "inside.bars")) == passes


@pytest.mark.slow
def test_more_bars_across_the_web_are_named_only_where_they_are_lacking():
    notes = []
    for steel in ("0.02 mm2/mm", "5 mm2/mm"):
        flange = {"thickness": 120, "width": 1500, "cross_steel": steel}
        base = {**EN, "profiles": {"p": {"shape": "T", "depth": 500, "width": 250, "flange": flange}}}
        result = design(simple({"line": 40}, base=base, length=8.0))
        crossing = one(result, "flange.steel.1")
        notes.append((crossing.ok, "more bars across the web" in crossing.note))
    assert notes == [(False, True), (True, False)]


def test_a_lap_of_overstressed_bars_is_no_longer_than_for_yield():
    """Where the moment exceeds the resistance the share of the yield is 1, not more."""
    bars = "bottom 2x20 -0.12..3.5 bend lap 200\nbottom 2x20 2.3..6.12 lap bend 200\ntop 2x16 -0.12..6.12\nstirrups 8x2 0.2..5.8 150"
    required = [
        one(check(simple({"line": load}, detailing={"laps_for": what}), bars), "lap.bottom").demand
        for load, what in ((40, "yield"), (40, "stress"), (2, "stress"))
    ]
    assert required[1] == pytest.approx(required[0])
    assert required[2] < 0.9 * required[0]


@pytest.mark.parametrize(
    ("length", "load", "free", "depth"),
    [(6.0, 4, False, 400.0), (6.0, 60, False, 675.0), (2.0, 4, True, 350.0)],
)
def test_proposed_depths(length, load, free, depth):
    """Span/18, of a cantilever span/7, and 55 mm; or the square root of M over 0.16 f_cd b, here 364.5 kNm over 960 N/mm, and 55 mm; in
    steps of 25."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": "auto", "width": 300}}}
    spans = [{"span": length, "profile": "p", "free": free}]
    if free:
        spans = [{"span": 0.6, "profile": "q"}, *spans]
        base["profiles"]["q"] = {"shape": "rectangle", "depth": 600, "width": 300}
    result = design(written(base, spans, [dead({"line": load, "on": len(spans)})]))
    assert result.beam.spans[-1].profile.depth == depth


@pytest.mark.parametrize(("leg", "wider"), [(245, False), (430, True)])
def test_a_leg_that_the_anchorage_needs_is_bent_round_a_wider_former(leg, wider):
    """8.3(3): 7 diameters of 25 mm where no more than five go on past the bend: 3.5 + 1 + 5 diameters are 237.5 mm."""
    bars = f"bottom 3x25 -0.12..6.12 bend bend {leg}\ntop 2x16 -0.12..6.12{STIRRUPS}"
    result = check(simple({"line": 30}), bars)
    mandrel = next(i.mandrel for i in result.bars if i.bar.mark == "01")
    assert (mandrel > 175.0) == wider
    assert mandrel >= 175.0


def test_a_slab_whose_bars_spread_is_derived_with_its_clear_span():
    """ACI 24.3.4: the effective width, no more than a tenth of the clear span of 8 m less 300."""
    flange = {"thickness": 120, "width": 1500}
    base = {**SI, "profiles": {"p": {"shape": "T", "depth": 600, "width": 300, "flange": flange}}}
    bars = "bottom 4x25 -0.11..16.11\ntop 6x25 -0.11..16.11\nstirrups 10x2 0.2..7.8 150\nstirrups 10x2 8.2..15.8 150"
    result = check(two(base, 22, (8.0, 8.0)), bars)
    assert one(result, "tension-flange.top.S1").demand == pytest.approx(770.0)
    worked = next(w for w in workings(result) if w.check == "tension-flange.top.S1")
    assert {line.symbol: line.value for line in worked.lines}["l_n"] == pytest.approx(7700.0)


def test_the_least_width_that_is_proposed():
    """Half of the depth, no less than 200 mm: 3 m under little load is 250 deep."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": "auto", "width": "auto"}}}
    profile = design(written(base, [3.0], [dead({"line": 4})])).beam.spans[0].profile
    assert (profile.depth, profile.width) == (250.0, 200.0)


@pytest.mark.parametrize(("start", "passes"), [(3.052, False), (3.055, True)])
def test_between_zones_of_two_sizes_the_thicker_stirrup_counts(start, passes):
    """Aggregate of 32 mm, 10 to spare and a stirrup of 12 mm: 54 mm between the last of one zone and the first of the next."""
    base = {**EN, "concrete": {"grade": "C30/37", "aggregate": 32}}
    bars = f"bottom 3x20 -0.12..6.12\ntop 2x16 -0.12..6.12\nstirrups 12x2 0.2..3.0 200\nstirrups 8x2 {start}..5.8 200"
    assert one(check(simple(base=base), bars), "fit.stirrups").ok == passes


def test_what_a_beam_takes_and_costs():
    """A rectangle of 300 x 500 over 6 m between supports of 240 mm, with lapped bottom bars; at rates of which none
    is 1."""
    described = beam(written(EN, [6.0], [dead({"line": 10}), live({"line": 8})]))
    rates = Rates(
        steel=1.5, bar=3.0, stirrup=1.7, variety=11.0, mark=6.0, lap=4.5, concrete=150.0, formwork=40.0
    )
    described = replace(described, detailing=replace(described.detailing, rates=rates))
    layout = layout_of(
        described,
        "bottom 3x16 -0.09..3.6 straight lap\nbottom 3x16 2.6..6.09 lap straight\ntop 2x12 -0.09..6.09\nstirrups 8x2 0.2..5.8 200",
    )
    total = ub.check(described, layout).quantities
    bottom = 3 * (3.69 + 3.49) * 1.579  # kg/m of 16, 12 and 8 mm: 7850 kg/m3
    top = 2 * 6.18 * 0.888
    tie = ub.check(described, layout).stirrups[0]
    ties = 29 * tie.cut_length / 1000.0 * 0.3946
    assert total["steel_kg"] == pytest.approx(bottom + top + ties, rel=2e-3)
    length = 6.0 + 2 * 0.5 * described.supports[0].width / 1000.0
    profile = described.spans[0]
    b, h = float(profile.widths(0.0)) / 1000.0, float(profile.depths(0.0)) / 1000.0
    assert total["concrete_m3"] == pytest.approx(b * h * length)
    assert total["formwork_m2"] == pytest.approx((b + 2.0 * h) * length)
    assert total["steel_kg_per_m3"] == pytest.approx(total["steel_kg"] / total["concrete_m3"])
    # 8 bars, 29 stirrups, three sizes, one lap, four marks
    steel = 1.5 * total["steel_kg"] + 8 * 3.0 + 29 * 1.7 + 3 * 11.0 + 4.5 + 4 * 6.0
    assert total["steel_cost"] == pytest.approx(steel)
    assert total["cost"] == pytest.approx(steel + 150.0 * total["concrete_m3"] + 40.0 * total["formwork_m2"])


def test_bearings_reach_from_their_faces_to_the_ends():
    """Supports of 300 mm at 0 and 6 m: from 0.15 to -0.15 and from 5.85 to 6.15 m."""
    given = beam(simple(detailing={"anchorage": "pressure"}))
    forces = run_forces(given)
    found = bearings_of(forces.beam, code_of(given), forces)
    assert [(b.side, b.outer, b.face) for b in found] == [(0, -150.0, 150.0), (1, 6150.0, 5850.0)]


def test_concrete_that_narrows_towards_its_compressed_edge_counts_nine_tenths():
    """3.1.7(3): a block of 0.9 x 20 MPa over a width of 200 mm at the top that grows to 400 at the bottom of 500; turned over it has no
    such factor. The two bars at the top, 44 mm down, are compressed as the concrete beside them shortens."""
    for top, foot, factor in ((200.0, 400.0, 0.9), (400.0, 200.0, 1.0)):
        profile = {"shape": "trapezoid", "depth": 500, "width": top, "foot": foot}
        base = {**EN, "profiles": {"p": profile}, "concrete": {"grade": "C30/37", "diagram": "block"}}
        text = simple({"line": 20}, base=base, code_values={"alpha_cc": 1.0})
        bars = f"bottom 2x20 -0.12..6.12 bend bend 200\ntop 2x12 -0.12..6.12{STIRRUPS}"
        found = one(check(text, bars), "bending.sagging")
        force, d, grows = 2 * math.pi * 100.0 * F_YD, 500.0 - 30 - 8 - 10, (foot - top) / 500.0

        def parts(x, top=top, grows=grows, stress=20.0 * factor):
            """Forces of the concrete and of the bars, and the concrete's moment about the top."""
            a, steel = 0.8 * x, 200e3 * 0.0035 * (x - 44.0) / x
            bars = 2 * math.pi * 36.0 * max(min(steel, F_YD), -F_YD)
            return stress * (top * a + grows * a**2 / 2), bars, stress * (top * a**2 / 2 + grows * a**3 / 3)

        low, high = 20.0, 300.0
        while high - low > 1e-6:
            x = 0.5 * (low + high)
            low, high = (x, high) if sum(parts(x)[:2]) < force else (low, x)
        _, bars_there, moment = parts(low)
        assert found.resistance == pytest.approx(force * d - moment - bars_there * 44.0, rel=2e-3)


@pytest.mark.parametrize(("over", "told"), [(300, False), (310, True)])
def test_the_overhang_of_a_polygon_is_not_verified_where_it_is_wide(over, told):
    """More than half a web of 200 mm."""
    outline = [[0, 0], [over, 0], [over, 120], [200, 120], [200, 500], [0, 500]]
    base = {**EN, "profiles": {"p": {"shape": "polygon", "outline": outline}}}
    result = check(simple(base=base), f"bottom 2x20 -0.12..6.12\ntop 2x16 -0.12..6.12{STIRRUPS}")
    assert bool(unverified(result, "flange.outline")) == told


@pytest.mark.parametrize(("base", "moved"), [(EN, "within a_l to either side"), (SI, "moment to design for")])
def test_where_the_design_moment_comes_from_is_told(base, moved):
    bars = PLAIN.replace("x20", "x19").replace("8x2", "10x2") if base is SI else PLAIN
    result = check(simple(base=base), bars)
    told = ub.why(result, one(result, "bending.sagging").id).lines
    assert any(moved in line.text for line in told)


def test_stirrups_for_torsion_hold_nothing_that_hangs_beside_them():
    """EN: each of two legs takes T / (2 A_k f_ywd cot), and both together the shear without what the concrete resists."""
    loads = dead(
        {"line": 1}, {"point": 100, "on": 1, "at": 3.0, "hung": True}, {"torque": 10, "on": 1, "at": 3.0}
    )
    bars = "bottom 4x20 -0.12..6.12 bend bend 250\ntop 4x20 -0.12..6.12\nsides 1x16 -0.12..6.12\nstirrups 10x2 0.2..5.8 100"
    result = check(written(EN, [6], [loads]), bars)
    found = one(result, "hanging.stirrups")
    lines = {v.symbol: v.value for v in ub.why(result, found.id).lines}
    i, s = result.facts.nearest(2999.0), result.facts.strength
    both = float(s.twist.leg[i]) * 2.0 + float(s.shear_demand[i]) / (
        float(s.shear.cot[i]) * 0.9 * float(s.d_shear[i]) * F_YD
    )
    assert float(s.twist.leg[i]) > 0.03
    assert lines["A_sw,V"] == pytest.approx(both * 2.0 * 500.0 / 3.0, rel=0.05)
    assert found.resistance == pytest.approx(lines["A_sw"] - lines["A_sw,V"])


def test_the_depth_where_a_bar_ends_is_that_of_its_span_as_far_as_the_support():
    """450 mm deep to the left of the second support, 600 to the right: 300 mm wide, and 1 mm for rounding."""
    from upright_bramble.proportion.curtail import depth_at_end

    base = {**EN, "profiles": {**EN["profiles"], "p": {"shape": "rectangle", "depth": 450, "width": 300},
                               "q": {"shape": "rectangle", "depth": 600, "width": 300}}}  # fmt: skip
    made = beam(written(base, [6.0, {"span": 5.0, "profile": "q"}], [dead({"line": 10})]))
    ends = [(6150.0, 1), (6160.0, 1), (5850.0, 0), (5840.0, 0)]
    assert [depth_at_end(made, x, side) for x, side in ends] == [450.0, 600.0, 600.0, 450.0]


def test_what_carries_a_held_piece_on_is_as_long_as_can_be_had():
    """Stock of 12 m over spans of 4 m: the next laps of bottom bars are over the last support that a piece reaches."""
    from upright_bramble.pipeline import code_of
    from upright_bramble.proportion.carried import carried_on

    made = beam(written(EN, [4.0] * 7, [dead({"line": 15}, weight=True), live({"line": 10})]))
    held = layout_of(made, "bottom 2x16 -0.12..8.4 straight lap").bars
    pieces = carried_on(made, code_of(made), held)
    assert [b.ends[0] for b in pieces] == ["lap"] * len(pieces)
    lap = held[0].end - pieces[0].start
    assert [round(b.end - 0.5 * lap, -2) for b in pieces[:-1]] == [16000.0, 24000.0]
    assert pieces[-1].end > 28000.0


@pytest.mark.parametrize(
    "base",
    [EN, SI, CSA, IS, BS, {**EN, "detailing": {"anchorage": "pressure"}}],
    ids=["EN", "SI", "CSA", "IS", "BS", "EN, pressed"],
)
def test_both_ends_of_an_even_beam_are_derived_alike(base):
    """What anchors its bars at either end, the pressure of the support among it."""
    bar, tie = {"aci318m-19": ("19", "10"), "csa-a23.3-19": ("20", "10")}.get(base["code"], ("20", "8"))
    bars = f"bottom 3x{bar} -0.12..6.12\ntop 2x{bar} -0.12..6.12\nstirrups {tie}x2 0.2..5.8 150"
    result = check(written(base, [6.0], [dead({"line": 15}, weight=True)]), bars)
    ends = [c for c in result.checks if c.kind.id.startswith("anchorage.end")]
    assert len(ends) == 2
    left, right = ([(v.symbol, v.unit, v.value) for v in ub.why(result, c.id).lines] for c in ends)
    assert [v[:2] for v in left] == [v[:2] for v in right]
    assert ("p" in [v[0] for v in left]) == ("detailing" in base)
    assert [v[2] for v in left] == pytest.approx([v[2] for v in right], rel=1e-6)


def test_where_no_bars_are_it_is_they_that_lack():
    """No axial force acts: a span without bottom bars is not said to be used up by one."""
    found = one(check(simple(), f"bottom 3x20 -0.12..2\ntop 2x16 -0.12..2{STIRRUPS}"), "bending.sagging")
    assert not found.ok
    assert "axial" not in found.note


def test_the_pressure_told_is_that_of_the_own_end():
    """Of 24 kN/m at least and a force near the left support, which presses more there."""
    text = written(
        EN,
        [6.0],
        [dead({"line": 15}, {"point": 40, "on": 1, "at": 1.0}, weight=True)],
        detailing={"anchorage": "pressure"},
    )
    result = check(text, f"bottom 3x20 -0.12..6.12\ntop 2x16 -0.12..6.12{STIRRUPS}")
    bearings = bearings_of(result.beam, code_of(result.beam), result.facts.forces)
    told = [
        next(v.value for v in ub.why(result, c.id).lines if v.symbol == "p")
        for c in result.checks
        if c.kind.id.startswith("anchorage.end")
    ]
    assert told == pytest.approx([b.pressure for b in bearings])
    assert told[0] > 1.3 * told[1]


@pytest.mark.parametrize(("leg", "told"), [(110, False), (130, True), (240, True)])
def test_legs_of_side_bars_are_told_where_they_take_half_of_the_web(leg, told):
    """From a stirrup of 8 mm to the cover of the other side: 300 - 30 - 8 - 30 = 232 mm."""
    layout = f"{PLAIN}\nsides 1x12 -0.12..6.12"
    made = beam(simple())
    bars = layout_of(made, layout)
    sides = tuple(replace(s, ends=("bend", "straight"), legs=(float(leg), 0.0)) for s in bars.sides)
    found = named(ub.check(made, replace(bars, sides=sides)), "fit.sides")
    assert [(c.demand, c.resistance, c.ok) for c in found if c.place.part == "leg"] == (
        [(leg, 232.0, leg < 232)] if told else []
    )


@pytest.mark.parametrize(
    ("actions", "told"),
    [
        ([dead({"line": 10}), live({"line": 5})], ""),
        ([dead({"line": 10})], "no variable action"),
        ([live({"line": 5})], "no permanent action"),
        ([dead({"line": 0}, weight=True), live({"line": 0})], "no variable action"),
    ],
)
def test_actions_that_may_have_been_forgotten_are_named(actions, told):
    said = [
        m.text
        for m in check(written(EN, [6.0], actions), PLAIN).messages
        if "is the" in m.text or "is one" in m.text
    ]
    assert len(said) == bool(told)
    assert all(told in text for text in said)


@pytest.mark.parametrize("fixed", [(False, False), (True, False), (False, True)])
@pytest.mark.parametrize(("start", "end", "out"), [(-0.15, 6.15, ()), (-0.2, 5.8, (0,)), (0.2, 6.25, (1,))])
def test_stirrups_lie_inside_the_concrete_or_in_what_it_is_built_into(fixed, start, end, out):
    """The beam ends at the outer faces of its supports, 0.15 m beyond their middles."""
    ends = {
        f"at_{side}": {"fixed": True} for side, held in zip(("left", "right"), fixed, strict=True) if held
    }
    text = written(EN, [{"span": 6.0, "profile": "p", **ends}], [dead({"line": 10})])
    bars = f"bottom 3x20 -0.12..6.12\ntop 2x16 -0.12..6.12\nstirrups 8x2 {start}..{end} 50"
    found = named(check(text, bars), "inside.stirrups")
    beyond = max((-0.15 - start, end - 6.15)[k] for k in out) if out else 0.0
    expected = bool(out) and not fixed[out[0]]
    assert len(found) == expected
    assert all(c.demand == pytest.approx(1e3 * beyond) for c in found)


@pytest.mark.parametrize(
    ("load", "low", "high"), [(20.0, 0.7, 0.7), (40.0, 0.75, 0.95), (47.0, 1.0, 1.0), (140.0, 1.0, 1.0)]
)
def test_redistribution_goes_as_far_as_the_section_turns(load, low, high):
    """5.5(4): x/d of (delta - 0.44)/1.25, with tension steel alone; d is 500 - 30 - 25 - 15 mm, f_cd 0.85 x 20 MPa."""
    base = {**EN, "code_values": {"alpha_cc": 0.85}, "detailing": {"reserve": 0}}
    made = beam(written(base, [6.0, 6.0], [dead({"line": load})], redistribution={"percent": "maximum"}))
    forces = run_forces(made)
    peak = load * 36.0 / 8.0 * 1.35e6

    def enough(delta):
        block = 0.8 * 430.0 * (delta - 0.44) / 1.25
        return 17.0 * 300.0 * block * (430.0 - 0.5 * block) >= delta * peak

    steps = [0.7 + 0.0001 * k for k in range(3001)]
    expected = next((v for v in steps if enough(v)), 1.0)
    assert forces.delta[1] == pytest.approx(expected, abs=0.0016)
    assert low <= expected <= high
    assert forces.delta[[0, 2]].tolist() == [1.0, 1.0]


def test_compression_bars_that_the_moment_requires_count_in_span_over_depth():
    """7.16b: what 3 bars of 25 mm ask for beyond x/d = 0.448 of 452 mm is in the top bars, which yield there."""
    text = simple({"line": 62})
    result = check(text, f"bottom 6x25 -0.12..6.12\ntop 4x25 -0.12..6.12{STIRRUPS.replace('150', '100')}")
    found = one(result, "deflection.span-depth")
    lines = {v.symbol: v for v in ub.why(result, found.id).lines}
    facts = result.facts
    i = facts.nearest(3000.0)
    d = float(facts.strength.d_bottom[i])
    pressed = float(facts.required["top_compression"][i]) / (300.0 * d)
    rho = lines["A_s,req"].value / (300.0 * d)
    assert 0.001 < pressed < rho
    rho_0 = 1e-3 * math.sqrt(30.0)
    basic = (
        11.0
        + 1.5 * math.sqrt(30.0) * rho_0 / (rho - pressed)
        + math.sqrt(30.0) / 12.0 * math.sqrt(pressed / rho_0)
    )
    assert lines["l/d"].value == pytest.approx(basic, rel=1e-4)
