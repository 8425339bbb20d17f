"""What codes answer where beams of the other tests do not ask: combinations of every kind of load, the limits of beam theory, grades."""

from __future__ import annotations

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from upright_bramble.analysis import analyse
from upright_bramble.analysis.side_bars import side_bar_anchored
from upright_bramble.beam import Concrete, Cover, Flange, Service, SideBars, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.csa_a23.analysis import approximate_moment
from upright_bramble.codes.csa_a23.bond import coating_factor
from upright_bramble.codes.parts import Face, Group, ShortSpan, Surroundings, Tube
from upright_bramble.errors import CodeError
from yaml_beams import line, uniform

IS, BS, CSA, ACI, US, EN = (
    get_code(name)
    for name in ("is456-2000", "bs8110-97", "csa-a23.3-19", "aci318m-19", "aci318-19", "en1992-1-1")
)
LIVE = Group("live", "imposed", "general", (0.7, 0.5, 0.35))
SNOW, WIND = Group("snow", "snow", None), Group("wind", "wind", None, None, True)
QUAKE, SUNK = Group("quake", "earthquake", None, None, True), Group("B", "settlement", None)


def factors(code, *groups) -> dict[str, set]:
    """By level the factors of permanent actions and of each group."""
    result: dict[str, set] = {}
    for c in code.actions.combinations(list(groups)):
        result.setdefault(c.level, set()).add((round(c.permanent, 9), *(round(v, 9) for v in c.variable)))
    return result


# ------------------------------------------------------------------ combinations


def test_bs_combinations_of_wind_and_of_an_earthquake():
    """Table 2.1; spans without imposed load carry 1.0 G_k: their 0.4 more is a group of its own."""
    part = Group(BS.actions.permanent_by_span, "permanent", None)
    assert part.key == "0.4 G_k"
    found = factors(BS, part, LIVE, WIND, QUAKE)
    assert found["strength"] == {
        (1.0, 0.4, 0.0, 0.0, 0.0), (1.0, 0.4, 1.6, 0.0, 0.0), (1.0, 0.0, 1.6, 0.0, 0.0),
        (1.0, 0.4, 0.0, 1.4, 0.0), (1.0, 0.0, 0.0, 1.4, 0.0), (1.2, 0.0, 1.2, 1.2, 0.0),
        (1.0, 0.0, 0.35, 0.0, 1.0), (1.0, 0.0, 0.0, 0.0, 1.0),
    }  # fmt: skip
    assert found["service"] == {(1.0, 0.0, 1.0, 0.0, 0.0), (1.0, 0.0, 1.0, 1.0, 0.0)}
    assert found["permanent_service"] == {(1.0, 0.0, 0.35, 0.0, 0.0)}
    assert BS.actions.sustained_shares([part, LIVE, WIND, SUNK]) == (1.0, 0.35, 0.0, 1.0)


def test_bs_a_support_sinks_or_does_not():
    found = factors(BS, LIVE, SUNK)
    assert found["strength"] == {(1.0, live, sunk) for live in (0.0, 1.6) for sunk in (0.0, 1.6)}
    assert found["service"] == {(1.0, 1.0, 0.0), (1.0, 1.0, 1.0)}


def test_is_combinations_of_wind_and_of_an_earthquake():
    """Table 18."""
    found = factors(IS, LIVE, SNOW, WIND, QUAKE)
    assert found["strength"] == {
        (1.5, 1.5, 1.5, 0.0, 0.0), (0.9, 1.5, 1.5, 0.0, 0.0), (1.5, 0.0, 0.0, 1.5, 0.0), (0.9, 0.0, 0.0, 1.5, 0.0),
        (1.2, 1.2, 1.2, 1.2, 0.0), (1.5, 0.0, 0.0, 0.0, 1.5), (0.9, 0.0, 0.0, 0.0, 1.5), (1.2, 1.2, 1.2, 0.0, 1.2),
    }  # fmt: skip
    assert found["service"] == {
        (1.0, 1.0, 1.0, 0.0, 0.0), (1.0, 0.0, 0.0, 1.0, 0.0), (1.0, 0.8, 0.8, 0.8, 0.0),
        (1.0, 0.0, 0.0, 0.0, 1.0), (1.0, 0.8, 0.8, 0.0, 0.8),
    }  # fmt: skip
    assert found["permanent_service"] == {(1.0, 0.35, 0.0, 0.0, 0.0)}
    assert IS.actions.sustained_shares([LIVE, SNOW, SUNK]) == (0.35, 0.0, 1.0)


