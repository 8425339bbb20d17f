"""The section that is cut out of a beam at one place: its bars, stirrups and forces, by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from upright_bramble.beam import Bar, Flange, Layout, SideBars, StirrupZone
from upright_bramble.pipeline import run_check
from upright_bramble.verify.sections.from_beam import section_at
from yaml_beams import line, uniform

STRAIGHT = ("straight", "straight")


def layout(**other) -> Layout:
    """Of one span of 8 m: three bars below, two over them in the middle; ten thin bars at the top; one row at the sides."""
    usual = {
        "bars": (
            Bar("01", "bottom", 1, 3, "25", -120.0, 8120.0),
            Bar("02", "bottom", 2, 2, "20", 1500.0, 6500.0),
            Bar("03", "top", 1, 10, "16", -120.0, 8120.0),
        ),
        "stirrups": (
            StirrupZone("S1", "10", 4, spacing=100.0, start=200.0, end=1200.0),
            StirrupZone("S2", "8", 2, spacing=200.0, start=1400.0, end=7800.0),
        ),
        "sides": (SideBars("L1", 1, "12", 0.0, 8000.0),),
    }
    return Layout(**{**usual, **other})


@pytest.fixture(scope="module")
def facts():
    """A web of 300 x 600 under a flange of 120 that reaches 500 to the left and 200 to the right; cover 30."""
    plain = line([8000.0], uniform(1, [8000.0], 12.0), live=uniform(1, [8000.0], 9.0), depth=600.0)
    flanged = replace(plain.spans[0].profile, flange=Flange(120.0, 500.0, 200.0))
    spans = tuple(replace(s, profile=flanged) for s in plain.spans)
    return run_check(replace(plain, spans=spans), layout()).facts


def of(section, size: str) -> list[tuple[float, float]]:
    return sorted((round(b.x, 1), round(b.y, 1)) for b in section.bars if b.size == size)


def test_bars_lie_in_the_web_where_they_fit_and_else_over_its_flange(facts):
    """Inside stirrups of 10 (the thickest decide of the depth): 150 - 30 - 8 - 12.5 from the middle below, where the stirrups at hand are
    of 8; ten bars of 16 with 21 or more between them take 349 mm and lie over the flange, from 650 - 30 - 8 - 8 left of the middle to
    350 - 46 right of it."""
    section = section_at(facts, 4000.0, 0, "midspan")
    assert of(section, "25") == [(-99.5, -547.5), (0.0, -547.5), (99.5, -547.5)]
    second = 600.0 - 30.0 - 10.0 - 25.0 - 25.0 - 10.0
    assert of(section, "20") == [(-102.0, -second), (102.0, -second)]
    top = of(section, "16")
    assert [x for x, _ in top] == pytest.approx(np.linspace(-604.0, 304.0, 10).tolist(), abs=0.06)
    assert {y for _, y in top} == {-48.0}
    # half way between the outermost rows, whose axes are 48 and 547.5 deep
    assert of(section, "12") == [(-106.0, -297.8), (106.0, -297.8)]
    assert section.shape.corners[:, 0].min() == pytest.approx(-650.0)
    assert section.shape.corners[:, 0].max() == pytest.approx(350.0)


@pytest.mark.parametrize(("count", "outside"), [(6, False), (7, True)])
def test_a_row_that_just_fits_the_web_stays_there(facts, count, outside):
    """Bars of 16 mm, 25 between them: six take 221 of 224 mm inside stirrups of 8, seven 262."""
    bars = (Bar("01", "bottom", 1, 3, "25", -120.0, 8120.0), Bar("03", "top", 1, count, "16", -120.0, 8120.0))
    section = section_at(run_check(facts.beam, layout(bars=bars)).facts, 4000.0, 0, "midspan")
    assert (max(x for x, _ in of(section, "16")) > 150.0) == outside


def test_the_flange_is_the_part_that_works_there():
    """EN 5.3.2.1: 0.2 x 1000 + 0.1 l_0 on either side, l_0 = 0.85 x 8 m in the span and 0.15 x 16 m over the support: 880 and 440,
    no more than 0.2 l_0 = 1360 and 480."""
    lengths = [8000.0, 8000.0]
    plain = line(lengths, uniform(2, lengths, 12.0), live=uniform(2, lengths, 9.0), depth=600.0)
    wide = Flange(120.0, 1000.0, 1000.0)
    spans = tuple(replace(s, profile=replace(s.profile, flange=wide)) for s in plain.spans)
    facts = run_check(replace(plain, spans=spans), layout(stirrups=(), sides=())).facts
    for x, index in ((3200.0, 0), (7800.0, 0), (8200.0, 1)):
        section = section_at(facts, x, index, "x")
        i = facts.nearest_of(index, x)
        own = float(facts.at.sections.strips.upper[i].max())
        corners = section.shape.corners[:, 0]
        assert own > 900.0
        assert (corners.max(), -corners.min()) == pytest.approx((0.5 * own, 0.5 * own))


def test_bars_count_as_far_as_they_are_anchored_there(facts):
    """At 1600 mm the second row has 100 mm behind it."""
    near = section_at(facts, 1600.0, 0, "near its end")
    i = facts.nearest_of(0, 1600.0)
    shares = {b.size: b.area / facts.code.sizes[b.size].area for b in near.bars}
    assert shares["20"] == pytest.approx(facts.placed.effective[i, 1] / facts.placed.area[1])
    assert 0.05 < shares["20"] < 0.5
    assert shares["25"] == pytest.approx(1.0)
    assert not of(section_at(facts, 1000.0, 0, "before its end"), "20")


@pytest.mark.parametrize(("x", "size", "legs", "spacing"), [(700.0, "10", 4, 100.0), (3000.0, "8", 2, 200.0)])
def test_stirrups_are_those_of_the_zone(facts, x, size, legs, spacing):
    stirrups = section_at(facts, x, 0, "x").stirrups
    assert (stirrups.size, stirrups.legs, stirrups.spacing) == (size, legs, spacing)


def test_between_zones_the_wider_spacing_counts(facts):
    """At 1300 mm the last stirrup of one zone and the first of the next are both nearer than a spacing."""
    assert section_at(facts, 1250.0, 0, "x").stirrups.spacing == 100.0  # nearer to the first
    assert section_at(facts, 1300.0, 0, "x").stirrups.spacing == 200.0


def test_without_stirrups_there_are_none():
    plain = line([8000.0], uniform(1, [8000.0], 1.0), live=uniform(1, [8000.0], 1.0), depth=600.0)
    bars = layout().bars[:1]
    facts = run_check(plain, Layout((*bars, Bar("02", "top", 1, 2, "16", -120.0, 8120.0)), ())).facts
    assert section_at(facts, 4000.0, 0, "x").stirrups is None


def test_a_place_within_a_support_is_that_of_its_face(facts):
    inside, face = (section_at(facts, x, 0, "x") for x in (-50.0, 150.0))
    assert [b.area for b in inside.bars] == [b.area for b in face.bars]
    assert [f.shear for f in inside.forces] == [f.shear for f in face.forces]


def test_of_a_lap_one_piece_stands_in_the_section():
    plain = line([8000.0], uniform(1, [8000.0], 8.0), live=uniform(1, [8000.0], 6.0), depth=600.0)
    lapped = (
        Bar("01", "bottom", 1, 2, "16", -120.0, 4800.0, ("straight", "lap")),
        Bar("02", "bottom", 1, 2, "16", 3200.0, 8120.0, ("lap", "straight")),
        Bar("03", "top", 1, 2, "12", -120.0, 8120.0, STRAIGHT),
    )
    facts = run_check(plain, layout(bars=lapped, sides=())).facts
    section = section_at(facts, 4000.0, 0, "in the lap")
    assert len(of(section, "16")) == 2
    assert {b.area for b in section.bars if b.size == "16"} == {facts.code.sizes["16"].area}


def test_forces_are_those_that_act_together_there(facts):
    """1.35 of dead and 1.5 of live load, on 8 m: at midspan the moment is q l^2 / 8 and there is hardly a shear; a metre from the support
    the sets have the shear there, and both levels of service have theirs."""
    q = 1.35 * 12.0 + 1.5 * 9.0
    middle = section_at(facts, 4000.0, 0, "midspan")
    greatest = max(middle.forces, key=lambda f: f.moment)
    assert greatest.moment == pytest.approx(q * 64.0 / 8.0 * 1e6, rel=2e-3)
    assert abs(greatest.shear) < 0.1 * q * 4.0 * 1e3
    x = float(facts.at.x[facts.nearest_of(0, 1500.0)])
    near = section_at(facts, x, 0, "near the support")
    assert max(abs(f.shear) for f in near.forces) == pytest.approx(q * (4000.0 - x), rel=1e-6)
    assert [s.level for s in middle.service] == [
        "characteristic", "characteristic", "frequent", "frequent", "quasi_permanent", "quasi_permanent"
    ]  # fmt: skip
    assert middle.service[0].moment > middle.service[1].moment
    for level, most in (("characteristic", 12.0 + 9.0), ("quasi_permanent", 12.0 + 0.3 * 9.0)):
        moments = sorted(s.moment / 8e6 for s in middle.service if s.level == level)
        assert moments == pytest.approx([12.0, most], rel=2e-3)  # without the live load, and with it


def test_where_sets_are_not_known_the_extremes_stand_for_them():
    """Loads on the spans as is worst for each place: 1.35 of 12 and 1.5 of 9 kN/m of live load on either of two spans of 8 m. What the
    other span alone makes of midspan hogs there, what of the face of the middle support sags nowhere."""
    lengths = [8000.0, 8000.0]
    plain = line(
        lengths, uniform(2, lengths, 2.0), live=uniform(2, lengths, 9.0), depth=600.0, arrangements="every"
    )
    bars = (
        Bar("01", "bottom", 1, 3, "25", -120.0, 16120.0),
        Bar("03", "top", 1, 3, "25", -120.0, 16120.0),
    )
    facts = run_check(plain, layout(bars=bars, sides=())).facts
    design = facts.forces.design
    i = facts.nearest_of(0, 5000.0)
    section = section_at(facts, float(facts.at.x[i]), 0, "x")
    assert {f.name for f in section.forces} == {"extremes, sagging", "extremes, hogging"}
    by_sign = {f.moment > 0.0: f for f in section.forces}
    assert by_sign[True].moment == pytest.approx(float(design.moment_max[i]))
    assert by_sign[False].moment == pytest.approx(float(design.moment_min[i]))
    assert {f.shear for f in section.forces} == {float(facts.strength.shear_demand[i])}
    rows = facts.at.of(0)
    assert by_sign[True].greatest_moment == pytest.approx(float(design.moment_max[rows].max()))
    assert by_sign[False].greatest_moment == pytest.approx(-float(design.moment_min[rows].min()))
    assert by_sign[True].greatest_other == pytest.approx(-float(design.moment_min[rows].min()))
    beside = section_at(facts, 7900.0, 0, "x").forces
    assert [f.greatest_moment for f in beside] == [pytest.approx(abs(f.moment)) for f in beside]
