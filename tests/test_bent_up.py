"""Bottom bars that are bent up and go on at the top: where they lie, what they resist, how they are scheduled and drawn."""

from __future__ import annotations

import json
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import upright_bramble as ub
from upright_bramble.analysis.bent_up import parts_of
from upright_bramble.beam import CRANKED, Bar, Beam, BentUp, Layout, StirrupZone
from upright_bramble.errors import LayoutError
from upright_bramble.files.result_data import result_model
from upright_bramble.pipeline import code_of
from upright_bramble.present.along import in_faces, line_of
from yaml_beams import line, uniform

SPAN = 6000.0
BESIDE = 454.0  # 550 mm less 30 + 8 + 10 mm to the axis of a 20 mm bar at either face


def two_spans(code: str = "en1992-1-1") -> Beam:
    beam = line(
        [SPAN, SPAN], uniform(2, [SPAN, SPAN], 16.0), live=uniform(2, [SPAN, SPAN], 15.0), depth=550.0
    )
    return replace(beam, code=code, annex=None) if code != beam.code else beam


def bent(right: float = 4750.0, end: float = 8600.0, **more: object) -> Bar:
    given_ = BentUp(right=right, **more)  # type: ignore[arg-type]
    return Bar("02", "bottom", 1, 2, "20", -120.0, end, ("bend", "straight"), (300.0, 0.0), bent_up=given_)


def mirrored(bar: Bar, beam: Beam) -> Bar:
    up = bar.bent_up
    turned = None
    if up is not None:
        left, right = (None if v is None else beam.length - v for v in (up.right, up.left))
        turned = replace(up, left=left, right=right)
    return replace(
        bar,
        start=beam.length - bar.end,
        end=beam.length - bar.start,
        ends=bar.ends[::-1],
        legs=bar.legs[::-1],
        bent_up=turned,
    )


def layout(beam: Beam, *bars: Bar) -> Layout:
    """With two corner bars through at either face, and stirrups."""
    low, high = beam.ends
    ends = (low + 30.0, high - 30.0)
    corners = [
        Bar(f"0{k}", face, 1, 2, "16", *ends, ("bend", "bend"), (220.0, 220.0))
        for k, face in ((8, "bottom"), (9, "top"))
    ]
    zones = [StirrupZone("20", "8", 2, s.start + 200.0, s.end - 200.0, 100.0) for s in beam.spans]
    return Layout((*corners, *bars), tuple(zones))


def checks_of(beam: Beam, bars: Layout) -> dict[str, ub.Check]:
    return {c.id: c for c in ub.check(beam, bars).checks}


def test_the_parts_of_a_bar_by_hand():
    """At 45 degrees it comes up over its rise; each part has what goes on beyond its bend."""
    beam = two_spans()
    low, top = parts_of(beam, code_of(beam), [bent()], 8.0).bars
    assert (low.face, low.start, low.end, low.ends) == ("bottom", -120.0, 4750.0, ("bend", CRANKED))
    assert (top.face, top.start, top.end, top.ends) == ("top", 4750.0 + BESIDE, 8600.0, (CRANKED, "straight"))
    inclined = BESIDE * math.sqrt(2.0)
    assert low.legs == (300.0, pytest.approx(inclined + 8600.0 - 4750.0 - BESIDE, abs=0.01))
    assert top.legs == (pytest.approx(inclined + 4870.0, abs=0.01), 0.0)
    steep = parts_of(beam, code_of(beam), [bent(angle=60.0)], 8.0).bars[1]
    assert steep.start == pytest.approx(4750.0 + BESIDE / math.sqrt(3.0))


def test_a_second_row_lies_below_the_thickest_of_the_first():
    beam = two_spans()
    first = Bar("05", "top", 1, 2, "25", 3000.0, 9000.0)
    parts = parts_of(beam, code_of(beam), [first, bent(layer=2)], 8.0)
    assert parts.entry == (0, 1, 1)
    rise = 550.0 - 48.0 - (38.0 + 25.0 + 25.0 + 10.0)  # a row of 25 mm bars and 25 mm clear over it
    assert parts.bars[2].start == pytest.approx(4750.0 + rise)