def test_is_a_support_sinks_or_does_not():
    found = factors(IS, LIVE, SUNK)
    assert found["strength"] == {(dead, 1.5, sunk) for dead in (1.5, 0.9) for sunk in (0.0, 1.5)}


def test_csa_combinations_of_an_earthquake_and_of_storage():
    """NBCC, Table 4.1.3.2.-A: 1.0 D + 1.0 E with 0.5 L + 0.25 S; storage beside wind in full."""
    found = factors(CSA, LIVE, SNOW, QUAKE)
    assert {v for v in found["strength"] if v[3]} == {(1.0, 0.5, 0.25, 1.0), (1.0, 0.0, 0.0, 1.0)}
    assert {v for v in found["strength"] if v[1] > 1.0} == {
        (dead, 1.5, snow, 0.0) for dead in (1.25, 0.9) for snow in (0.0, 1.0)
    }
    assert {v for v in found["strength"] if v[2] > 1.0} == {
        (dead, live, 1.5, 0.0) for dead in (1.25, 0.9) for live in (0.0, 1.0)
    }
    assert (1.4, 0.0, 0.0, 0.0) in found["strength"]
    stored = factors(CSA, Group("store", "imposed", "storage"), WIND)
    assert {v for v in stored["strength"] if v[2] > 1.0} == {
        (dead, live, 1.4, ) for dead in (1.25, 0.9) for live in (0.0, 1.0)
    }  # fmt: skip
    assert CSA.actions.sustained_shares([LIVE, SUNK, WIND]) == (0.35, 1.0, 0.0)


def test_csa_a_support_sinks_or_does_not():
    found = factors(CSA, SUNK)
    assert found["strength"] == {(1.4, 0.0), (1.4, 1.25)}
    assert found["service"] == {(1.0, 0.0), (1.0, 1.0)}


# ------------------------------------------------------------------ limits of beam theory


def span(clear: float, **more) -> ShortSpan:
    usual = {
        "length": clear + 300.0,
        "clear": clear,
        "h": 1000.0,
        "b": 400.0,
        "cantilever": False,
        "near": float("inf"),
    }
    return ShortSpan(**{**usual, **more})


@pytest.mark.parametrize(
    ("code", "limit", "clause", "mesh"),
    [(BS, 2000.0, "3.4.1.1", 0.0025), (CSA, 2000.0, "10.7.1", 0.002)],
    ids=["bs", "csa"],
)
def test_deep_spans_by_their_clear_length(code, limit, clause, mesh):
    assert code.analysis.deep_span(span(limit)) is None
    deep = code.analysis.deep_span(span(limit - 1.0))
    assert deep.clause == clause
    assert deep.mesh == pytest.approx(mesh * 400.0 * 0.5)
    assert deep.spacing == 300.0


def test_deep_spans_by_their_length_between_centrelines():
    """IS 456, 29.1: 2.5 times the depth, of continuous beams, is taken for all."""
    assert IS.analysis.deep_span(span(2200.0)) is None
    deep = IS.analysis.deep_span(span(2199.0))
    assert (deep.clause, deep.mesh) == ("29.1", pytest.approx(0.5))


