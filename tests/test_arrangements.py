"""Beams of any outline, bars of the whole beam chosen together, forces near supports; designs judged by a path of their own."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

import yaml_beams
from upright_bramble.beam import Bar, Concrete, Detailing, Layout, Load, Steel, StirrupZone
from upright_bramble.codes import get_code
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.pipeline import run_check, run_design
from upright_bramble.proportion.candidates import Candidates, Run
from upright_bramble.proportion.choice import Weighed
from upright_bramble.proportion.together import together
from upright_bramble.proportion.zoning import Room, permitted_of, zones_of
from upright_bramble.section.outline import parted, polygon
from upright_bramble.section.strength import Block, OutlineBlock, bending_resistance, required_steel
from upright_bramble.verify import workings
from yaml_beams import line, uniform

EN, US, SI = (get_code(c) for c in ("en1992-1-1", "aci318-19", "aci318m-19"))


def profiled(profile: str):
    text = yaml_beams.SIMPLE.replace("{shape: rectangle, depth: 500, width: 300}", profile)
    return beam_from(parse_yaml(text, "x.beam.yaml"))


def test_an_outline_is_the_same_beam_as_the_shape_it_draws():
    """A rectangle drawn by its corners gives the same bars, ratios, weight and creep."""
    a = run_design(profiled("{shape: rectangle, depth: 500, width: 300}")).result
    b = run_design(profiled("{shape: polygon, outline: [[10, 40], [310, 40], [310, 540], [10, 540]]}")).result
    assert [(c.id, pytest.approx(c.ratio, rel=1e-6)) for c in a.checks] == [(c.id, c.ratio) for c in b.checks]
    assert a.layout == b.layout
    for key in ("concrete_m3", "formwork_m2", "steel_kg"):
        assert a.quantities[key] == pytest.approx(b.quantities[key], rel=1e-9)


def test_a_trapezoid_drawn_by_its_corners_bends_as_one():
    a = run_design(profiled("{shape: trapezoid, depth: 500, width: 420, foot: 300}")).result
    b = run_check(profiled("{shape: polygon, outline: [[0, 0], [420, 0], [360, 500], [60, 500]]}"), a.layout)
    # bars have a little more room in the polygon, whose width is known where they lie: they are anchored in a little less length
    for ours, theirs in (
        (a.curves.moment_positive, b.curves.moment_positive),
        (-a.curves.moment_negative, -b.curves.moment_negative),
    ):
        assert (ours <= theirs * (1.0 + 1e-9)).all()
        assert ours == pytest.approx(theirs, rel=0.03)
        assert float(ours.max()) == pytest.approx(float(theirs.max()), rel=1e-9)
    # stirrups and shear have the width between the stirrup's legs, which is a little more than at the very bottom
    assert (a.curves.shear_concrete <= b.curves.shear_concrete + 1e-6).all()


def test_outlines_that_make_no_beam_are_told(bramble):
    for outline, words in (
        ("[[0, 0], [300, 0], [0, 500], [300, 500]]", "cross"),
        (
            "[[0, 0], [600, 0], [600, 500], [450, 500], [450, 100], [150, 100], [150, 500], [0, 500]]",
            "two pieces",
        ),
        ("[[0, 0], [300, 0], [150, 500]]", "no room for bars"),
    ):
        profile = f"{{shape: polygon, outline: {outline}}}"
        bramble.write(
            "x.beam.yaml", yaml_beams.SIMPLE.replace("{shape: rectangle, depth: 500, width: 300}", profile)
        )
        ran = bramble("design", "x.beam.yaml")
        assert ran.status == 2
        assert "profiles.p.outline" in ran.err
        assert words in ran.err
    assert not parted([(0.0, 0.0), (300.0, 0.0), (200.0, 500.0)])
    slab = [(0.0, 0.0), (900.0, 0.0), (900.0, 150.0), (800.0, 150.0), (800.0, 600.0), (600.0, 600.0)]
    webs = [
        *slab,
        (600.0, 150.0),
        (300.0, 150.0),
        (300.0, 600.0),
        (100.0, 600.0),
        (100.0, 150.0),
        (0.0, 150.0),
    ]
    assert parted(webs)  # a slab on two webs stands in two pieces below it
    assert not parted([*slab[:4], (800.0, 600.0), (100.0, 600.0), (100.0, 150.0), (0.0, 150.0)])


@given(
    st.floats(0.02, 0.45),
    st.floats(200.0, 500.0),
    st.floats(1.0, 300.0),
    st.floats(60.0, 150.0),
    st.floats(450.0, 900.0),
)
def test_steel_for_an_outline_is_that_of_the_block_and_verifies(mu, b, out, t, h):
    """A T drawn as an outline asks for the steel of the closed form; any outline's steel resists the moment."""
    law, bars = EN.materials.concrete_law(Concrete(30.0)), EN.materials.steel_law(Steel(500.0))
    d, d_2, limit = np.array([0.9 * h]), np.array([45.0]), 0.448
    a, c = 0.5 * b, 0.5 * b + out
    corners = [(-c, 0.0), (c, 0.0), (c, t), (a, t), (a, h), (-a, h), (-a, t), (-c, t)]
    one = np.ones(1)
    moment = mu * b * d**2 * law.stress
    closed = required_steel(moment, Block(b * one, (b + 2 * out) * one, t * one), d, d_2, law, bars, limit)
    drawn = required_steel(moment, OutlineBlock(polygon(corners)), d, d_2, law, bars, limit)
    assert drawn[0][0] == pytest.approx(closed[0][0], rel=1e-6)
    keel = polygon([(-b, 0.0), (b, 0.0), (b / 2, 0.4 * h), (b / 2.5, h), (-b / 2.5, h), (-b / 2, 0.4 * h)])
    tension, compression, _ = required_steel(moment, OutlineBlock(keel), d, d_2, law, bars, limit)
    assume(np.isfinite(tension[0]))
    result = bending_resistance(
        keel, np.array([[tension[0], compression[0]]]), np.array([[d[0], d_2[0]]]), law, bars
    )
    assert 0.97 <= moment[0] / result.moment[0] <= 1.0 + 1e-6


