"""Bars of the slab over supports: what they add to hogging, how they develop, and what a design makes of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import upright_bramble as ub
from plain_beams import beam
from upright_bramble.beam import Bar, Beam, Layout, SlabBars, StirrupZone

FILE = """bramble: 1
beam: Boathouse floor, line 4
mark: BF4
code: en1992-1-1
units: si
concrete: {grade: C30/37}
reinforcement: {bars: B500B}
cover: {top: 30, bottom: 30, sides: 30}
profiles:
  p: {shape: T, depth: 550, width: 300, flange: {thickness: 160, gap_left: 3.2 m, gap_right: 3.2 m, slab_bars: SLAB}}
line:
  - {support: A, width: 300}
  - {span: 7.0 m, profile: p}
  - {support: B, width: 300}
  - {span: 6.0 m, profile: p}
  - {support: C, width: 300}
actions:
  - {name: structure, kind: permanent, self_weight: true, loads: [{line: 16}]}
  - {name: boats, kind: imposed, category: B, loads: [{line: 15}]}
"""
MESH = "{top: 393 mm2/m, size: 10}"


def floor(
    slab: str = MESH,
    code: str = "en1992-1-1",
    materials: tuple[str, str] = ("{grade: C30/37}", "{bars: B500B}"),
) -> Beam:
    text = FILE.replace("en1992-1-1", code).replace("{grade: C30/37}", materials[0])
    text = text.replace("{bars: B500B}", materials[1])
    if not code.startswith("en"):
        text = text.replace("category: B", "category: occupied")
    return beam(text.replace(", slab_bars: SLAB", f", slab_bars: {slab}" if slab else ""))


def layout(described: Beam, *more: Bar, size: str = "16", tie: str = "8") -> Layout:
    low, high = described.ends[0] + 30.0, described.ends[1] - 30.0
    bars = [
        Bar("01", "bottom", 1, 4, size, low, high),
        Bar("02", "top", 1, 4, size, low, high),
        *more,
    ]
    zones = [StirrupZone("20", tie, 2, s.start + 200.0, s.end - 200.0, 150.0) for s in described.spans]
    return Layout(tuple(bars), tuple(zones))


def test_they_resist_hogging_as_bars_of_the_beam_at_their_level_would():
    """Inside the spans, where both are anchored: the same moment as with so much more steel level with the top bars; sagging is not
    changed by them at all."""
    with_slab, without = floor(), floor("")
    ours, plain = (ub.check(b, layout(b)) for b in (with_slab, without))
    x, span = ours.forces.stations.x, ours.forces.stations.span
    inner = (x > 1000.0) & (x < 12000.0)
    beside = ours.forces.stations.sections.flange_width - 300.0
    area = ours.facts.placed.slab.anchored
    assert np.allclose(area[inner], 0.393 * beside[inner])
    assert np.allclose(ours.curves.moment_positive, plain.curves.moment_positive)
    over = int(np.abs(x - 6850.0).argmin())
    low, high = without.ends[0] + 30.0, without.ends[1] - 30.0
    count = area[over] / (np.pi * 25.0)
    level = Bar("03", "top", 1, 1, "10", low, high, axis=30.0 + 8.0 + 5.0)
    more = [
        ub.check(without, layout(without, replace(level, count=n))).curves.moment_negative[over]
        for n in (3, 4)
    ]
    share = count - 3.0
    assert 0.0 < share < 1.0
    assert ours.curves.moment_negative[over] == pytest.approx(
        (1.0 - share) * more[0] + share * more[1], rel=1e-3
    )
    assert span[over] == 0


def test_they_develop_from_the_ends_of_the_beam():
    """Straight from the cover: at the face of an end support by the share of their anchorage that lies behind it."""
    described = floor()
    result = ub.check(described, layout(described))
    x, slab = result.forces.stations.x, result.facts.placed.slab
    i = int(np.abs(x - 150.0).argmin())
    # (8.3) of EN 1992-1-1 with good bond: f_ctd 1.351, f_bd 3.04, l_b,rqd = 10/4 434.8/3.04 = 357.4 mm
    share = slab.anchored[i] / slab.present[i]
    assert share == pytest.approx(270.0 / 357.4, rel=1e-3)
    j = int(np.abs(x - (12850.0)).argmin())
    assert slab.anchored[j] / slab.present[j] == pytest.approx(share, rel=1e-6)


def test_where_the_slab_beside_has_none_they_end():
    described = floor()
    bare = replace(
        described.spans[1].profile, flange=replace(described.spans[1].profile.flange, slab_bars=None)
    )
    described = replace(described, spans=(described.spans[0], replace(described.spans[1], profile=bare)))
    slab = ub.check(described, layout(described)).facts.placed.slab
    at = ub.check(described, layout(described)).forces.stations
    first = at.of(0)
    assert slab.anchored[first][-1] == 0.0
    assert slab.anchored[first].max() > 500.0
    assert not slab.present[at.of(1)].any()


def test_half_as_much_beside_carries_half_over():
    described = floor()
    profile = described.spans[1].profile
    half = replace(profile, flange=replace(profile.flange, slab_bars=SlabBars(0.1965, "10")))
    described = replace(described, spans=(described.spans[0], replace(described.spans[1], profile=half)))
    result = ub.check(described, layout(described))
    slab, at = result.facts.placed.slab, result.forces.stations
    last = at.of(0).stop - 1
    assert slab.anchored[last] == pytest.approx(0.5 * slab.present[last])
    assert slab.anchored[at.of(1).start] == pytest.approx(slab.present[at.of(1).start])


def test_aci_counts_them_in_a_tenth_of_the_clear_span():
    """24.3.4: the width that tension bars are spread over."""
    described = floor("{top: 393 mm2/m, size: 10}", "aci318m-19", ("{strength: 28}", "{yield: 420}"))
    result = ub.check(described, layout(described, tie="10"))
    at, slab = result.forces.stations, result.facts.placed.slab
    middle = int(np.abs(at.x - 3500.0).argmin())
    assert slab.present[middle] == pytest.approx(0.393 * (670.0 - 300.0))


def test_their_force_passes_through_the_flange():
    """The shear between web and flange in tension (6.2.4) has the slab's bars beside the web on its wider side."""
    described = floor()
    some = {c.id: c for c in ub.check(described, layout(described)).checks}
    none = {c.id: c for c in ub.check(floor(""), layout(floor(""))).checks}
    assert "flange.crushing-tension.1" in some
    assert "flange.crushing-tension.1" not in none
    twice = floor("{top: 786 mm2/m, size: 10}")
    more = {c.id: c for c in ub.check(twice, layout(twice)).checks}
    assert more["flange.crushing-tension.1"].demand > 1.2 * some["flange.crushing-tension.1"].demand