@pytest.mark.parametrize(
    ("b", "mesh", "apart"), [(100.0, 0.15, 200.0), (150.0, 0.15, 300.0), (400.0, 0.4, 300.0)]
)
def test_mesh_of_deep_spans_by_the_eurocode(b, mesh, apart):
    """5.3.1(3): three depths between centrelines; 9.7(1): 0.1 % and 150 mm2/m at least, no farther apart than 2 b and 300 mm."""
    assert EN.analysis.deep_span(span(2700.0, b=b)) is None
    deep = EN.analysis.deep_span(span(2699.0, b=b))
    assert (deep.mesh, deep.spacing) == (pytest.approx(mesh), pytest.approx(apart))
    tip = EN.analysis.deep_span(span(1500.0, b=b, cantilever=True, near=1000.0))
    assert (tip.mesh, tip.spacing, tip.clause) == (deep.mesh, deep.spacing, "J.3")
    assert EN.analysis.deep_span(span(1500.0, cantilever=True, near=1001.0)) is None


@pytest.mark.parametrize(("h", "apart"), [(1000.0, 180.0), (2500.0, 300.0)])
def test_mesh_of_deep_spans_by_aci(h, apart):
    """9.9.1.1: four depths; 9.9.3.1: 0.25 % of the section, half at each face; 9.9.4.3: d/5, 300 mm."""
    assert ACI.analysis.deep_span(span(4.0 * h + 1.0, h=h)) is None
    deep = ACI.analysis.deep_span(span(4.0 * h - 1.0, h=h))
    assert (deep.mesh, deep.spacing) == (pytest.approx(0.0025 * 400.0 / 2.0), pytest.approx(apart))


@pytest.mark.parametrize(("code", "clause"), [(BS, "5.2.7"), (CSA, "11.6.8")], ids=["bs", "csa"])
def test_short_cantilevers_are_corbels(code, clause):
    assert code.analysis.deep_span(span(1001.0, cantilever=True)) is None
    assert code.analysis.deep_span(span(1000.0, cantilever=True)).clause == clause
    assert code.analysis.deep_span(span(1500.0, cantilever=True, near=1001.0)) is None
    assert code.analysis.deep_span(span(1500.0, cantilever=True, near=1000.0)).clause == clause


# ------------------------------------------------------------------ flanges


def between(left: str, right: str) -> Surroundings:
    return Surroundings(9000.0, 8700.0, None, None, left, right)


def test_csa_flanges_by_span_and_thickness():
    """10.3.3: on both sides a fifth of the span of simple beams, a tenth of continuous ones, 12 h_f; 10.3.4: on one side a twelfth, 6 h_f."""
    both, one = Flange(150.0, 3000.0, 2500.0), Flange(150.0, 3000.0, 0.0)
    simple, end = between("simple", "simple"), between("continuous", "simple")
    for flange, around, wanted in (
        (both, simple, (1800.0, 1800.0)), (both, end, (900.0, 900.0)), (one, simple, (750.0, 0.0)),
        (Flange(100.0, 3000.0, 900.0), simple, (1200.0, 900.0)),
    ):  # fmt: skip
        reach = CSA.analysis.flange_reach(flange, 300.0, around)
        assert reach == (pytest.approx(wanted),) * 3


def test_bs_flanges_by_the_distance_of_zero_moments():
    """3.4.1.5: l_z / 10 at either side; of cantilevers twice their length, of continuous spans 0.7 of it."""
    flange = Flange(150.0, 3000.0, 300.0)
    for left, right, l_z in (
        ("simple", "simple", 9.0),
        ("continuous", "simple", 6.3),
        ("fixed", "continuous", 6.3),
        ("continuous", "free", 18.0),
    ):
        reach = BS.analysis.flange_reach(flange, 300.0, between(left, right))
        assert reach[0] == pytest.approx((l_z * 100.0, 300.0))