def weighed(costs, through, extra) -> Weighed:
    n = len(costs)
    one = np.ones(n)
    c = Candidates(list(through), list(extra), one, 2.0 * one, 0.0 * one, one, one)
    nothing = np.zeros((n, 1))
    return Weighed(Run("bottom", np.ones(1, dtype=bool), (), 0.0, 1.0, 1.0), (0, 0), c, nothing + 1.0, nothing, nothing > 0.0,
                   {"steel": np.array(costs)}, np.isfinite(costs))  # fmt: skip


SIZES = ("12", "16", "20", "25")
GROUPS = st.lists(
    st.tuples(st.floats(1.0, 60.0), st.sampled_from(SIZES), st.sampled_from(SIZES)), min_size=1, max_size=5
)


@given(st.lists(GROUPS, min_size=1, max_size=4), st.sampled_from([frozenset(), frozenset({"20"})]))
def test_what_is_taken_together_is_the_cheapest_of_all(runs, held):
    """Against every arrangement written out."""
    beam = line([5000.0], uniform(1, [5000.0], 10.0))
    tables = [weighed([c for c, _, _ in run], [a for _, a, _ in run], [b for _, _, b in run]) for run in runs]
    taken = together(beam, EN, tables, held)
    rate = beam.detailing.rates.variety

    def sizes(picked) -> float:
        """Each by its rate; more than two a face, or three in the beam, only where nothing else can be."""
        used, faces = held.union(*(s for _, s in picked)), {}
        for face, own in picked:
            faces[face] = faces.get(face, frozenset()) | own
        over = max(len(used) - 3, 0) - max(len(held) - 3, 0) + sum(max(len(v) - 2, 0) for v in faces.values())
        return rate * (len(used) - len(held)) + 1000.0 * over

    def price(picks) -> float:
        picked = [(t.run.face, t.sizes[i]) for t, i in zip(tables, picks, strict=True)]
        return sum(float(t.cost[i]) for t, i in zip(tables, picks, strict=True)) + sizes(picked)

    every = [price(p) for p in itertools.product(*(range(len(run)) for run in runs))]
    chosen = [
        (t.run.face, frozenset({c.size, c.extra_size})) for t, c in zip(tables, taken.choices, strict=True)
    ]
    assert sum(c.cost for c in taken.choices) + sizes(chosen) == pytest.approx(min(every), abs=1e-9)
    assert taken.weighed == len(every)


def test_a_row_of_extra_bars_stops_in_two_steps_where_that_is_cheaper():
    """Free marks make it worth while, dear ones do not; and it saves steel."""
    lengths = [9000.0, 9000.0]
    beam = line(lengths, uniform(2, lengths, 30.0), live=uniform(2, lengths, 15.0), depth=700.0, width=400.0)

    def designed(mark: float):
        rates = replace(beam.detailing.rates, mark=mark)
        return run_design(replace(beam, detailing=replace(beam.detailing, rates=rates))).result

    free, dear = designed(0.0), designed(200.0)
    assert len(free.layout.bars) > len(dear.layout.bars)
    assert free.quantities["steel_kg"] < dear.quantities["steel_kg"]
    assert "fail" not in (free.status, dear.status)