def test_bent_up_at_both_sides():
    beam = two_spans()
    bar = Bar("02", "bottom", 1, 2, "20", 4000.0, 11900.0, bent_up=BentUp(left=7300.0, right=10800.0))
    faces = [(p.face, p.ends) for p in parts_of(beam, code_of(beam), [bar], 8.0).bars]
    assert faces == [
        ("top", ("straight", CRANKED)),
        ("bottom", (CRANKED, CRANKED)),
        ("top", (CRANKED, "straight")),
    ]
    item = next(i for i in ub.check(beam, layout(beam, bar)).bars if i.bar.mark == "02")
    assert item.shape == "46"
    assert [round(v) for _, v in item.dimensions] == [2846, 642, 3500, 642, 646, 474]


def test_the_cut_length_by_hand():
    """Straight lengths along the axis; each of the two corners is cut by the mandrel's arc of 45 degrees."""
    beam = two_spans()
    bar = replace(bent(), start=200.0, ends=("straight", "straight"), legs=(0.0, 0.0))
    item = next(i for i in ub.check(beam, layout(beam, bar)).bars if i.bar.mark == "02")
    radius = 0.5 * item.mandrel + 10.0
    cut = 2.0 * radius * math.tan(math.radians(22.5)) - radius * math.radians(45.0)
    length = 4550.0 + BESIDE * math.sqrt(2.0) + (8600.0 - 4750.0 - BESIDE) - 2.0 * cut
    assert (item.shape, item.cut_length) == ("26", math.ceil(length / 25.0) * 25.0)
    assert [round(v) for _, v in item.dimensions] == [4550, 642, 3396, 474]
    # of EN 1992-1-1 (8.1): F_bt (1/a_b + 1/(2 phi)) / f_cd, with the cover beside it
    required = 136.6e3 * (1.0 / 48.0 + 1.0 / 40.0) / 20.0
    assert item.mandrel == 350.0
    assert 300.0 < required < 350.0


COMPARED = ("moment_positive", "top_provided", "bottom_provided")


def test_bending_counts_what_lies_in_each_face_and_nothing_between():
    """Up to its bend it resists as a bar that goes on; on the incline neither face has it; past it the top has."""
    beam = two_spans()
    with_it, without = ub.check(beam, layout(beam, bent())), ub.check(beam, layout(beam))
    straight = ub.check(beam, layout(beam, replace(bent(), end=8600.0, bent_up=None)))
    every = (with_it, without, straight)
    x = with_it.forces.stations.x
    x = x[np.isin(x, without.forces.stations.x) & np.isin(x, straight.forces.stations.x)]
    bottom, top = (x > 1500.0) & (x < 4650.0), (x > 5300.0) & (x < 7500.0)
    between_ = (x > 4800.0) & (x < 5150.0)
    curves = [
        replace(r.curves, **{n: getattr(r.curves, n)[np.isin(r.forces.stations.x, x)] for n in COMPARED})
        for r in every
    ]
    assert np.allclose(curves[0].moment_positive[bottom], curves[2].moment_positive[bottom])
    assert (curves[0].moment_positive[bottom] > 1.5 * curves[1].moment_positive[bottom]).all()
    assert (curves[0].top_provided[top] == pytest.approx(402.1 + 628.3, abs=0.2)) is True
    for name in ("bottom_provided", "top_provided"):
        a, b = (getattr(c, name)[between_] for c in curves[:2])
        assert np.allclose(a, b), name
    assert between_.sum() >= 2


def test_what_is_too_short_beyond_the_bend_is_not_anchored_there():
    """The bend is no anchorage: at 60 degrees 524 mm of incline and 20 mm at the top do not develop a bar that lies in poor
    bond there."""
    beam = two_spans()
    end = 4750.0 + BESIDE / math.sqrt(3.0) + 20.0
    short, long = (ub.check(beam, layout(beam, bent(end=e, angle=60.0))) for e in (end, 8600.0))
    x = short.forces.stations.x
    i = int(np.flatnonzero(x < 4700.0)[-2])
    length = float(short.facts.placed.anchorage.max())  # of the top part
    share = (4750.0 - x[i] + 524.2 + 20.0) / length
    assert 0.5 < share < 0.99
    expected = 2.0 * math.pi * 64.0 + share * 628.3
    assert short.curves.bottom_provided[i] == pytest.approx(expected, rel=2e-3)
    assert long.curves.bottom_provided[i] == pytest.approx(402.1 + 628.3, rel=1e-3)


