"""One section by itself: against textbook figures, against each other, and through the program."""

from __future__ import annotations

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from upright_bramble.beam import Concrete, Cover, Profile, Steel
from upright_bramble.codes import get_code
from upright_bramble.section.outline import polygon, webbed
from upright_bramble.section.shape import shape_of
from upright_bramble.section.strips import rectangle, tee
from upright_bramble.verify.sections.bending import bent
from upright_bramble.verify.sections.by_hand import Row, Section, work_out
from upright_bramble.verify.sections.model import BarAt, CrossSection, ForceSet

EN, US = get_code("en1992-1-1"), get_code("aci318-19")
PLAIN = Section("p", rectangle(300.0, 550.0), Concrete(30.0), Steel(500.0), Steel(500.0), 30.0)


def value(lines, symbol):
    names = {symbol, US.words.symbols.get(symbol, symbol)}
    return next(v.value for v in lines if v.symbol in names)


def resisted(
    shape, area: float, depth: float, code, steel: float, axial: float = 0.0, acting: float = 1e6
) -> float:
    """Moment resisted by bars at one depth, by strain planes instead of a block about the bars; none where `acting` does not balance `axial`."""
    bars = tuple(BarAt(x, -depth, "x", 20.0, 0.25 * area, 0) for x in (-60.0, -20.0, 20.0, 60.0))
    h = float(-shape.corners[:, 1].min())
    section = CrossSection(
        "p",
        shape,
        Profile("p", 300.0, h),
        Concrete(30.0),
        Steel(steel),
        Steel(steel),
        Cover(30.0, 30.0, 30.0),
        "level",
        bars,
    )
    return bent(section, code, ForceSet("a", acting, axial=axial)).resistance


def test_a_polygon_is_its_strips():
    """Area, centroid and second moment of a T as a polygon, and of a triangle by hand."""
    one, two = (
        polygon(webbed(600.0, 300.0, 300.0, (900.0, 150.0), (0.0, 0.0))),
        tee(900.0, 150.0, 300.0, 600.0),
    )
    for a, b in zip(one.gross(), two.gross(), strict=True):
        assert a[0] == pytest.approx(b[0], rel=1e-7)
    area, centroid, second = (
        float(v[0]) for v in polygon([(0.0, 0.0), (300.0, 0.0), (150.0, 600.0)]).gross()
    )
    assert (area, centroid, second) == pytest.approx((90_000.0, 200.0, 300 * 600.0**3 / 36), rel=1e-6)


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([(0, 0), (1, 1)], "three corners"),
        ([(0, 0), (100, 0), (0, 100), (100, 100)], "cross"),
        ([(0, 5), (10, 5), (20, 5)], "no depth"),
    ],
)
def test_outlines_that_are_none(points, words):
    with pytest.raises(ValueError, match=words):
        polygon(points)


@given(
    st.floats(200.0, 500.0), st.floats(150.0, 500.0), st.floats(400.0, 900.0), st.floats(0.03, 0.5), st.sampled_from(["en1992-1-1", "aci318m-19"]),
    st.sampled_from(["plain", "above", "below"]),
)  # fmt: skip
def test_required_steel_is_resisted(top, foot, h, mu, code, flange):
    """Sloping webs and flanges above or below: steel asked for, then placed, resists just the moment."""
    code = get_code(code)
    above, below = (
        ((800.0, 120.0), (0.0, 0.0))
        if flange == "above"
        else ((0.0, 0.0), (800.0, 120.0) if flange == "below" else (0.0, 0.0))
    )
    points = webbed(h, top, foot, above, below)
    s = replace(PLAIN, strips=polygon(points), bars=Steel(500.0 if code is EN else 420.0))
    d = h - 30.0 - 8.0 - 10.0
    m = mu * min(top, foot) * d**2 * code.materials.concrete_law(PLAIN.concrete).stress
    lines = work_out(replace(s, moment=m), code)
    assume(not [v for v in lines if v.what == "compression steel"])
    shape = shape_of([(x, -y) for x, y in points])
    narrow = code.materials.narrowing_factor(PLAIN.concrete) < 1.0 and top < foot
    own = resisted(shape, value(lines, "A_s,req"), d, code, s.bars.strength)
    assert own == pytest.approx(m, rel=2e-6) or (narrow and 0.9 * m < own < m)