def test_a_short_need_of_close_stirrups_does_not_close_up_the_whole_span():
    x = np.linspace(150.0, 5850.0, 40)
    need = np.where(x < 900.0, 2.0, np.where(x < 3000.0, 0.43, 0.30))
    zones = zones_of(
        permitted_of(x, np.minimum(157.0 / need, 470.0)),
        Room(200.0, 5800.0, (75.0, 150.0, 200.0, 300.0, 350.0, 400.0), 50.0),
        3,
    )
    places = np.concatenate([a + s * np.arange(round((b - a) / s) + 1) for a, b, s in zones])
    assert len(places) <= 32
    for x_1, x_2 in itertools.pairwise(places):
        here = need[(x >= x_1) & (x <= x_2)]
        assert 157.0 / (x_2 - x_1) >= here.max(initial=0.0) - 1e-9
    assert np.diff(places).min() == 75.0


def near_support_case():
    """A force 700 mm from the inner support's face of a two-span beam 700 deep, struts held at 45 degrees."""
    load = [Load("point", 0, 2.0e5, 2.0e5, 5550.0, 5550.0)]
    beam = line([6400.0, 7100.0], uniform(2, [6400.0, 7100.0], 8.0), live=load, depth=700.0, width=350.0)
    beam = replace(
        beam,
        code_values={"cot_theta_max": 1.0},
        actions=(beam.actions[0], replace(beam.actions[1], category="E")),
    )
    bars = tuple(
        Bar(f"{i}", face, 1, 5, "25", -120.0, 13620.0, ("bend", "bend"), (400.0, 400.0))
        for i, face in enumerate(("bottom", "top"))
    )
    return beam, bars


def test_a_force_near_a_support_counts_in_part():
    """EN 1992-1-1 6.2.3(8) by hand: beta = 700/(2 d), against the stirrups of the middle three quarters of a_v."""
    beam, bars = near_support_case()
    wide = (
        StirrupZone("s", "10", 2, 200.0, 6200.0, 150.0),
        StirrupZone("t", "10", 2, 6600.0, 13250.0, 150.0),
    )
    result = run_check(beam, Layout(bars, wide))
    collected = next(c for c in result.checks if c.id.startswith("shear.near-support.B-left"))
    forces = result.forces
    i = int(np.flatnonzero((forces.stations.span == 0) & (np.abs(forces.stations.x - 6250.0) < 1e-6))[0])
    v = -forces.envelopes["strength"].shear_min[i]
    d = 700.0 - 30.0 - 10.0 - 12.5
    beta = 700.0 / (2.0 * d)
    # of the shear only the force's own part is reduced, no more than in a simple span: P (1 - a/L)
    own = 1.5 * 2.0e5 * 5550.0 / 6400.0
    assert collected.demand == pytest.approx(v - (1.0 - beta) * own, rel=1e-9)
    places = 200.0 + 150.0 * np.arange(41)
    count = int(((places >= 6250.0 - 612.5) & (places <= 6250.0 - 87.5)).sum())
    assert collected.resistance == pytest.approx(count * 2.0 * np.pi * 25.0 * 500.0 / 1.15, rel=1e-9)
    assert collected.clause == "6.2.3(8)"
    derived = next(w for w in workings(result) if w.check == collected.id)
    values = [line.value for line in derived.lines]
    assert pytest.approx(collected.resistance, rel=1e-6) in values  # and no number that is added as it is
    assert not {line.symbol for line in derived.lines} & {"limit"}
    assert next(c for c in result.checks if c.id == "shear.crushing.B-left").demand == pytest.approx(
        v, rel=1e-9
    )


def test_a_force_near_a_support_counts_whole_where_it_must():
    """Suspension supports and the worst spans place by place take nothing off."""
    beam, bars = near_support_case()
    ties = (
        StirrupZone("s", "10", 2, 200.0, 6200.0, 150.0),
        StirrupZone("t", "10", 2, 6600.0, 13250.0, 150.0),
    )
    supports = tuple(replace(s, direct=s.name != "B") for s in beam.supports)
    for other in (replace(beam, supports=supports), replace(beam, arrangements="every")):
        checks = run_check(other, Layout(bars, ties)).checks
        assert not any(c.id.startswith("shear.near-support") for c in checks)
        assert next(c for c in checks if c.id == "shear.stirrups.B-left").ratio > 1.0


# --- the verdict by a path of its own: fibres instead of blocks, bars ramped by hand

SLICES = 400


