"""Stirrups across bars, and the stress at a lap, where the user has them counted on: by hand, and in whole layouts."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import upright_bramble as ub
from plain_beams import CSA, EN, SI, beam, check, dead, design, live, written
from upright_bramble.analysis.crossing import crossing_of
from upright_bramble.beam import Bar, Beam, Layout, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.codes.parts import Around, Crossing
from upright_bramble.pipeline import code_of
from upright_bramble.proportion import Needs, propose

CASES = {
    "en1992-1-1": (EN, "20", "16", "10"),
    "aci318m-19": (SI, "19", "16", "10"),
    "csa-a23.3-19": (CSA, "20", "15", "10"),
}


def described(code: str, **detailing: str) -> Beam:
    base, *_ = CASES[code]
    category = {"en1992-1-1": "B", "aci318m-19": "occupied", "csa-a23.3-19": "general"}[code]
    text = written(base, [7.0], [dead({"line": 12}, weight=True), live({"line": 8}, category=category)])
    made = beam(text)
    return replace(made, detailing=replace(made.detailing, **detailing))


def bars(code: str, spacing: float, lap: float = 900.0, middle: float = 1400.0, count: int = 2) -> Layout:
    """Bottom bars lapped at a place, two straight ones beside them, and stirrups at one spacing."""
    _, size, thin, tie = CASES[code]
    first = Bar("01", "bottom", 1, count, size, -110.0, middle + 0.5 * lap, ("straight", "lap"))
    second = Bar("02", "bottom", 1, count, size, middle - 0.5 * lap, 7110.0, ("lap", "straight"))
    beside = Bar("03", "bottom", 1, 2, size, -110.0, 7110.0)
    top = Bar("04", "top", 1, 2, thin, -110.0, 7110.0)
    return Layout((first, second, beside, top), (StirrupZone("20", tie, 2, 200.0, 6800.0, spacing),))


def lap_of(checks) -> ub.Check:
    return next(c for c in checks if c.kind.id == "lap.bottom")


def test_alpha_3_by_hand():
    """Table 8.2 and Figure 8.4: ø20 in C30/37, ø8 at 100 mm along 0.7 of 715 mm are five legs of 50.3 mm2; a quarter of a bar, and of
    a lap a whole one, counts in any case."""
    code = get_code("en1992-1-1", None)
    given_ = described("en1992-1-1")
    around = Around(40.0, 38.0, 38.0)
    held = replace(around, crossing=Crossing(50.27, 100.5, 100.0, 4.0, 500.0))
    phi, place = np.array([20.0]), (np.array([50.0]), np.array([500.0]))
    plain = float(code.bond.anchorage(given_.concrete, given_.bars, phi, *place, around)[0])
    ours = float(code.bond.anchorage(given_.concrete, given_.bars, phi, *place, held)[0])
    basic = 20.0 / 4.0 * (500.0 / 1.15) / 3.04
    number = math.floor(0.7 * basic / 100.0)
    alpha_3 = 1.0 - 0.05 * (number * 50.27 - 0.25 * 314.16) / 314.16
    assert number == 5
    assert ours / plain == pytest.approx(alpha_3, rel=1e-4)
    corner = replace(around, crossing=replace(held.crossing, number=2.0))
    assert float(
        code.bond.anchorage(given_.concrete, given_.bars, phi, *place, corner)[0]
    ) / plain == pytest.approx(2.0 * alpha_3 - 1.0, rel=1e-4)
    laps = [
        float(code.bond.lap(given_.concrete, given_.bars, phi, *place, 0.5, a)[0]) for a in (around, held)
    ]
    assert laps[1] == laps[0]  # 251 of 314 mm2: nothing beyond what counts in any case
    closer = replace(around, crossing=replace(held.crossing, gap=50.0))
    lap = float(code.bond.lap(given_.concrete, given_.bars, phi, *place, 0.5, closer)[0])
    assert lap / laps[0] == pytest.approx(1.0 - 0.05 * (10 * 50.27 - 314.16) / 314.16, rel=1e-4)


@pytest.mark.parametrize(("code", "strength"), [("aci318m-19", 420.0), ("csa-a23.3-19", 400.0)])
def test_k_tr_by_hand(code, strength):
    """25.4.2.4 and 12.2.2: four bars 30 mm apart, two legs of 142 (100) mm2 at 150 mm."""
    made, given_ = get_code(code, None), described(code)
    size = CASES[code][1]
    d_b = made.sizes[size].diameter
    around = Around(30.0, 50.0, 50.0)
    legs = 2.0 * made.sizes[CASES[code][3]].area
    held = replace(around, crossing=Crossing(0.5 * legs, legs, 150.0, 4.0, strength))
    phi, place = np.array([d_b]), (np.array([60.0]), np.array([500.0]))
    plain, ours = (
        float(made.bond.anchorage(given_.concrete, given_.bars, phi, *place, a)[0]) for a in (around, held)
    )
    if code.startswith("aci"):
        k_tr, c_b = 40.0 * legs / (150.0 * 4.0), 0.5 * (30.0 + d_b)
        by_hand = 420.0 / (1.1 * math.sqrt(28.0) * min((c_b + k_tr) / d_b, 2.5)) * d_b * 0.8
    else:
        k_tr, d_cs = legs * 400.0 / (10.5 * 150.0 * 4.0), (30.0 + d_b) * 2.0 / 3.0
        by_hand = 1.15 * 0.8 / min(d_cs + k_tr, 2.5 * d_b) * 400.0 / math.sqrt(30.0) * made.sizes[size].area
    assert ours == pytest.approx(by_hand, rel=2e-3)
    assert ours < plain


def test_where_stirrups_stand_widest_decides():
    """The gap is that of the window; in an end support from the end of the beam to the first stirrup; all bars of the row count."""
    given_ = described("en1992-1-1")
    made = bars("en1992-1-1", 150.0)
    zones = (
        StirrupZone("20", "8", 2, 200.0, 3050.0, 150.0),
        StirrupZone("21", "10", 4, 3350.0, 6800.0, 100.0),
    )
    held = crossing_of(
        given_,
        code_of(given_),
        replace(made, stirrups=zones),
        made.bars,
        [[(500.0, 1200.0)], [(3000.0, 3500.0)], [(5000.0, 6000.0)], [(-110.0, 100.0)]],
    )
    assert held.gap.tolist() == [150.0, 300.0, 100.0, 350.0]
    ends = [[(-110.0, 100.0)], [(6850.0, 7100.0)], [(6850.0, 7100.0), (-110.0, 100.0)], [(3000.0, 3100.0)]]
    whole = replace(made, stirrups=zones)
    held_at_ends = crossing_of(given_, code_of(given_), whole, made.bars, ends)
    assert held_at_ends.gap.tolist() == [350.0, 400.0, 400.0, 300.0]
    assert held.number.tolist() == [6.0, 4.0, 4.0, 2.0]
    assert held.leg[0] == pytest.approx(50.27, abs=0.01)
    assert held.area[0] == pytest.approx(100.53, abs=0.01)


@pytest.mark.parametrize("code", CASES)
def test_only_where_it_is_wanted(code):
    """Closer stirrups shorten what is required of a lap where they are counted on, and nothing else does."""
    usual, counted = described(code), described(code, anchorage="stirrups")
    wide, close = bars(code, 200.0), bars(code, 75.0)
    plain = [lap_of(ub.check(usual, v).checks).demand for v in (wide, close)]
    ours = [lap_of(ub.check(counted, v).checks).demand for v in (wide, close)]
    assert plain[0] == plain[1]
    assert ours[1] < 0.99 * plain[1]
    assert ours[1] <= ours[0] <= plain[0]
    sagging = [ub.check(b, close).curves.moment_positive for b in (usual, counted)]
    assert (sagging[1] >= sagging[0] - 1.0).all()
    assert (sagging[1] > sagging[0] * 1.005).any()


@pytest.mark.parametrize("code", CASES)
def test_a_lap_where_bars_are_idle_is_shorter(code):
    """Near the support less than half of the bars' yield acts: by stress, or class A for half of the bars."""
    for_yield, for_stress = described(code), described(code, laps_for="stress")
    lapped = bars(code, 150.0, lap=600.0, middle=400.0)
    plain, ours = (lap_of(ub.check(b, lapped).checks) for b in (for_yield, for_stress))
    assert ours.demand < 0.8 * plain.demand
    middle = bars(code, 150.0, middle=3500.0)
    plain, ours = (lap_of(ub.check(b, middle).checks) for b in (for_yield, for_stress))
    assert 0.7 * plain.demand < ours.demand <= plain.demand