def test_bent_up_where_sagging_still_needs_it_fails():
    beam = two_spans()
    low = checks_of(beam, layout(beam, bent(right=3000.0)))
    assert not low["curtailment.bottom.02-right"].ok
    assert low["curtailment.bottom.02-right"].x < 3000.0
    good = checks_of(beam, layout(beam, bent()))
    assert good["curtailment.bottom.02-right"].ok


@pytest.mark.slow
@settings(max_examples=8)
@given(
    st.integers(4300, 5200),
    st.integers(7000, 9500),
    st.sampled_from([30.0, 45.0, 60.0]),
    st.sampled_from([1, 2]),
)
def test_turned_round_it_is_the_same(right, end, angle, layer):
    beam = two_spans()
    bar = bent(float(right), float(end), angle=angle, layer=layer)
    there = checks_of(beam, layout(beam, bar))
    back = checks_of(beam, layout(beam, mirrored(bar, beam)))
    swapped = {"left": "right", "right": "left"}
    assert len(there) == len(back)
    for name, c in there.items():
        if "02" not in name:
            continue
        turned = "-".join(swapped.get(v, v) for v in name.split("-"))
        assert back[turned].ratio == pytest.approx(c.ratio, rel=1e-6), name


@pytest.mark.slow
@pytest.mark.parametrize("code", ["aci318m-19", "csa-a23.3-19", "is456-2000", "bs8110-97"])
def test_every_code_reads_them(code, bramble):
    """As US and other files have them: a verdict, a schedule, a drawing, with the same parts."""
    bramble.write(
        "b.beam.yaml",
        FILE.replace("en1992-1-1", code)
        .replace("{grade: C30/37}", GRADES[code][0])
        .replace("{bars: B500B}", GRADES[code][1]),
    )
    size = "20M" if code.startswith("csa") else "19" if code.startswith("aci") else "20"
    bramble.write(
        "b.layout.yaml",
        BARS.replace('"20"', f'"{size}"')
        .replace('"16"', f'"{SIZES.get(code, size)}"')
        .replace('"8"', f'"{TIES.get(code, "8")}"'),
    )
    ran = bramble("check", "b.beam.yaml", "b.layout.yaml", "--into", "out")
    assert ran.status in (0, 1), ran.err
    result = json.loads((bramble.folder / "out/BU1/BU1.result.json").read_text())
    piece = next(b for b in result["bars"] if b["mark"] == "02")
    assert piece["bent_up"]["inclined_mm"][0][0] == 4750.0
    assert any(c["id"] == "curtailment.bottom.02-right" for c in result["checks"])


FILE = """bramble: 1
beam: Sail loft, line 2
mark: BU1
code: en1992-1-1
units: si
concrete: {grade: C30/37}
reinforcement: {bars: B500B}
cover: {top: 40, bottom: 40, sides: 40}
bracing: continuous
profiles:
  p: {shape: rectangle, depth: 550, width: 300}
line:
  - {support: A, width: 300}
  - {span: 6.0 m, profile: p}
  - {support: B, width: 300}
  - {span: 6.0 m, profile: p}
  - {support: C, width: 300}
actions:
  - {name: structure, kind: permanent, self_weight: true, loads: [{line: 12}]}
"""
GRADES = {
    "aci318m-19": ("{strength: 28}", "{yield: 420}"),
    "csa-a23.3-19": ("{strength: 30}", "{yield: 400}"),
    "is456-2000": ("{grade: M25}", "{bars: Fe500}"),
    "bs8110-97": ("{grade: C35}", "{yield: 460}"),
}
SIZES = {"aci318m-19": "16", "csa-a23.3-19": "15M", "is456-2000": "16", "bs8110-97": "16"}
TIES = {"aci318m-19": "10", "csa-a23.3-19": "10M"}
BARS = """bramble_layout: 1
beam: BU1
bars:
  - {mark: "01", face: bottom, layer: 1, count: 2, size: "16", from: -0.11 m, to: 12.11 m, ends: [straight, straight]}
  - {mark: "02", face: bottom, layer: 1, count: 1, size: "20", from: -0.11 m, to: 8.60 m, bent_up: {right: 4.75 m}, held: true}
  - {mark: "03", face: top, layer: 1, count: 2, size: "16", from: -0.11 m, to: 12.11 m, ends: [straight, straight]}
stirrups:
  - {mark: "20", size: "8", legs: 2, from: 0.2 m, to: 5.8 m, spacing: 100}
  - {mark: "20", size: "8", legs: 2, from: 6.2 m, to: 11.8 m, spacing: 100}
"""