def test_a_design_takes_them_off_its_top_bars():
    with_slab, without = ub.design(floor()), ub.design(floor(""))
    assert (with_slab.status, without.status) == ("pass", "pass")

    def top_steel(result: ub.Result) -> float:
        return sum(i.mass for i in result.bars if i.bar.face == "top")

    assert top_steel(with_slab) < 0.9 * top_steel(without)
    note = next(m.text for m in with_slab.messages if m.text.startswith("slab bars within"))
    assert "are counted on in hogging" in note
    assert not any(m.text.startswith("slab bars within") for m in without.messages)
    assert ub.check(floor(""), with_slab.layout).status == "fail"  # it is these bars that carry it


@pytest.mark.slow
@settings(max_examples=10)
@given(st.floats(50.0, 1200.0), st.sampled_from(["8", "10", "12"]), st.floats(40.0, 110.0))
def test_more_of_them_never_takes_resistance_away(area, size, depth):
    plain = floor("")
    described = floor(f"{{top: {area:.0f} mm2/m, size: {size}, depth: {depth:.0f}}}")
    ours, without = (ub.check(b, layout(b)) for b in (described, plain))
    assert (ours.curves.moment_negative <= without.curves.moment_negative + 1e3).all()
    assert np.allclose(ours.curves.moment_positive, without.curves.moment_positive)
    ids = [{c.id: c for c in r.checks} for r in (ours, without)]
    assert ids[0]["minimum.top.B"].resistance > ids[1]["minimum.top.B"].resistance
    assert (
        ids[0]["ductility.hogging.B"].demand > ids[1]["ductility.hogging.B"].demand
    )  # a deeper neutral axis