@pytest.mark.parametrize(
    ("left", "right", "before", "after", "l_0"),
    [
        ("simple", "simple", None, None, (9000.0, 9000.0, 9000.0)),
        ("continuous", "simple", 6000.0, None, (2250.0, 7650.0, 7650.0)),
        ("simple", "continuous", None, 7000.0, (7650.0, 7650.0, 2400.0)),
        ("continuous", "continuous", 6000.0, 7000.0, (2250.0, 6300.0, 2400.0)),
        ("fixed", "fixed", None, None, (1350.0, 6300.0, 1350.0)),
        ("fixed", "free", None, None, (9000.0, 9000.0, 9000.0)),
        ("continuous", "free", 6000.0, None, (9900.0, 9900.0, 9900.0)),
        ("free", "continuous", None, 7000.0, (10_050.0, 10_050.0, 10_050.0)),
    ],
)
def test_distances_of_zero_moments_by_the_eurocode(left, right, before, after, l_0):
    """Figure 5.2: the span, 0.85 or 0.7 of it, 0.15 of both spans over a support, 0.15 of the span behind and a cantilever."""
    from upright_bramble.codes.en1992.analysis import zero_moment_distances

    around = Surroundings(9000.0, 8700.0, before, after, left, right)
    assert zero_moment_distances(around) == pytest.approx(l_0)


@pytest.mark.parametrize(("area", "moment"), [(5000.0, 655.4e6), (3500.0, 613.0e6)])
def test_the_printed_moment_of_a_flanged_section_whose_axis_lies_in_the_web(area, moment):
    """IS 456 Annex G: 1200 x 100 on a web of 300, d = 550, M20, Fe415. 5000 mm2: x_u at its limit of 264 mm, y_f = 100:
    0.36 x 20 x 300 x 264 x 439.1 + 0.45 x 20 x 900 x 100 x 500. 3500 mm2: 2.16 x + 8.1 (0.15 x + 65) = 1263.7, x_u = 218.4, y_f = 97.8."""
    from upright_bramble.codes.is456.bending import printed_moment
    from upright_bramble.codes.parts import PrintedSection

    section = PrintedSection(1200.0, 300.0, 100.0, 550.0, area)
    assert printed_moment(section, 20.0, 415.0) == pytest.approx(moment, rel=2e-3)


# ------------------------------------------------------------------ materials


@pytest.mark.parametrize(
    ("code", "grade", "strength"),
    [
        (BS, "C35", 35.0),
        (BS, "C28/35", 35.0),
        (BS, "C20", 20.0),
        (BS, "C60", 60.0),
        (IS, "M25", 25.0),
        (IS, "M55", 55.0),
        (EN, "C30/37", 30.0),
    ],
)
def test_grades_of_concrete(code, grade, strength):
    assert code.materials.concrete_strength(grade) == strength


@pytest.mark.parametrize(
    ("code", "grade"),
    [
        (BS, "C15"),
        (BS, "C61"),
        (BS, "35/C"),
        (IS, "M15"),
        (IS, "M60"),
        (CSA, "C30"),
        (ACI, "C30"),
        (US, "4000"),
    ],
)
def test_what_is_no_grade_of_concrete(code, grade):
    with pytest.raises(CodeError):
        code.materials.concrete_strength(grade)


@pytest.mark.parametrize(
    ("code", "grade", "strength", "kind"),
    [(BS, "460", 460.0, ""), (BS, "B500B", 500.0, ""), (BS, "R250", 250.0, ""), (IS, "Fe500D", 500.0, ""), (IS, "415", 415.0, ""),
     (CSA, "400W", 400.0, "W"), (CSA, "500R", 500.0, "R"), (ACI, "Grade 420", 420.0, ""), (US, "Grade 60", 60_000.0 * 0.006894757, "")],
)  # fmt: skip
def test_grades_of_steel(code, grade, strength, kind):
    steel = code.materials.steel(grade)
    assert steel.strength == pytest.approx(strength, rel=1e-6)
    if kind:
        assert (steel.ductility, steel.grade) == (kind, f"Grade {grade}")


@pytest.mark.parametrize(
    ("code", "grade"), [(BS, "400"), (IS, "Fe600"), (CSA, "600W"), (ACI, "Grade 60"), (US, "Grade 420")]
)
def test_what_is_no_grade_of_steel(code, grade):
    with pytest.raises(CodeError):
        code.materials.steel(grade)


# ------------------------------------------------------------------ side bars