@pytest.mark.slow
def test_through_the_program(bramble):
    """Checked, scheduled, drawn, compared; a design keeps the held bar as it is."""
    bramble.write("b.beam.yaml", FILE)
    bramble.write("b.layout.yaml", BARS)
    ran = bramble("check", "b.beam.yaml", "b.layout.yaml", "--into", "out")
    assert "bent-up bars: their inclined lengths are counted for neither bending nor" in ran.out
    listed = bramble("bars", "out/BU1", "--format", "csv")
    assert listed.status == 0
    heads, *lines = (bramble.folder / "out/BU1/BU1.bars.csv").read_text().splitlines()
    assert heads.startswith("mark,what,size,number,shape,A [mm],B [mm],C [mm],D [mm],mandrel [mm]")
    assert next(v for v in lines if v.startswith("02")).split(",")[4:9] == [
        "26",
        "4860.0",
        "613.8",
        "3416.0",
        "454.0",
    ]
    assert bramble("draw", "out/BU1", "--format", "dxf,svg").status == 0
    assert bramble("at", "out/BU1", "7m").out.count("02") >= 1
    (bramble.folder / "BU1").mkdir()
    bramble.write("BU1/BU1.layout.yaml", BARS)
    assert bramble("design", "b.beam.yaml", "--fresh").status in (0, 1)
    kept = (bramble.folder / "BU1/BU1.layout.yaml").read_text()
    assert (
        "from: -0.11 m, to: 8.6 m, ends: [straight, straight], bent_up: {right: 4.75 m}, held: true" in kept
    )
    assert bramble("check", "b.beam.yaml").status in (0, 1)


@pytest.mark.parametrize(
    ("old", "new", "text"),
    [
        ("face: bottom, layer: 1, count: 1", "face: top, layer: 1, count: 1", "a bar of the top is not bent up"),
        ("{right: 4.75 m}", "{angle: 45}", "neither 'left' nor 'right' says where the bar leaves the bottom"),
        ("{right: 4.75 m}", "{right: 9.75 m}", "does not lie between 'from', -0.11 m, and 'to', 8.6 m, from left to right"),
        ("{right: 4.75 m}", "{left: 5 m, right: 4.75 m}", "from left to right"),
        ("{right: 4.75 m}", "{right: 4.75 m, angle: 20}", "30"),
        ("{right: 4.75 m}", "{right: 4.75 m}, ends: [straight, lap]", "an end at the top is not lapped with a bottom bar"),
        ("{right: 4.75 m}", "{right: 8.4 m}", "bar 02: bent up at 8.4 m it reaches the top at"),
        ("{right: 4.75 m}", "{right: 4.75 m, sideways: 1}", "sideways"),
    ],
)  # fmt: skip
def test_what_cannot_be_bent_so_is_a_fault(old, new, text, bramble):
    bramble.write("b.beam.yaml", FILE)
    bramble.write("b.layout.yaml", BARS.replace(old, new, 1))
    ran = bramble("check", "b.beam.yaml", "b.layout.yaml", "--into", "out")
    assert ran.status == 2
    assert text in " ".join(ran.err.split())
    assert not (bramble.folder / "out").exists()


def test_a_bar_that_never_reaches_the_top_is_named():
    beam = two_spans()
    with pytest.raises(LayoutError, match="bar 02: bent up at"):
        ub.check(beam, layout(beam, bent(end=5000.0)))


def test_what_shows_a_result_has_the_parts_and_the_line():
    beam = two_spans()
    model = result_model(ub.check(beam, layout(beam, bent())))
    bar = next(b for b in model.bars if b.mark == "02")
    assert [(p.face, p.start_mm, p.end_mm) for p in in_faces([bar])] == [
        ("bottom", -120.0, 4750.0),
        ("top", 5204.0, 8600.0),
    ]
    corners = line_of(model.beam.spans, bar, bar.start_mm, bar.end_mm)
    assert (4750.0, 502.0) in corners
    assert (5204.0, 48.0) in corners