def test_axial_force_counts():
    """Compression takes steel off, tension adds it, and what is required resists the moment beside the force."""
    s = replace(PLAIN, moment=200e6)
    for axial in (0.0, 200e3, -200e3):
        area = value(work_out(replace(s, axial=axial), EN), "A_s,req")
        shape = shape_of([(-150.0, 0.0), (150.0, 0.0), (150.0, -550.0), (-150.0, -550.0)])
        assert resisted(shape, area, 502.0, EN, 500.0, axial, 200e6) == pytest.approx(200e6, rel=1e-6)
    # the least moment that 200 kN of tension goes with: the bottom crushed (0.0035) below bars that stay elastic, by the block of EN
    e, b = 0.0035 * 200e3 * area, 0.8 * 300.0 * 20.0
    x = (math.sqrt((200e3 + e) ** 2 + 4.0 * b * e * 48.0) - 200e3 - e) / (2.0 * b)
    assert 0.8 * x < 48.0
    least = (b * x + 200e3) * (502.0 - 275.0) - b * x * (275.0 - 0.4 * x)
    assert resisted(shape, area, 502.0, EN, 500.0, -200e3, 0.99 * least) == 0.0
    assert resisted(shape, area, 502.0, EN, 500.0, -200e3, 1.01 * least) > 0.0


def test_hogging_turns_the_section():
    """The same T upside down gives the same numbers."""
    sag = replace(
        PLAIN, strips=tee(900.0, 150.0, 300.0, 600.0), moment=300e6, rows=(Row(1500.0, 540.0, 20.0, 5),)
    )
    hog = replace(sag, strips=sag.strips.turned(), moment=-300e6, rows=(Row(1500.0, 60.0, 20.0, 5),))
    for a, b in zip(work_out(sag, EN), work_out(hog, EN), strict=True):
        assert a.value == pytest.approx(b.value), a.what