def test_a_side_bar_is_anchored_by_the_height_of_its_row():
    """Covers of 20 below and 120 above leave 404 mm inside stirrups of 8 of a beam 560 deep: one row lies 230 mm over the soffit, where
    bond is good (EN 1992-1-1, 8.4.2: up to 250 mm): 12 mm bars of B500 in C30/37 develop in 12/4 x 435/3.04 = 429 mm, not in 613."""
    beam = line([6000.0], uniform(1, [6000.0], 10.0), depth=560.0, cover=Cover(120.0, 20.0, 30.0))
    at = analyse(beam, EN).stations
    found = side_bar_anchored(beam, EN, at, [SideBars("L", 1, "12", 1000.0, 5000.0)], 8.0)
    area, length = EN.sizes["12"].area, 12.0 / 4.0 * (500.0 / 1.15) / (2.25 * 2.0275 / 1.5)
    for x in (1200.0, 1400.0, 1500.0, 3000.0, 4700.0, 900.0):
        i = int(np.abs(at.x - x).argmin())
        reach = min(float(at.x[i]) - 1000.0, 5000.0 - float(at.x[i]))
        assert found.anchored[i] == pytest.approx(area * min(max(reach / length, 0.0), 1.0), rel=2e-3)
        assert found.full[i] == (area if reach >= 0.0 else 0.0)


def test_a_bent_side_bar_has_the_cover_of_the_stirrup_as_well():
    """ACI 318-19, 25.4.3.2: psi_o is 1.0 with six diameters (114.6 mm) beside a hook, else 1.25; covers to stirrups of 13."""
    areas = []
    for cover in (105.0, 100.0):
        beam = line(
            [6000.0], uniform(1, [6000.0], 10.0), depth=800.0, width=400.0, cover=Cover(40.0, 40.0, cover)
        )
        beam = replace(beam, code="aci318m-19", concrete=Concrete(28.0), bars=Steel(420.0))
        at = analyse(beam, EN).stations
        side = SideBars("L", 1, "19", float(at.x[20]) - 60.0, 5000.0, ends=("bend", "straight"))
        areas.append(float(side_bar_anchored(beam, ACI, at, [side], 13.0).anchored[20]))
    assert 0.0 < areas[1] < areas[0] < ACI.sizes["19"].area
    assert areas[0] / areas[1] == pytest.approx(1.25)


# ------------------------------------------------------------------ side bars


@pytest.mark.parametrize(
    ("code", "without"),
    [(IS, 750.0), (BS, 750.0), (CSA, 750.0), (ACI, 900.0), (US, 36.0 * 25.4), (EN, 999.9)],
    ids=["IS", "BS", "CSA", "ACI", "US", "EN"],
)
def test_side_bars_are_for_webs_deeper_than_so(code, without):
    """Deeper than 750 mm (IS 26.5.1.3, BS 3.12.5.4, CSA 10.6.2), 900 mm or 36 in (ACI 9.7.2.3); 1000 mm or more (EN 7.3.3(3))."""
    concrete, steel, wishes = Concrete(30.0), Steel(420.0), Service(crack_width=0.3)
    shallow, deep = (
        code.cracking.skin(concrete, steel, 300.0, h, 50.0, wishes) for h in (without, without + 0.2)
    )
    assert not np.isfinite(shallow[0])
    assert np.isfinite(deep[0])


# ------------------------------------------------------------------ ends of stirrups