@pytest.mark.parametrize(
    ("slab", "text"),
    [
        ("{top: 393 mm2/m}", "profiles.p.flange.slab_bars.size"),
        ("{top: 393 mm2/m, size: 11}", "'11' is not a valid bar size"),
        ("{top: 393 mm2/m, size: 10, depth: 200}", "is no less than the thickness of 160 mm"),
        ("{top: 393 mm, size: 10}", "'393 mm' is a length"),
        ("{top: 393 mm2/m, size: 10, bottom: 100}", "bottom"),
    ],
)
def test_what_no_slab_has_is_a_fault(slab, text, bramble):
    bramble.write("b.beam.yaml", FILE.replace("SLAB", slab))
    ran = bramble("design", "b.beam.yaml")
    assert ran.status == 2
    assert text in " ".join(ran.err.split())


def test_no_flange_below_is_a_slab(bramble):
    text = FILE.replace("shape: T", "shape: inverted T").replace(
        "gap_left: 3.2 m, gap_right: 3.2 m", "width: 900"
    )
    bramble.write("b.beam.yaml", text.replace("SLAB", MESH))
    ran = bramble("forces", "b.beam.yaml")
    assert ran.status == 2
    assert "the flange below of an inverted T is no slab over the supports" in " ".join(ran.err.split())


def test_what_slab_bars_take_of_the_force_in_a_flange():
    """Beside the web lie half of the slab's bars; the web's own four do not. Half as many bars take less than half of
    the shear."""
    stress, share = [], []
    for area in (393.0, 196.5):
        described = floor(f"{{top: {area} mm2/m, size: 10}}")
        result = ub.check(described, layout(described))
        check = next(c for c in result.checks if c.id == "flange.crushing-tension.1")
        slab = float(result.facts.placed.slab.present[check.station])
        own = 4 * np.pi * 16.0**2 / 4.0
        stress.append(check.demand * float(result.facts.strength.d_top[check.station]))
        share.append(0.5 * slab / (own + slab))
    assert share[1] < 0.7 * share[0]
    assert stress[0] / stress[1] == pytest.approx(share[0] / share[1], rel=0.01)


def test_the_wider_side_of_a_flange_takes_its_share_of_the_slab_bars():
    """1.6 m on one side and 0.4 m on the other beside 1.6 m on both: four fifths of the slab's bars, and a half."""
    stress, share = [], []
    for right in (400.0, 1600.0):
        described = floor()
        spans = tuple(
            replace(
                s,
                profile=replace(s.profile, flange=replace(s.profile.flange, left=1600.0, right=right)),
                reach=None,
            )
            for s in described.spans
        )
        described = replace(described, spans=spans)
        result = ub.check(described, layout(described))
        check = next(c for c in result.checks if c.id == "flange.crushing-tension.1")
        slab = float(result.facts.placed.slab.present[check.station])
        own = 4 * np.pi * 16.0**2 / 4.0
        lever, most = result.facts.strength.d_top[check.station], -result.forces.design.moment_min.min()
        stress.append(check.demand * float(lever / most))  # the narrower slab weighs less
        share.append(1600.0 / (1600.0 + right) * slab / (own + slab))
    assert share[0] > 1.3 * share[1]
    assert stress[0] / stress[1] == pytest.approx(share[0] / share[1], rel=0.02)