def test_the_least_lap_by_stress_by_hand():
    """8.7.3(1): 15 ø and 200 mm stay, and 0.3 alpha_6 of what the stress asks."""
    code, given_ = get_code("en1992-1-1", None), described("en1992-1-1")
    phi, place = np.array([20.0]), (np.array([50.0]), np.array([500.0]))
    lengths = [
        float(code.bond.lap(given_.concrete, given_.bars, phi, *place, 0.5, None, s)[0])
        for s in (1.0, 0.6, 0.1)
    ]
    assert lengths[1] == pytest.approx(0.6 * lengths[0])
    assert lengths[2] == 300.0


@pytest.mark.slow
def test_derivations_say_the_stress_and_the_stirrups(bramble):
    text = written(EN, [7.0], [dead({"line": 12}, weight=True), live({"line": 8})])
    bramble.write("b.beam.yaml", text + "detailing: {anchorage: stirrups, laps_for: stress}\n")
    low = bars("en1992-1-1", 75.0)
    from upright_bramble.files.layout_file import layout_text, read_layout

    made = beam(text)
    bramble.write("b.layout.yaml", layout_text(made, low, "tests"))
    assert read_layout(bramble.folder / "b.layout.yaml", made).bars[0].ends == ("straight", "lap")
    ran = bramble("check", "b.beam.yaml", "b.layout.yaml", "--into", "out")
    assert ran.status in (0, 1), ran.err
    why = bramble("why", "out/T1", "lap.bottom.01-02")
    assert "α_3" in why.out
    assert "as a share of yield" in why.out