@pytest.mark.parametrize(
    ("code", "size", "tail"),
    [
        (EN, "8", 160.0), (EN, "12", 192.0),  # 16 phi, no less than 160 mm
        (ACI, "13", 6.0 * 12.7 + 0.75 * np.pi * (2.0 * 12.7 + 6.35)),  # 135 degrees and 6 d_b (25.3.2)
        (US, "3", 76.2 + 0.75 * np.pi * (2.0 * 9.525 + 4.7625)),  # 3 in at least
        (CSA, "10", 6.0 * 11.3 + 0.75 * np.pi * (22.5 + 5.65)),  # a former of 45 mm (A23.1 6.6.2)
        (IS, "8", 6.0 * 8.0 + 0.75 * np.pi * (16.0 + 4.0)),
        (BS, "10", 160.0), (BS, "16", 8.0 * 16.0 + 2.0 * 32.0 + 4.0 * 16.0),  # 90 degrees and 8 phi (3.12.8.6)
    ],
    ids=["EN8", "EN12", "ACI13", "US3", "CSA10", "IS8", "BS10", "BS16"],
)  # fmt: skip
def test_what_a_stirrup_takes_beyond_its_corner(code, size, tail):
    assert code.detailing.stirrup_tail(code.sizes[size].diameter) == pytest.approx(tail)


# ------------------------------------------------------------------ cracks at corners


@pytest.mark.parametrize("code", [IS, BS], ids=["IS", "BS"])
@pytest.mark.parametrize(
    ("spacing", "a_cr"), [(60.0, np.hypot(50.0, 50.0) - 10.0), (200.0, np.hypot(100.0, 50.0) - 10.0)]
)
def test_cracks_are_as_wide_as_at_the_worse_of_corner_and_middle(code, spacing, a_cr):
    """Annex F, part 2 3.8: w = 3 a_cr eps_m / (1 + 2 (a_cr - c_min)/(h - x)); bars of 20 with 40 mm of cover, 60 or 200 mm apart."""
    one = {name: np.array([value]) for name, value in (
        ("b", 300.0), ("h", 600.0), ("area", 1500.0), ("depth", 550.0), ("phi", 20.0), ("cover", 40.0), ("spacing", spacing),
        ("outer", 550.0), ("strength", 500.0))}  # fmt: skip
    face = Face(**one, areas=np.array([[1500.0]]), depths=np.array([[550.0]]))
    cracked = SimpleNamespace(x=np.array([200.0]), i=np.array([2.5e9]))
    stage = SimpleNamespace(alpha_e=np.array([15.0]))
    moment, wanted = np.array([150e6]), Service(crack_width=0.3)
    width = float(code.cracking.judge(moment, cracked, stage, face, wanted).width[0])
    stress = 15.0 * 150e6 * (550.0 - 200.0) / 2.5e9
    stiffened = 300.0 * (600.0 - 200.0) ** 2 / (3.0 * 2e5 * 1500.0 * (550.0 - 200.0))
    eps = stress / 2e5 * (600.0 - 200.0) / (550.0 - 200.0) - stiffened
    assert width == pytest.approx(3.0 * a_cr * eps / (1.0 + 2.0 * (a_cr - 40.0) / (600.0 - 200.0)), rel=1e-6)


# ------------------------------------------------------------------ curves and tubes


def test_the_mean_curve_of_concrete():
    """EN 1992-1-1, (3.14) for C30/37: f_cm 38 MPa at 2.16 per mille, E_cm 32.8 GPa times 1.05 at the origin."""
    law = EN.materials.mean_law(Concrete(30.0))
    peak = 0.7 * 38.0**0.31 * 1e-3
    k = 1.05 * 22000.0 * 3.8**0.3 * peak / 38.0
    assert law.stress == pytest.approx(38.0)
    for share in (0.01, 0.3, 1.0, 1.4):
        value = (k * share - share**2) / (1.0 + (k - 2.0) * share)
        assert float(law.curve(np.array([share * peak]))[0]) == pytest.approx(value)
    assert float(law.curve(np.array([peak]))[0]) == pytest.approx(1.0)


def test_shear_that_torsion_adds_to_the_strain_by_csa():
    """11.3.6.4: 0.9 p_h T/(2 A_o), p_h of the centrelines of stirrups 35 mm inside 300 x 500, A_o = 0.85 A_oh."""
    p_h, a_oh = 2.0 * (230.0 + 430.0), 230.0 * 430.0
    found = CSA.torsion.shear_for_strain(
        Tube(*(np.array([v]) for v in (300.0, 500.0, 35.0, 50.0, 0.0, 0.0, 0.0))), np.array([20e6])
    )
    assert float(found[0]) == pytest.approx(0.9 * p_h * 20e6 / (2.0 * 0.85 * a_oh))