@pytest.mark.slow
def test_the_program_works_a_section_out(bramble):
    call = (
        "section",
        "--size",
        "350x600",
        "--concrete",
        "C30/37",
        "--steel",
        "B500B",
        "--cover",
        "35",
        "--bars",
        "4x20@545",
        "-M",
        "250",
    )
    ran = bramble(*call, "-V", "180", "--figure", "s.png")
    assert ran.status == 1, ran.err  # no stirrups
    assert "fail minimum stirrups" in ran.out
    assert "A_s,req" in ran.out
    assert max(len(x) for x in ran.out.splitlines()) <= 80
    assert (bramble.folder / "s.png").stat().st_size > 10_000
    data = bramble(*call, "--json").json
    m = 250e6
    f_cd, d = 20.0, 545.0
    z = d / 2 * (1 + np.sqrt(1 - 2 * m / (350 * d**2 * f_cd)))
    result = {v["symbol"]: v["value"] for v in data["values"]}
    assert result["A_s,req"] == pytest.approx(m / z / (500 / 1.15), rel=1e-6)
    assert (
        bramble(
            "section",
            "--size",
            "350x600",
            "--concrete",
            "C30/37",
            "--steel",
            "B500B",
            "--cover",
            "35",
            "--bars",
            "2x12@545",
            "-M",
            "250",
        ).status
        == 1
    )
    american = bramble("section", "--size", "12x20", "--code", "aci318-19", "--units", "us", "--concrete", "4000 psi", "--steel", "60 ksi",
                       "--cover", "1.5", "--bars", "4x8@17.5", "-M", "200", "--json").json  # fmt: skip
    result = {v["symbol"]: v["value"] for v in american["values"]}
    assert result["phi M_n"] / (4448.2216152605 * 25.4) == pytest.approx(
        2_592, rel=2e-3
    )  # kip in, a textbook's


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda t: t.replace("depth: 640", "depth: 800"), "outside the section"),
        (lambda t: t.replace("[600, 0]", "[600, 900]"), "cross"),
        (lambda t: t.replace("size: 25", "size: 24"), "is not a valid bar size"),
        (lambda t: t.replace("C30/37", "C31"), "is not a valid"),
        (lambda t: t[: t.index("bars: [")], "nothing to work out"),
        (lambda t: t.replace("form: {outline", "form: {shape: oval, outline"), "is not one of"),
        (lambda t: t.replace("forces: [", "asked: ["), "is called 'forces' now"),
        (lambda t: t.replace("row: 3", "row: 3, at: [300, 640]"), "give either 'at'"),
        (lambda t: t.replace("waive: {cracking", "waive: {crackling"), "is no topic"),
    ],
)
def test_faults_of_a_section_file(bramble, change, words):
    text = (
        "bramble_section: 1\ntitle: Old mole\ncode: en1992-1-1\nconcrete: {grade: C30/37}\nreinforcement: {bars: B500B}\ncover: 35\n"
        "form: {outline: [[0, 0], [600, 0], [600, 150], [420, 200], [420, 700], [180, 700], [180, 200], [0, 150]]}\n"
        "bars: [{row: 3, size: 25, depth: 640}]\nforces: [{name: all, moment: 350}]\nwaive: {cracking: not asked}\n"
    )
    bramble.write("good.section.yaml", text)
    assert bramble("section", "good.section.yaml").status == 0
    bramble.write("bad.section.yaml", change(text))
    ran = bramble("section", "bad.section.yaml")
    assert ran.status == 2
    assert words in ran.err
    assert "bad.section.yaml" in ran.err


def test_calls_that_say_too_little(bramble):
    assert "--concrete" in bramble("section", "--size", "300x500").err
    assert (
        "two sizes"
        in bramble("section", "--size", "300", "--concrete", "30", "--steel", "500", "--cover", "30").err
    )
    assert json.loads(bramble("schema", "section").out)["title"] == "SectionFile"


def test_a_section_of_a_beam_knows_the_greatest_moments_of_its_span():
    """Away from supports each set has the greatest moment of its own sense and that of the other along the span, as shear moves them;
    beside a support the moment itself, and none of the other sense."""
    import upright_bramble as ub
    from upright_bramble.verify.sections.from_beam import section_at
    from yaml_beams import line, uniform

    spans = [6000.0, 8000.0]
    made = ub.design(line(spans, uniform(2, spans, 14.0), live=uniform(2, spans, 18.0), depth=600.0))
    design = made.forces.design
    sagging, hogging = (
        float(v[made.forces.stations.of(1)].max()) for v in (design.moment_max, -design.moment_min)
    )
    assert sagging != pytest.approx(hogging, rel=0.01)
    at = made.forces.stations
    both = (design.moment_max > 1e6) & (design.moment_min < -1e6) & (at.x > 6900.0) & (at.x < 13_000.0)
    place = float(at.x[both][0])
    inside = {f.moment > 0.0: f for f in section_at(made.facts, place, 1, "away from supports").forces}
    assert set(inside) == {True, False}
    assert (inside[True].greatest_moment, inside[True].greatest_other) == (
        pytest.approx(sagging),
        pytest.approx(hogging),
    )
    assert (inside[False].greatest_moment, inside[False].greatest_other) == (
        pytest.approx(hogging),
        pytest.approx(sagging),
    )
    beside = section_at(made.facts, 6200.0, 1, "beside the support").forces
    assert beside
    for f in beside:
        assert (f.greatest_moment, f.greatest_other) == (abs(f.moment), 0.0)