@pytest.mark.slow
@settings(max_examples=8)
@given(st.sampled_from(sorted(CASES)), st.integers(75, 300), st.integers(500, 6500), st.integers(300, 1500))
def test_counting_on_more_never_asks_for_more(code, spacing, middle, lap):
    made = bars(code, float(spacing), float(lap), float(middle))
    if made.bars[0].end > 7000.0 or made.bars[1].start < 50.0:
        return
    least = [
        lap_of(ub.check(described(code, **d), made).checks).demand
        for d in (
            {},
            {"anchorage": "stirrups"},
            {"laps_for": "stress"},
            {"anchorage": "stirrups", "laps_for": "stress"},
        )
    ]
    assert least[1] <= least[0] + 1e-6
    assert least[2] <= least[0] + 1e-6
    assert least[3] <= min(least[1], least[2]) + 1e-6


def test_over_an_inner_support_the_gap_is_from_span_to_span():
    """A lap over a support of 300 mm: no stirrup stands there, and what holds the bars is 400 mm apart."""
    given_ = beam(written(EN, [5.0, 5.0], [dead({"line": 12}, weight=True)]))
    first = Bar("01", "bottom", 1, 2, "20", -110.0, 5500.0, ("straight", "lap"))
    second = Bar("02", "bottom", 1, 2, "20", 4500.0, 10_110.0, ("lap", "straight"))
    top = Bar("03", "top", 1, 2, "16", -110.0, 10_110.0)
    zones = (
        StirrupZone("20", "8", 2, 200.0, 4800.0, 100.0),
        StirrupZone("20", "8", 2, 5200.0, 9800.0, 100.0),
    )
    made = Layout((first, second, top), zones)
    counted = replace(given_, detailing=replace(given_.detailing, anchorage="stirrups"))
    lap = ub.check(counted, made).facts.placed.laps[0]
    assert lap.crossing.gap.tolist()[:2] == [400.0, 400.0]
    assert lap_of(ub.check(counted, made).checks).demand == lap_of(ub.check(given_, made).checks).demand


STRAIGHT = "bottom 3x20 -0.13..6.13\ntop 2x12 -0.13..6.13\nstirrups 8x2 0.2..5.8 150"


def resting(
    counted: str, layout: str = STRAIGHT, *, at_left: dict | None = None, depth: float = 500, load: float = 25
) -> tuple[np.ndarray, ub.Result]:
    """Of the first bars' area what is anchored at every station of a beam on two supports of 300 mm."""
    base = {**EN, "profiles": {"p": {"shape": "rectangle", "depth": depth, "width": 300}}}
    span = {"span": 6.0, "profile": "p", "at_left": at_left or {}}
    actions = [dead({"line": load}), live({"line": 15})]
    result = check(written(base, [span], actions, width=300, detailing={"anchorage": counted}), layout)
    placed = result.facts.placed
    return placed.effective[:, 0] / placed.area[0], result


def held_at_end(result: ub.Result) -> float:
    return next(c for c in result.checks if c.id == "anchorage.end.S0").resistance


def test_pressure_of_a_support_by_hand():
    """Table 8.2: the least set is the permanent loads by themselves, 25 (3 - 0.15) kN over 300 x 300 mm: 0.79 MPa and
    alpha_5 = 0.968. What lies past the face counts 1/0.968 times, the rest of the bar once."""
    (plain, usual), (ours, result) = resting("stirrups"), resting("pressure")
    at = result.forces.stations
    alpha_5 = 1.0 - 0.04 * 25.0 * 2.85e3 / 300.0**2
    face, inside = (int(np.abs(at.x - x).argmin()) for x in (150.0, 300.0))
    assert ours[face] / plain[face] == pytest.approx(1.0 / alpha_5, rel=1e-4)
    length = 280.0 / plain[face]
    assert ours[inside] - plain[inside] == pytest.approx(280.0 * (1.0 / alpha_5 - 1.0) / length, rel=1e-3)
    before = (at.x < 149.0) & (plain > 0.0)
    assert ours[before] == pytest.approx(plain[before] / alpha_5, rel=1e-4)
    assert ours[::-1] == pytest.approx(ours)
    assert held_at_end(result) / held_at_end(usual) == pytest.approx(1.0 / alpha_5, rel=1e-4)
    assert (resting("concrete")[0] == plain).all()