@pytest.mark.parametrize(
    ("code", "factor", "limit"),
    [(ACI, 1.3, 300.0), (US, 1.3, 304.8), (CSA, 1.3, 300.0)],
    ids=["ACI", "US", "CSA"],
)
def test_concrete_below_a_bar_is_reckoned_from_its_underside(code, factor, limit):
    """25.4.2.5, 12.2.4: more than 300 mm (12 in) of fresh concrete under the bar; its axis lies half a diameter higher."""
    low, high = (
        float(code.bond.anchorage(Concrete(28.0), Steel(420.0), 20.0, limit + 10.0 + more, 900.0))
        for more in (-1.0, 1.0)
    )
    assert high / low == pytest.approx(factor)


def test_skin_steel_by_csa():
    """10.6.2: 0.8 % of strips 2 (50 + 6) mm wide at each side, over 0.5 h - 2 (h - d) of a web 900 deep; no wider than half the web."""
    concrete, steel = Concrete(30.0), Steel(400.0)
    for b, strip in ((400.0, 112.0), (200.0, 100.0)):
        apart, area = CSA.cracking.skin(concrete, steel, b, 900.0, 50.0, Service())
        assert apart == 200.0
        assert area == pytest.approx(0.008 * 2.0 * strip * (0.5 * 900.0 - 2.0 * (50.0 + 15.0)))


def test_laps_of_bs_8110_leave_the_aggregate_room():
    """3.12.11.1: h_agg + 5 mm, or the bar."""
    clear = get_code("bs8110-97").bond.lap_clear_distance
    assert clear(np.array([16.0, 32.0]), 20.0).tolist() == [25.0, 32.0]


def test_the_strut_of_a_flange_is_as_flat_as_it_can_bear():
    """6.2.4(4), C30: nu f_cd = 0.528 x 20 = 10.56; v = 4.5: cot + tan = 2.3467, cot = 1.787; A_sf/s = 4.5 x 120/(434.8 x 1.787)."""
    flange = get_code("en1992-1-1").shear.flange(
        Concrete(30.0), Steel(500.0), 4.5 * 120.0 * 1000.0, 120.0, 1000.0, False
    )
    assert flange.steel == pytest.approx(4.5 * 120.0 / (500.0 / 1.15 * 1.7872), rel=1e-3)
    assert flange.limit == pytest.approx(4.5, rel=1e-3)


def test_what_the_data_of_an_annex_leave_out_is_out_of_scope():
    whole, short = (get_code("en1992-1-1", annex) for annex in ("uk", "germany"))
    assert not any("of the" in text and "annex" in text.lower() for text in whole.words.out_of_scope)
    assert len(short.words.out_of_scope) == len(whole.words.out_of_scope) + 1
    assert short.words.assumed


@pytest.mark.parametrize(
    ("f_y", "length"), [(420.0, 0.071 * 420.0 * 25.0), (450.0, (0.13 * 450.0 - 24.0) * 25.0)]
)
def test_compression_splices_of_bars_stronger_than_420(f_y, length):
    """25.5.5.1: another expression above 420 MPa, whatever grade that is."""
    from upright_bramble.codes.aci318.bond import compression_splice
    from upright_bramble.codes.aci318.expressions import METRIC

    assert float(compression_splice(25.0, 28.0, f_y, METRIC)) == pytest.approx(length)


@pytest.mark.parametrize(("f_c", "factor"), [(20.9, 4.0 / 3.0), (21.0, 1.0), (22.0, 1.0), (28.0, 1.0)])
def test_compression_splices_in_weak_concrete(f_c, factor):
    """25.5.5.1: a third longer below 21 MPa, or 3000 psi."""
    from upright_bramble.codes.aci318.bond import compression_splice
    from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC

    assert float(compression_splice(25.0, f_c, 420.0, METRIC)) == pytest.approx(factor * 0.071 * 420.0 * 25.0)
    psi = f_c / 21.0 * 3000.0 * 6.894757293168361e-3
    strong, own = (float(compression_splice(25.4, f, 413.685, INCH_POUND)) for f in (40.0, psi))
    assert own / strong == pytest.approx(factor)


