"""Verification of bars as given: anchorage ramps, holes found, deflection and cracks that move the right way."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from upright_bramble.analysis import analyse
from upright_bramble.beam import Bar, Layout, Load, Service, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.errors import LayoutError
from upright_bramble.pipeline import run_check, run_design
from upright_bramble.section.strength import bending_resistance
from upright_bramble.section.strips import rectangle
from upright_bramble.verify import verify
from upright_bramble.verify.placement import place
from upright_bramble.verify.service import integrate
from yaml_beams import line, uniform

CODE = get_code("en1992-1-1")


def simple(w: float = 18.0, q: float = 8.0, length: float = 6000.0, **more):
    return line([length], uniform(1, [length], w), live=uniform(1, [length], q), **more)


def bars(
    count: int = 4, size: str = "20", spacing: float = 150.0, start: float = -120.0, end: float = 6120.0
) -> Layout:
    bent = ("bend", "bend")
    return Layout(
        (
            Bar("01", "bottom", 1, count, size, start, end, bent, (200.0, 200.0)),
            Bar("02", "top", 1, 2, "16", -120.0, 6120.0, bent, (300.0, 300.0)),
        ),
        (StirrupZone("20", "8", 2, 200.0, 5800.0, spacing),),
    )


def check(result, name: str):
    return next(c for c in result.checks if c.id == name)


def test_bending_by_hand():
    """One span, by hand: M_Ed at mid-span, M_Rd from the rectangular block with the top bars left out."""
    result = run_check(simple(), bars())
    sagging = check(result, "bending.sagging.1")
    m_ed = (1.35 * 18.0 + 1.5 * 8.0) * 6000.0**2 / 8
    assert sagging.demand == pytest.approx(m_ed, rel=1e-9)
    area, d = 4 * np.pi * 100, 500 - 30 - 8 - 10
    force = area * 500 / 1.15
    by_hand = force * (d - 0.5 * force / (20.0 * 300))
    assert sagging.resistance == pytest.approx(by_hand, rel=0.02)
    assert sagging.ok


def test_shear_by_hand():
    """V at d from the face against 2 legs of 8 at 150 with cot theta 2.5."""
    result = run_check(simple(), bars())
    d = min(500 - 30 - 8 - 10, 500 - 30 - 8 - 8)
    v = (1.35 * 18.0 + 1.5 * 8.0) * (3000 - 150 - d)
    resisted = 2 * np.pi * 16 / 150 * 0.9 * d * 500 / 1.15 * 2.5
    collected = check(result, "shear.stirrups.A-right")
    assert collected.demand == pytest.approx(v, rel=1e-6)
    assert collected.resistance == pytest.approx(resisted, rel=1e-9)
    assert check(result, "shear.crushing.A-right").demand == pytest.approx(
        (1.35 * 18 + 12.0) * 2850, rel=1e-9
    )


def test_anchorage_ramps():
    """A straight bar counts in proportion to its length from the end; a leg adds its own length round the bend."""
    beam = simple()
    at = analyse(beam, CODE).stations
    straight = Layout((Bar("01", "bottom", 1, 2, "20", 0.0, 6000.0),), ())
    placed = place(beam, CODE, straight, at)
    l_bd = placed.anchorage[0]
    by_hand = 20 / 4 * (500 / 1.15) / (2.25 * 0.7 * 0.3 * 30 ** (2 / 3) / 1.5)
    assert l_bd == pytest.approx(by_hand * (1 - 0.15 * (38 - 20) / 20))  # alpha_2 with a cover of 38
    area = 2 * np.pi * 100
    x = at.x
    ramp = np.clip(np.minimum(x, 6000.0 - x) / l_bd, 0, 1) * area
    np.testing.assert_allclose(placed.effective[:, 0], ramp, atol=1e-9)
    bent = place(
        beam, CODE, Layout((replace(straight.bars[0], ends=("bend", "straight"), legs=(250.0, 0.0)),), ()), at
    )
    radius = 3.5 * 20
    tail = 250 - radius - 20 + np.pi / 2 * (radius + 10) - (radius + 20)
    first = np.flatnonzero(x >= 0.0)[0]
    assert bent.effective[first, 0] == pytest.approx(
        area * tail / by_hand
    )  # 38 is less than 3 diameters: nothing for a bend


def test_bond_is_poor_near_the_top_of_a_deep_beam():
    beam = simple(depth=700.0)
    placed = place(beam, CODE, bars(), analyse(beam, CODE).stations)
    ratio = placed.basic[1] / 16 / (placed.basic[0] / 20)
    assert ratio == pytest.approx(1 / 0.7)


def test_laps_carry_the_force_on():
    beam = simple()
    at = analyse(beam, CODE).stations
    required = float(CODE.bond.lap(beam.concrete, beam.bars, 20.0, 48.0, 500.0))
    left = Bar("01", "bottom", 1, 3, "20", -120.0, 3000.0 + required / 2, ("straight", "lap"))
    right = Bar("02", "bottom", 1, 3, "20", 3000.0 - required / 2, 6120.0, ("lap", "straight"))
    placed = place(beam, CODE, Layout((left, right), ()), at)
    assert len(placed.laps) == 1
    middle = (at.x > 1500) & (at.x < 4500)
    np.testing.assert_allclose(placed.effective[middle].sum(axis=1), 3 * np.pi * 100, rtol=1e-9)
    short = place(beam, CODE, Layout((left, replace(right, start=right.start + 0.3 * required)), ()), at)
    assert short.effective[middle].sum(axis=1).min() < 0.75 * 3 * np.pi * 100
    top = replace(bars().bars[1], mark="03")
    result = run_check(
        beam, Layout((left, replace(right, start=right.start + 0.3 * required), top), bars().stirrups)
    )
    assert not check(result, "lap.bottom.01-02").ok
    alone = run_check(beam, Layout((left, top), bars().stirrups))
    assert not check(alone, "lap.bottom.01").ok


def test_bars_that_merely_stop_past_each_other_are_no_lap():
    """Two straight ends that overlap by an anchorage length must not add up to a whole bar: a lap must be longer."""
    beam = simple()
    at = analyse(beam, CODE).stations
    l_bd = float(CODE.bond.anchorage(beam.concrete, beam.bars, 20.0, 48.0, 500.0))
    left = Bar("01", "bottom", 1, 3, "20", -120.0, 3000.0 + l_bd / 2)
    right = Bar("02", "bottom", 1, 3, "20", 3000.0 - l_bd / 2, 6120.0)
    placed = place(beam, CODE, Layout((left, right), ()), at)
    assert placed.laps == ()
    middle = np.abs(at.x - 3000.0).argmin()
    assert placed.effective[middle].sum() == pytest.approx(0.5 * 3 * np.pi * 100, rel=0.02)
    assert run_check(beam, Layout((left, right, bars().bars[1]), bars().stirrups)).status == "fail"


def test_a_hole_in_the_stirrups_is_found():
    whole = bars()
    holed = replace(
        whole,
        stirrups=(replace(whole.stirrups[0], end=1000.0), StirrupZone("21", "8", 2, 1900.0, 5800.0, 150.0)),
    )
    assert run_check(simple(), whole).status != "fail"
    result = run_check(simple(), holed)
    assert not check(result, "spacing.stirrups.1").ok
    assert not check(result, "minimum.stirrups.1").ok
    assert check(result, "spacing.stirrups.1").demand == pytest.approx(1900 - 950)
    bare = run_check(simple(), replace(whole, stirrups=()))
    assert bare.status == "fail"
    assert not check(bare, "shear.stirrups.A-right").ok


def test_bars_longer_than_stock_are_told():
    beam = simple(length=6000.0)
    short = replace(beam, detailing=replace(beam.detailing, stock_length=6000.0))
    result = run_check(short, bars())
    told = [c for c in result.checks if c.id.startswith("stock.bars")]
    assert [c.id for c in told] == ["stock.bars.01", "stock.bars.02"]
    assert all(not c.ok and c.severity == "advice" for c in told)
    assert result.status == "pass"  # a warning is a property of messages
    assert sum(m.severity == "warning" for m in result.messages) >= 2


def test_bars_that_end_together_both_count():
    """Two groups bent into the same support are no lap, even when one is a millimetre longer."""
    beam = simple()
    at = analyse(beam, CODE).stations
    whole = bars().bars[0]
    short = replace(whole, mark="03", start=2000.0, end=whole.end + 1.0, ends=("straight", "bend"))
    placed = place(beam, CODE, Layout((whole, short), ()), at)
    alone = place(beam, CODE, Layout((whole,), ()), at)
    near = np.abs(at.x - 5850.0).argmin()
    assert placed.effective[near].sum() == pytest.approx(2.0 * alone.effective[near].sum(), rel=0.01)


@given(st.floats(1500.0, 4500.0), st.floats(5.0, 120.0))
def test_no_gap_hides_between_bent_ends(place, gap):
    """Bars that stop at a bend and go on a little further leave a section without steel, station there or not."""
    whole = bars()
    long = (400.0, 400.0)
    left = replace(whole.bars[0], end=place, ends=("bend", "bend"), legs=long)
    right = replace(whole.bars[0], mark="09", start=place + gap, ends=("bend", "bend"), legs=long)
    result = run_check(simple(), replace(whole, bars=(left, right, whole.bars[1])))
    collected = check(result, "bending.sagging.1")
    assert not collected.ok
    assert collected.resistance < 0.5 * collected.demand


@given(st.floats(1000.0, 5000.0))
def test_no_gap_hides_between_stations(place):
    """One stirrup left out anywhere is seen, wherever the stations are."""
    spacing, limit = 200.0, 0.75 * 452.0
    first = 200.0 + spacing * round((place - 200.0) / spacing)
    zones = (
        StirrupZone("20", "8", 2, 200.0, first, spacing),
        StirrupZone("21", "8", 2, first + 2 * spacing, 5800.0, spacing),
    )
    result = run_check(simple(), replace(bars(), stirrups=zones))
    collected = check(result, "spacing.stirrups.1")
    assert collected.demand == pytest.approx(2 * spacing)
    assert not collected.ok
    assert collected.resistance == pytest.approx(limit, rel=0.02)


@pytest.mark.parametrize(
    ("change", "failing", "clause"),
    [
        ({"count": 2, "size": "12"}, "bending.sagging.1", "6.1"),
        ({"start": 500.0}, "support-share.bottom.A-right", "9.2.1.4"),
        ({"start": 60.0}, "anchorage.end.A", "9.2.1.4"),
        ({"count": 9, "size": "25"}, "fit.bottom.1-row-1", "8.2"),
        ({"start": -149.0}, "inside.bars.01", "4.4.1"),
        ({"size": "40", "count": 3}, "cover.bars.bottom", "4.4.1"),
        ({"spacing": 400.0}, "spacing.stirrups.1", "9.2.2"),
    ],
)
def test_each_edit_fails_where_it_should(change, failing, clause):
    given_bars = bars(**change)
    if failing == "anchorage.end.A":
        first = replace(given_bars.bars[0], ends=("straight", "bend"), legs=(0.0, 200.0))
        given_bars = replace(given_bars, bars=(first, given_bars.bars[1]))
    result = check(run_check(simple(), given_bars), failing)
    assert not result.ok
    assert clause in result.clause


def test_too_much_steel_is_too_brittle():
    result = run_check(simple(width=250.0), bars(count=5, size="32"))
    assert not check(result, "ductility.sagging.1").ok


def test_compression_bars_are_held_only_where_they_are_needed():
    heavy = run_check(simple(w=45.0, q=25.0), bars(count=7, size="25", spacing=275.0))
    assert any(c.id.startswith("spacing.compressed") and not c.ok for c in heavy.checks)
    assert not any(c.id.startswith("spacing.compressed") for c in run_check(simple(), bars()).checks)


def test_unknown_size_and_empty_layout():
    with pytest.raises(LayoutError, match="'21' is not a valid bar size"):
        run_check(simple(), bars(size="21"))
    with pytest.raises(LayoutError, match="no bars"):
        run_check(simple(), Layout((), ()))


def test_deflection_lies_between_uncracked_and_cracked():
    """7.4.3 against two closed forms: 5 w L^4 / (384 E I) of the whole and of the cracked section, with creep."""
    beam = simple(w=18.0, q=0.0)
    result = run_check(beam, bars())
    stage = CODE.service.stages(
        beam.concrete,
        beam.service,
        np.array([beam.spans[0].area(0.0) / (beam.spans[0].profile.width + beam.spans[0].profile.depth)]),
    )["lasting"]
    e = float(stage.modulus[0])
    deflection = result.curves.deflection_long_term.max()
    gross = 5 * 18.0 * 6000.0**4 / (384 * e * 300 * 500**3 / 12)
    alpha, area, d = 200_000 / e, 4 * np.pi * 100, 452.0
    x = alpha * area / 300 * (np.sqrt(1 + 2 * 300 * d / (alpha * area)) - 1)
    broken = 5 * 18.0 * 6000.0**4 / (384 * e * (300 * x**3 / 3 + alpha * area * (d - x) ** 2))
    shrinkage = float(stage.shrinkage[0]) * 6000.0**2 / 8 / d
    assert gross * 0.8 < deflection < broken + shrinkage
    assert deflection > gross


def test_deflection_moves_the_right_way():
    beam = simple()
    base = run_check(beam, bars()).curves.deflection_long_term.max()
    dry = replace(beam, service=replace(beam.service, humidity=30.0))
    assert run_check(dry, bars()).curves.deflection_long_term.max() > base  # more creep and shrinkage
    young = replace(beam, service=replace(beam.service, age_at_loading=3.0))
    assert run_check(young, bars()).curves.deflection_long_term.max() > base
    assert run_check(beam, bars(count=3)).curves.deflection_long_term.max() > base
    without_top = Layout((bars().bars[0],), bars().stirrups)
    assert run_check(beam, without_top).curves.deflection_long_term.max() > base
    result = run_check(beam, bars())
    assert 0 < result.curves.deflection_immediate.max() < base
    assert 0 < result.curves.deflection_after_finishes.max() < base


def test_integration_reproduces_the_elastic_line():
    """Elastic curvature integrated over spans, cantilevers and sinking supports gives back the exact deflection."""
    lengths = [2000.0, 6000.0, 5000.0, 1500.0]
    loads = [Load("line", i, w, w, 0.0, lengths[i]) for i, w in enumerate((8.0, 20.0, 12.0, 15.0))]
    beam = line(lengths, loads, left_free=True, right_free=True, springs={1: 2e5})
    forces = analyse(beam, CODE, 33000.0)
    r, at = forces.responses, forces.stations
    kappa = r.moment / (33000.0 * (beam.spans[0].profile.width * beam.spans[0].profile.depth ** 3 / 12))
    result = integrate(beam, at, kappa, r.reaction, r.moment_reaction, 33000.0)
    assert np.abs(result - forces.elastic_lines()).max() < 2e-3 * np.abs(result).max()


def test_cantilever_on_a_turning_support():
    beam = line([2000.0], [Load("point", 0, 1e4, 1e4, 2000.0, 2000.0)], right_free=True)
    support = replace(beam.supports[0], spring_rotation=1e10)
    beam = replace(beam, supports=(support,))
    forces = analyse(beam, CODE, 33000.0)
    r = forces.responses
    bent = (
        1e4
        * 2000.0**3
        / (3 * 33000.0 * (beam.spans[0].profile.width * beam.spans[0].profile.depth ** 3 / 12))
    )
    assert forces.elastic_lines()[0, -1] == pytest.approx(bent + 1e4 * 2000 / 1e10 * 2000)
    kappa = r.moment / (33000.0 * (beam.spans[0].profile.width * beam.spans[0].profile.depth ** 3 / 12))
    assert integrate(beam, forces.stations, kappa, r.reaction, r.moment_reaction, 33000.0)[
        0, -1
    ] == pytest.approx(forces.elastic_lines()[0, -1], rel=1e-3)


def test_crack_width_by_hand():
    """7.3.4 at mid-span step by step."""
    beam = simple()
    result = run_check(beam, bars())
    stage = CODE.service.stages(
        beam.concrete,
        beam.service,
        np.array([beam.spans[0].area(0.0) / (beam.spans[0].profile.width + beam.spans[0].profile.depth)]),
    )["lasting"]
    m = (18.0 + 0.3 * 8.0) * 6000.0**2 / 8
    alpha = 200_000 / float(stage.modulus[0])
    area, d, b, h = 4 * np.pi * 100, 452.0, 300.0, 500.0
    top, d_2 = 2 * np.pi * 64, 30 + 8 + 8.0
    # cracked: b x^2/2 + (alpha - 1) A'(x - d') = alpha A (d - x)
    p, q = (alpha - 1) * top + alpha * area, (alpha - 1) * top * d_2 + alpha * area * d
    x = (-p + np.sqrt(p**2 + 2 * b * q)) / b
    inertia = b * x**3 / 3 + (alpha - 1) * top * (x - d_2) ** 2 + alpha * area * (d - x) ** 2
    sigma = alpha * m * (d - x) / inertia
    rho = area / (b * min(2.5 * (h - d), (h - x) / 3, h / 2))
    spacing = 3.4 * 38 + 0.425 * 0.8 * 0.5 * 20 / rho
    short = 200_000 / (22_000 * 3.8**0.3)
    strain = max(
        (sigma - 0.4 * 0.3 * 30 ** (2 / 3) / rho * (1 + short * rho)) / 200_000, 0.6 * sigma / 200_000
    )
    assert check(result, "cracking.bottom.1").demand == pytest.approx(spacing * strain, rel=1e-3)


def test_cracks_close_with_more_bars():
    widths = [check(run_check(simple(), bars(count=n)), "cracking.bottom.1").demand for n in (3, 4, 5)]
    assert widths[0] > widths[1] > widths[2] > 0
    limit = check(run_check(simple(service=Service(crack_width=0.1)), bars()), "cracking.bottom.1").resistance
    assert limit == 0.1


@pytest.mark.slow
@given(
    st.floats(3000.0, 9000.0),
    st.floats(2500.0, 8000.0),
    st.floats(5.0, 35.0),
    st.floats(2.0, 25.0),
    st.booleans(),
)
def test_designs_that_pass_resist_everywhere(first, second, g, q, cantilever):
    """Nothing passes whose demand exceeds resistance anywhere, recomputed from the layout at each station alone."""
    lengths = [first, second] + ([0.25 * second] if cantilever else [])
    n = len(lengths)
    beam = line(lengths, uniform(n, lengths, g), live=uniform(n, lengths, q), right_free=cantilever)
    designed = run_design(beam).result
    if designed is None or designed.status == "fail":
        return
    forces = designed.forces  # with stations where bars stop
    placed = place(beam, CODE, designed.layout, forces.stations)
    at, c = forces.stations, designed.curves
    low, high = beam.design_range
    concrete, steel = CODE.materials.concrete_law(beam.concrete), CODE.materials.steel_law(beam.bars)
    for i in range(0, len(at), 7):
        if not low <= at.x[i] <= high:
            continue
        y = placed.y[i]
        area = placed.effective[i : i + 1]
        sag = bending_resistance(rectangle(300.0, 500.0), area, y[None, :], concrete, steel).moment[0]
        hog = bending_resistance(rectangle(300.0, 500.0), area, 500.0 - y[None, :], concrete, steel).moment[0]
        assert c.design_moment_max[i] <= sag * 1.005 + 1e3
        assert -c.design_moment_min[i] <= hog * 1.005 + 1e3
        # the shifted line is never inside the one it shifts
        assert c.design_moment_max[i] >= forces.design.moment_max[i] - 1.0
    assert {b.face for b in designed.layout.bars} == {"bottom", "top"}


@pytest.mark.slow
@given(st.floats(3500.0, 8500.0), st.floats(8.0, 30.0))
def test_mirrored_layouts_have_mirrored_ratios(length, g):
    """Verification does not know left from right."""
    lengths = [length, 0.8 * length]
    beam = line(lengths, uniform(2, lengths, g), live=uniform(2, lengths, 0.6 * g))
    designed = run_design(beam).result
    if designed is None:
        return
    total = sum(lengths)
    turned = line(lengths[::-1], uniform(2, lengths[::-1], g), live=uniform(2, lengths[::-1], 0.6 * g))
    layout = Layout(
        tuple(
            replace(b, start=total - b.end, end=total - b.start, ends=b.ends[::-1], legs=b.legs[::-1])
            for b in designed.layout.bars
        ),
        tuple(
            replace(z, start=total - z.start - (z.count - 1) * z.spacing, end=total - z.start)
            for z in designed.layout.stirrups
        ),
    )
    mirrored = verify(turned, CODE, analyse(turned, CODE), layout)
    for topic in ("bending", "shear", "deflection", "cracking", "anchorage", "fit"):
        a, b = (
            max((c.ratio for c in r.checks if c.topic == topic), default=0.0) for r in (designed, mirrored)
        )
        assert a == pytest.approx(b, rel=2e-2, abs=1e-6), topic


def test_nothing_rotates_where_an_end_is_only_taken_as_simple():
    """Bars for the least steel of a wide flange make a section of a narrow web little ductile; at a simple end, whose hogging is that of
    9.2.1.2(1), it is not used. A column's moment of the same bars is judged."""
    import upright_bramble as ub
    from plain_beams import EN, beam, dead, live, written

    profile = {"shape": "T", "depth": 500, "width": 220, "flange": {"thickness": 200, "width": 1800}}
    base = {**EN, "concrete": {"grade": "C80/95"}, "profiles": {"p": profile}}
    loads = [dead({"line": 30}), live({"line": 20})]
    column = {"column": {"below": {"height": 3.0, "size": [600, 600], "far_end": "fixed"}}}
    spans = {
        "simple": [{"span": 5.8, "profile": "p"}],
        "column": [{"span": 5.8, "profile": "p", "at_left": column}],
    }
    bars = (Bar("1", "bottom", 1, 2, "32", -70.0, 5870.0), Bar("2", "top", 1, 8, "25", -70.0, 5870.0))
    made = Layout(bars, (StirrupZone("20", "8", 2, 150.0, 5650.0, 100.0),))
    found = {
        kind: {c.id: c for c in ub.check(beam(written(base, line_, loads, width=200)), made).checks}
        for kind, line_ in spans.items()
    }
    assert "ductility.hogging.S0" not in found["simple"]
    assert "bending.hogging.S0" in found["simple"]
    assert found["column"]["ductility.hogging.S0"].ratio > 1.0