def test_pressure_is_spread_over_all_the_width_that_bars_lie_in():
    """A ledge of 700 mm below a web of 300: the reaction of the permanent loads at the face, 25 (3 - 0.15) kN, over 300 x 700 mm."""
    ledge = {"shape": "inverted T", "depth": 500, "width": 300, "flange": {"thickness": 200, "width": 700}}
    base = {**EN, "profiles": {"p": ledge}}
    actions = [dead({"line": 25}), live({"line": 15})]
    result = check(
        written(base, [6.0], actions, width=300, detailing={"anchorage": "pressure"}),
        STRAIGHT.replace("3x20", "4x20"),
    )
    assert [b.pressure for b in result.facts.placed.bearings] == [
        pytest.approx(25.0 * 2.85e3 / (300.0 * 700.0), rel=1e-6)
    ] * 2


@pytest.mark.parametrize(
    ("at_left", "layout"),
    [
        ({"framing": "indirect"}, STRAIGHT),
        ({"column": {"below": {"height": 3.0, "size": [300, 300]}}}, STRAIGHT),
        ({}, STRAIGHT.replace("..6.13\ntop", "..6.13 bend straight 300\ntop")),
        ({}, STRAIGHT.replace("bottom 3x20 -0.13", "bottom 3x20 0.2")),
    ],
)
def test_no_pressure_counts_where_there_is_none(at_left, layout):
    """A beam that hangs in another or is built with its column, bars that are bent up, or that stop before the face."""
    (plain, result), (ours, _) = (
        resting(counted, layout, at_left=at_left) for counted in ("stirrups", "pressure")
    )
    left = result.forces.stations.x < 2000.0
    assert (ours[left] == plain[left]).all()
    assert (ours[~left] > plain[~left] + 1e-3).any()


def test_pressure_takes_no_more_than_three_tenths_and_nothing_of_the_least_anchorage():
    """alpha_2 alpha_3 alpha_5 is 0.7 at least; 8.6 asks for what lies beyond the face, pressed or not."""
    (plain, _), (ours, result) = (resting(c, depth=1200, load=400) for c in ("stirrups", "pressure"))
    face = int(np.abs(result.forces.stations.x - 150.0).argmin())
    basic = float(result.facts.placed.basic[0])
    assert ours[face] == pytest.approx(280.0 / (0.7 * basic), rel=1e-3)
    assert ours[face] > plain[face]
    short = STRAIGHT.replace("3x20 -0.13", "3x20 -0.06")  # 210 mm past the face, and 8.6 asks for 214
    assert held_at_end(resting("pressure", short, depth=1200, load=400)[1]) == 0.0


def test_other_codes_know_no_pressure():
    layout = "bottom 3x19 -0.13..7.13\ntop 2x13 -0.13..7.13\nstirrups 10x2 0.2..6.8 150"
    actions = [dead({"line": 12}), live({"line": 8}, category="occupied")]
    across, pressed = (
        check(written(SI, [7.0], actions, detailing={"anchorage": counted}), layout).facts.placed.effective
        for counted in ("stirrups", "pressure")
    )
    assert (across == pressed).all()


def lapped(base: dict, category: str, counted: str) -> str:
    """Three spans of 7 m in stock of 9 m."""
    profile = {"p": {"shape": "rectangle", "depth": 600, "width": 300}}
    loads = [dead({"line": 25}), live({"line": 25}, category=category)]
    more = {"stock_length": "9 m", "anchorage": counted, "spacings": ["100 mm"]}
    return written({**base, "profiles": profile}, [7.0, 7.0, 7.0], loads, detailing=more)


@pytest.mark.parametrize(("base", "category"), [(EN, "B"), (SI, "occupied"), (CSA, "general")])
def test_proposals_are_shorter_by_the_stirrups_that_they_count_on(base, category):
    described = beam(lapped(base, category, "stirrups"))
    code, forces = code_of(described), ub.forces(described)
    usual, close = (
        propose(forces.beam, code, forces, Needs(across=across), None).layout.bars
        for across in ({}, {"bottom": 40.0, "top": 40.0})
    )
    plain, ours = (sum(b.count * (b.end - b.start) for b in bars) for bars in (usual, close))
    assert ours < 0.99 * plain


@pytest.mark.slow
@pytest.mark.parametrize(("base", "category"), [(EN, "B"), (SI, "occupied")])
def test_designs_that_count_on_stirrups_are_no_dearer(base, category):
    plain, ours = (design(lapped(base, category, counted)) for counted in ("concrete", "stirrups"))
    assert ours.status == plain.status == "pass"
    assert ours.quantities["steel_cost"] <= plain.quantities["steel_cost"]