@pytest.mark.parametrize(
    ("spans", "dead", "live", "permitted"),
    [
        ([6.0, 7.2], 10.0, 20.0, True),
        ([6.0, 7.2], 10.0, 20.1, False),
        ([6.0, 7.3], 10.0, 10.0, False),
        ([6.0], 10.0, 10.0, False),
    ],
)
def test_where_csa_permits_approximate_moments(spans, dead, live, permitted):
    """9.3.3: two spans or more, neighbours within 20 %, factored live load no more than twice the dead load."""
    from upright_bramble.codes.csa_a23.analysis import approximate_permitted

    assert approximate_permitted(spans, dead, live) == permitted


@pytest.mark.parametrize(("end", "home"), [(11_500.0, 0), (12_600.0, 1)])
def test_a_bar_belongs_to_the_span_in_which_its_middle_lies(end, home):
    from upright_bramble.beam import Bar
    from upright_bramble.verify.groups import home_span

    spans = line([6000.0, 7000.0], uniform(2, [6000.0, 7000.0], 10.0))
    assert home_span(spans, Bar("01", "bottom", 1, 2, "16", 0.0, end)) == home


def test_the_printed_moment_of_bs_8110_with_compression_bars_that_do_not_yield():
    """x = d/2 = 150: 70 mm from the face 0.0035 (1 - 70/150) x 200 000 = 373.3 MPa, less than 437."""
    from upright_bramble.codes.bs8110.bending import moment_with_compression_bars, printed_moment
    from upright_bramble.codes.parts import PrintedSection

    section = PrintedSection(250.0, 250.0, 0.0, 300.0, 2500.0, 70.0, 1000.0)
    wanted = moment_with_compression_bars(2500.0, 1000.0, 373.33, 250.0, 300.0, 70.0, 30.0, 437.0)
    assert printed_moment(section, 30.0, 437.0) == pytest.approx(float(wanted), rel=1e-4)


@pytest.mark.parametrize(
    ("where", "divisor"),
    [
        ("pos_end_unrestrained", 11), ("pos_end_integral", 14), ("pos_interior", 16), ("neg_first_two", 9), ("neg_first_more", 10),
        ("neg_other", 11), ("neg_ext_spandrel", 24), ("neg_ext_column", 16),
    ],
)  # fmt: skip
def test_approximate_moments_of_csa(where, divisor):
    """Table 9.1: shares of w_f l_n squared."""
    assert approximate_moment(where, 30.0, 6.0) == pytest.approx(30.0 * 36.0 / divisor)


@pytest.mark.parametrize(
    ("cover", "spacing", "factor"),
    [(75.0, 150.0, 1.2), (74.9, 150.0, 1.5), (75.0, 149.9, 1.5), (90.0, 200.0, 1.2)],
)
def test_coated_bars_of_csa_near_each_other_or_the_surface(cover, spacing, factor):
    """12.2.4(b): 1.5 with less cover than 3 d_b or clear distances of less than 6 d_b, else 1.2."""
    assert coating_factor(True, cover, spacing, 25.0) == factor
    assert coating_factor(False, cover, spacing, 25.0) == 1.0


@pytest.mark.parametrize(
    ("kinds", "live"),
    [
        ({"roof"}, 180.0),
        ({"roof", "snow", "rain"}, 180.0),
        ({"roof", "imposed"}, 360.0),
        (set(), 360.0),
    ],
)
def test_limits_of_deflection_of_roofs_that_carry_nothing_else(kinds, live):
    """Table 24.2.2: L/180 of flat roofs, L/360 of floors, L/240 after finishes."""
    for code in (ACI, US):
        limits = code.deflection.usual_limits(frozenset(kinds))
        assert (limits["live"], limits["after_finishes"]) == (live, 240.0)