def fibre_moment(code, concrete, steel, width, depth, areas, depths) -> float:
    """Resistance of a rectangle by slices under the code's block, found by halving the neutral axis depth."""
    law, bars = code.materials.concrete_law(concrete), code.materials.steel_law(steel)
    y = (np.arange(SLICES) + 0.5) * depth / SLICES

    def forces(x):
        block = np.where(y < law.depth_factor * x, law.stress * width * depth / SLICES, 0.0)
        strain = law.ultimate_strain * (x - depths) / x
        stress = np.clip(bars.modulus * strain, -bars.yield_stress, bars.yield_stress) - law.stress * (
            depths < law.depth_factor * x
        )
        return block, areas * stress, strain

    low, high = 1e-3, depth
    for _ in range(60):
        x = 0.5 * (low + high)
        block, pull, strain = forces(x)
        low, high = (x, high) if block.sum() + pull.sum() < 0.0 else (low, x)
    nominal = float((block * (0.5 * depth - y)).sum() + (pull * (0.5 * depth - depths)).sum())
    return float(code.bending.resistance_factor(np.array([max(-strain.min(), 0.0)]), steel)[0]) * nominal


@pytest.mark.slow
@pytest.mark.parametrize("name", ["en1992-1-1", "aci318-19", "aci318m-19"])
@settings(max_examples=3)
@given(
    st.lists(st.floats(4000.0, 9000.0), min_size=1, max_size=3),
    st.floats(10.0, 40.0),
    st.floats(0.0, 30.0),
    st.floats(400.0, 800.0),
)
def test_no_passing_beam_lacks_strength_anywhere(name, lengths, dead, live, depth):
    """Random designs of both codes: bars placed and ramped here by the written rules, sections by slices."""
    code = get_code(name)
    metric = name != "aci318-19"
    sizes = {
        "en1992-1-1": ("12", "16", "20", "25"),
        "aci318-19": ("5", "6", "7", "8"),
        "aci318m-19": ("16", "19", "22", "25"),
    }[name]
    ties = {"en1992-1-1": ("8", "10"), "aci318-19": ("3", "4"), "aci318m-19": ("10", "13")}[name]
    beam = line(lengths, uniform(len(lengths), lengths, dead), live=uniform(len(lengths), lengths, live), depth=25.0 * round(depth / 25.0),
                width=350.0, code=name, bars=Steel(500.0 if name[0] == "e" else 420.0), stirrups=Steel(420.0), detailing=Detailing(sizes, ties))  # fmt: skip
    beam = replace(
        beam,
        actions=(beam.actions[0], replace(beam.actions[1], category="B" if name[0] == "e" else "heavy"))
        if live
        else beam.actions,
    )
    result = run_design(beam).result
    assume(result is not None and result.status != "fail")
    at, tie = result.forces.stations, max(code.sizes[z.size].diameter for z in result.layout.stirrups)
    raw = result.forces.design
    for i in range(0, len(at), 3):
        x = float(at.x[i])
        inside = beam.design_range[0] <= x <= beam.design_range[1] and not any(
            abs(x - s.x) < 0.5 * s.width for s in beam.supports
        )
        if not inside:
            continue
        for face, demand in (("bottom", raw.moment_max[i]), ("top", -raw.moment_min[i])):
            if demand <= 1e6:
                continue
            areas, depths = [], []
            for bar in result.layout.bars:
                if bar.start <= x <= bar.end:
                    phi = code.sizes[bar.size].diameter
                    share = ramp(code, beam, bar, phi, x, beam.spans[0].depths(0.0), tie)
                    areas.append(bar.count * code.sizes[bar.size].area * share)
                    from_face = (
                        30.0
                        + tie
                        + 0.5 * phi
                        + (bar.layer - 1) * (phi + code.detailing.clear_spacing(phi, 20.0))
                    )
                    depths.append(beam.spans[0].depths(0.0) - from_face if bar.face == face else from_face)
            collected = fibre_moment(
                code,
                beam.concrete,
                beam.bars,
                350.0,
                beam.spans[0].depths(0.0),
                np.array(areas),
                np.array(depths),
            )
            assert demand <= 1.005 * collected, (face, x, demand, collected, metric)


def ramp(code, beam, bar, phi, x, h, tie) -> float:
    """Share of its yield that a bar has at x: its length to the nearer end over what full yield takes; lapped ends count whole."""
    height = 30.0 + tie + 0.5 * phi
    full = float(
        code.bond.anchorage(beam.concrete, beam.bars, phi, height if bar.face == "bottom" else h - height, h)
    )
    shares = [1.0]
    for kind, leg, length in zip(bar.ends, bar.legs, (x - bar.start, bar.end - x), strict=True):
        if kind == "straight":
            shares.append(length / full)
        elif kind != "lap":
            hook = code.bond.hook(beam.concrete, beam.bars, phi)
            shares.append(
                length / float(hook)
                if hook is not None
                else (length + max(leg, code.detailing.minimum_leg(phi, kind))) / full
            )
    return min(shares)
