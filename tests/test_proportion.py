"""What is proposed: bars that can be bought, bent and placed, chosen by their price."""

from __future__ import annotations

import itertools
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import plain_beams
import yaml_beams
from upright_bramble.analysis import analyse
from upright_bramble.beam import Bar, Concrete, Cover, Detailing, Layout, Load, Rates
from upright_bramble.codes import get_code
from upright_bramble.files.beam_file import beam_from
from upright_bramble.files.yaml_source import parse_yaml
from upright_bramble.pipeline import code_of, run_check, run_design
from upright_bramble.proportion import Needs, NoProposal, propose
from upright_bramble.proportion.carried import carried_on
from upright_bramble.proportion.choice import weigh
from upright_bramble.proportion.curtail import region
from upright_bramble.proportion.demands import demand_of, runs_of
from upright_bramble.proportion.start import start_of
from upright_bramble.proportion.stirrups import minimum_spacing
from upright_bramble.proportion.stock import cheapest_cuts
from upright_bramble.verify.placement import place
from upright_bramble.verify.strength import stirrup_positions
from yaml_beams import line, uniform

CODE = get_code("en1992-1-1")


@st.composite
def beams(draw):
    lengths = draw(st.lists(st.floats(3000.0, 9500.0), min_size=1, max_size=4))
    if draw(st.booleans()):
        lengths.append(draw(st.floats(800.0, 2200.0)))
        right_free = True
    else:
        right_free = False
    if len(lengths) == 2 and right_free:
        lengths.insert(0, 5000.0)
    g, q, n = draw(st.floats(8.0, 30.0)), draw(st.floats(0.0, 20.0)), len(lengths)
    depth = 25.0 * round(max(lengths) / 12.0 / 25.0)
    return line(
        lengths,
        uniform(n, lengths, g),
        live=uniform(n, lengths, q),
        right_free=right_free,
        depth=max(depth, 350.0),
        width=350.0,
    )


def proposed(beam, needs: Needs | None = None) -> Layout:
    return propose(beam, CODE, analyse(beam, CODE), needs or Needs()).layout


@pytest.mark.slow
@given(beams())
def test_proposals_can_be_built(beam):
    layout = proposed(beam)
    low, high = beam.ends
    assert len(set(layout.names.values())) == len(layout.entries)
    pieces = {
        (b.size, b.end - b.start, tuple(sorted(zip(b.ends, b.legs, strict=True)))): b.mark
        for b in layout.bars
        if "lap" not in b.ends
    }
    assert len(set(pieces.values())) == len(pieces)
    for face in ("bottom", "top"):
        own = [b for b in layout.bars if b.face == face]
        sizes = {CODE.sizes[b.size].diameter for b in own}
        assert len(sizes) <= 2
    assert len({b.size for b in layout.bars}) <= 3
    for b in layout.bars:
        assert b.start == int(b.start)
        assert b.end == int(b.end)
        assert low + beam.cover.sides - 1.0 <= b.start < b.end <= high - beam.cover.sides + 1.0
        assert b.end - b.start + sum(b.legs) <= beam.detailing.stock_length
        assert b.layer in (1, 2)
    for z in layout.stirrups:
        assert z.spacing % 25 == 0 or sum(o.start < z.end and o.end > z.start for o in layout.stirrups) == 1
        assert z.spacing >= 50
        assert z.start == int(z.start)


@pytest.mark.slow
@given(beams())
def test_stirrups_leave_no_gap(beam):
    """From face to face no two stirrups stand further apart than 0.75 d, and the first within 60 mm of the face."""
    layout = proposed(beam)
    places, _, legs, _ = stirrup_positions(CODE, layout)
    assert (legs >= 2).all()
    for i, span in enumerate(beam.spans):
        low, high = beam.clear(i)
        own = places[(places >= low) & (places <= high)]
        if span.left is not None:
            assert own[0] - low <= 60.0
        assert np.diff(own).max(initial=0.0) <= 0.75 * (span.profile.depth - 40.0)
        assert np.diff(own).min(initial=1e9) > 0.0
        assert high - own[-1] <= 0.75 * span.profile.depth


@pytest.mark.slow
@given(beams())
def test_laps_are_long_enough(beam):
    layout = proposed(beam)
    placed = place(beam, CODE, layout, analyse(beam, CODE).stations)
    marked = sum(b.ends.count("lap") for b in layout.bars)
    assert marked == 2 * len(placed.laps)
    for lap in placed.laps:
        assert lap.end - lap.start >= lap.required - 1e-6


@pytest.mark.slow
@given(beams())
def test_corner_bars_run_through(beam):
    """At every station at least two bars in the first row of each face; at the bottom but for a step to both sides of an inner
    support's axis, where the bars of two spans do not meet end to end."""
    layout = proposed(beam)
    at = analyse(beam, CODE).stations
    low, high = beam.design_range
    for face in ("bottom", "top"):
        count = np.zeros(len(at))
        for b in layout.bars:
            if b.face == face and b.layer == 1:
                count += np.where((at.x >= b.start) & (at.x <= b.end), b.count, 0)
        axis = (
            np.abs(at.x[:, None] - np.array([s.x for s in beam.supports])).min(axis=1) <= beam.detailing.step
        )
        judged = (at.x >= low) & (at.x <= high) & ~(axis & (face == "bottom"))
        assert count[judged].min() >= 2


def test_dear_fixing_asks_for_fewer_bars():
    beam = line(
        [7000.0, 7000.0], uniform(2, [7000.0] * 2, 30.0), live=uniform(2, [7000.0] * 2, 20.0), depth=600.0
    )

    def number(bar: float) -> int:
        dear = replace(beam, detailing=replace(beam.detailing, rates=Rates(bar=bar)))
        return sum(b.count for b in proposed(dear).bars)

    assert number(60.0) < number(0.0)


def test_reserve_is_kept_where_steel_can_keep_it():
    beam = line([6000.0], uniform(1, [6000.0], 25.0), live=uniform(1, [6000.0], 15.0))
    for reserve in (0.0, 0.2):
        kept = replace(beam, detailing=replace(beam.detailing, reserve=reserve))
        designed = run_design(kept).result
        assert designed is not None
        worst = max(c.ratio for c in designed.checks if c.id.startswith("bending.sagging"))
        assert worst <= 1.0 - reserve + 1e-6


def test_wide_beams_get_more_legs():
    lengths = [6000.0]
    narrow, wide = (
        proposed(line(lengths, uniform(1, lengths, 30.0), width=w)).stirrups[0].legs for w in (300.0, 1100.0)
    )
    assert narrow == 2
    assert wide == 6  # legs no further apart than 0.75 d, in pairs


def test_heavy_shear_gets_tight_zones_at_the_supports():
    lengths = [6000.0]
    beam = line(lengths, uniform(1, lengths, 60.0), live=uniform(1, lengths, 40.0), depth=700.0)
    zones = proposed(beam).stirrups
    assert len(zones) == 3
    assert zones[0].spacing < zones[1].spacing > zones[2].spacing
    assert zones[0].spacing == zones[2].spacing  # a symmetrical beam
    near = replace(
        beam, actions=(replace(beam.actions[0], loads=(Load("point", 0, 4e5, 4e5, 1000.0, 1000.0),)),)
    )
    left, *_, right = proposed(near).stirrups
    assert left.spacing < right.spacing


def test_stirrups_are_the_cheapest_that_carry():
    """Thicker ones where they are fewer by so much that steel and fixing cost at least a tenth less."""
    lengths, taken = [8000.0], set()

    def cost(beam) -> float:
        rates, each = beam.detailing.rates, 2.0 * (beam.spans[0].deepest + beam.spans[0].narrowest)
        return sum(
            z.count * (each * CODE.sizes[z.size].area * 7850e-9 * rates.steel + rates.stirrup)
            for z in proposed(beam).stirrups
        )

    for load in (6.0, 10.0, 14.0, 18.0):
        for width in (300.0, 400.0):
            loads = uniform(1, lengths, load)
            beam = line(lengths, loads, live=loads, depth=700.0, width=width)
            (size,) = {z.size for z in proposed(beam).stirrups}
            one = {
                v: cost(replace(beam, detailing=replace(beam.detailing, stirrup_bars=(v,))))
                for v in ("8", "10")
            }
            assert cost(beam) <= 1.1 * min(one.values()) + 1e-6
            assert size == "8" or one["10"] < one["8"] / 1.09
            taken.add(size)
    assert taken == {"8", "10"}


def test_what_stands_in_the_way_is_told():
    lengths = [6000.0]
    with pytest.raises(NoProposal, match=r"do not fit into 2 rows of .*300") as heavy:
        proposed(line(lengths, uniform(1, lengths, 200.0), depth=450.0))
    assert heavy.value.face == "bottom"
    with pytest.raises(NoProposal, match=r"cover of .*10.* is too small"):
        proposed(
            line(
                lengths,
                uniform(1, lengths, 10.0),
                cover=Cover(10.0, 10.0, 10.0),
                detailing=Detailing(("32",), ("8",)),
            )
        )
    with pytest.raises(NoProposal, match="not even two bars"):
        proposed(
            line(
                lengths,
                uniform(1, lengths, 10.0),
                width=150.0,
                detailing=Detailing(("40",), ("8",)),
                cover=Cover(42.0, 42.0, 42.0),
            )
        )


def test_one_row_only():
    lengths = [7000.0]
    beam = line(lengths, uniform(1, lengths, 40.0), live=uniform(1, lengths, 20.0), width=300.0, depth=550.0)
    assert any(b.layer == 2 for b in proposed(beam).bars)
    one = replace(beam, detailing=replace(beam.detailing, layers=1))
    try:
        assert all(b.layer == 1 for b in proposed(one).bars)
    except NoProposal as error:
        assert "1 row " in str(error)


def test_doubly_reinforced():
    """Beyond the singly reinforced limit the compressed face gets bars, and stirrups hold them."""
    lengths = [6000.0]
    beam = line(
        lengths,
        uniform(1, lengths, 40.0),
        live=uniform(1, lengths, 25.0),
        depth=450.0,
        width=350.0,
        concrete=Concrete(25.0),
    )
    result = run_design(beam).result
    assert result is not None
    top = [b for b in result.layout.bars if b.face == "top"]
    assert sum(b.count * CODE.sizes[b.size].diameter ** 2 for b in top) > 2 * 16**2
    assert any(c.id.startswith("spacing.compressed") and c.ok for c in result.checks)
    assert all(c.ok for c in result.checks if c.topic in ("bending", "ductility"))


def test_held_bars_are_worked_around():
    lengths = [6000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 25.0), live=uniform(2, lengths, 15.0))
    held = Layout(
        (Bar("90", "top", 1, 2, "25", -120.0, 11500.0, ("bend", "straight"), (300.0, 0.0), True),), ()
    )
    forces = analyse(beam, CODE)
    free, around = (propose(beam, CODE, forces, Needs(), h).layout for h in (None, held))
    assert around.bars[0] == held.bars[0]

    def top(layout: Layout) -> float:
        return sum(
            b.count * CODE.sizes[b.size].diameter ** 2 * (b.end - b.start)
            for b in layout.bars
            if b.face == "top" and not b.held
        )

    assert top(around) < top(free)
    assert "90" not in [b.mark for b in around.bars[1:]]


def test_needs_ask_for_more():
    lengths = [6000.0, 5000.0]
    beam = line(lengths, uniform(2, lengths, 25.0), live=uniform(2, lengths, 15.0))
    base, more = Needs(), Needs()
    more.raise_bending("bottom", 0, 1.5)
    more.raise_shear(1, 1.6)

    def steel(layout: Layout, face: str, x: float) -> float:
        return sum(
            b.count * CODE.sizes[b.size].diameter ** 2
            for b in layout.bars
            if b.face == face and b.start <= x <= b.end
        )

    a, b = proposed(beam, base), proposed(beam, more)
    assert steel(b, "bottom", 2500.0) > 1.3 * steel(a, "bottom", 2500.0)
    right = [min(z.spacing for z in layout.stirrups if z.start > 6000.0) for layout in (a, b)]
    assert right[1] < right[0]


def test_needs_are_raised_from_what_the_forces_ask():
    """A factor once is that factor, twice its square; half way between two needs is their geometric mean."""
    needs = Needs()
    for raised, factors in (
        (lambda v: needs.raise_bending("top", 1, v), lambda: needs.bending["top", 1]),
        (lambda v: needs.raise_shear(1, v), lambda: needs.shear[1]),
        (lambda v: needs.raise_spacing(1, v), lambda: needs.spacing[1]),
    ):
        raised(1.2)
        assert factors() == pytest.approx(1.2)
        raised(1.2)
        assert factors() == pytest.approx(1.44)
    assert [round(needs.once_more("x"), 2) for _ in range(3)] == [1.0, 1.03, 1.06]
    needs.raise_through("top", 300.0)
    needs.raise_through("top", 200.0)
    needs.raise_legs("top", "20", 250.0)
    needs.raise_legs("top", "20", 200.0)
    assert needs.through == {"top": 500.0}
    assert needs.bend_legs == {("top", "20"): 250.0}
    half = needs.between(Needs())
    assert half.bending["top", 1] == pytest.approx(1.2)
    assert half.through["top"] == 250.0
    assert half.shear == needs.shear


@pytest.mark.parametrize(
    ("aggregate", "phi", "apart"),
    [(20.0, 8.0, 50.0), (32.0, 12.0, 75.0), (38.0, 2.5, 75.0), (64.0, 10.0, 100.0)],
)
def test_stirrups_leave_the_aggregate_room_in_whole_steps(aggregate, phi, apart):
    """50 mm, or the aggregate with 10 mm to spare and the stirrup itself, in steps of 25."""
    beam = line([6000.0], uniform(1, [6000.0], 20.0), concrete=Concrete(30.0, aggregate))
    assert minimum_spacing(beam, phi) == apart


def test_region_interpolates():
    x = np.array([0.0, 100.0, 200.0, 300.0, 400.0])
    needed = np.array([0.0, 0.0, 100.0, 0.0, 0.0])
    result = region(x, needed, np.full(5, 50.0), np.ones(5, dtype=bool))
    assert result == (150.0, 250.0)
    assert region(x, needed, np.full(5, 150.0), np.ones(5, dtype=bool)) is None
    # where the first station of the next zone lacks as well, both zones' bars are needed between them
    lacking, local = np.full(5, 100.0), np.full(5, 50.0)
    assert region(x, lacking, local, x < 150.0) == (0.0, 200.0)
    assert region(x, lacking, local, x > 150.0) == (100.0, 400.0)


@given(st.floats(10_000.0, 60_000.0), st.lists(st.floats(0.5, 5.0), min_size=60, max_size=60))
def test_lap_places_leave_no_piece_too_long(length, prices):
    places = np.linspace(500.0, length - 500.0, 60)
    cuts = cheapest_cuts(places, np.array(prices), 0.0, length, 1000.0, 12_000.0, (700.0, 700.0))
    edges = [0.0, *cuts, length]
    if cuts:
        assert max(b - a for a, b in itertools.pairwise(edges)) <= 12_000.0
        assert cuts == sorted(cuts)


def test_symmetrical_beam_symmetrical_stirrups(deck_design):
    lengths = [6000.0]
    zones = proposed(
        line(lengths, uniform(1, lengths, 55.0), live=uniform(1, lengths, 30.0), depth=650.0)
    ).stirrups
    assert zones[0].start - 150.0 == pytest.approx(
        5850.0 - (zones[-1].start + (zones[-1].count - 1) * zones[-1].spacing), abs=1.0
    )
    assert deck_design.quantities["steel_kg"] < 500.0  # the demo's deck, once looked at: about 90 kg/m3


def test_alternatives_have_an_extra_cost_and_say_why(bramble):
    """What came next costs more, by parts that add up; the program shows them and keeps them in the result."""
    lengths = [5000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 20.0), live=uniform(2, lengths, 15.0))
    result = run_design(beam).result
    assert result.weighed >= 50
    assert len(result.runners) >= 5
    for runner in result.runners:
        assert runner.extra_cost >= -1e-9
        assert sum(v for _, v in runner.because) == pytest.approx(runner.extra_cost, abs=0.05)
    bramble.write("s.beam.yaml", yaml_beams.SIMPLE)
    ran = bramble("design", "s.beam.yaml", "--alternatives", "3", "--no-figures")
    assert "alternatives" in ran.out
    assert bramble("check", "s.beam.yaml", "S1/S1.layout.yaml", "--json").json["alternatives"] == []


def test_limits_of_ones_own(bramble):
    """Sizes by face, one size, least and most bars, the stress in service; and a depth left to the program."""
    lengths = [5000.0, 6000.0]
    wish = Detailing(
        ("12", "16", "20", "25"),
        ("8", "10"),
        face_bars={"top": ("16",)},
        one_size=True,
        least_bars=3,
        most_bars=8,
        service_stress=260.0,
    )
    beam = line(lengths, uniform(2, lengths, 16.0), live=uniform(2, lengths, 12.0), detailing=wish)
    result = run_design(beam).result
    assert result.status != "fail", [c.id for c in result.failing]
    for face in ("bottom", "top"):
        own = [b for b in result.layout.bars if b.face == face]
        assert len({b.size for b in own}) == 1
        assert max(b.count for b in own) >= 3
    assert {b.size for b in result.layout.bars if b.face == "top"} == {"16"}
    stress = [c for c in result.checks if c.id.startswith("service-stress")]
    assert stress
    assert all(c.demand <= 260.0 for c in stress)
    bramble.write(
        "a.beam.yaml", yaml_beams.SIMPLE.replace("depth: 500, width: 300", "depth: auto, width: auto")
    )
    ran = bramble("design", "a.beam.yaml", "--no-figures")
    assert ran.status == 0
    assert "were proposed" in ran.out


STEPPED = """bramble: 1
beam: A step over a narrow wall
mark: ST1
code: is456-2000
units: si
concrete: {grade: M25}
reinforcement: {bars: Fe500}
cover: {top: 30, bottom: 30, sides: 30}
profiles:
  room: {shape: rectangle, depth: 550, width: 300}
  balcony: {shape: rectangle, depth: 400, width: 300}
line:
  - {support: A, width: 300}
  - {span: 6.2, profile: room}
  - {support: B, width: 300}
  - {span: 1.4, profile: balcony}
actions:
  - {name: floor, kind: permanent, self_weight: true, loads: [{line: 13}]}
  - {name: visitors, kind: imposed, category: general, loads: [{line: 16}]}
detailing: {main_bars: [16, 20], stirrup_bars: [8]}
"""


def test_bottom_bars_are_bent_up_in_a_support_that_is_too_narrow_for_them():
    """IS 456 26.2.3.3(a): L_d/3 past the face does not go straight into 300 mm before a step in the soffit. A bend that begins before the
    face carries nothing in."""
    beam = beam_from(parse_yaml(STEPPED, "x.beam.yaml"))
    designed = run_design(beam).result
    assert designed.status == "pass", [(c.id, c.ratio) for c in designed.failing]
    low, high = beam.clear(0)[1], beam.supports[1].x + 150.0 - 30.0
    bent = [
        k
        for k, b in enumerate(designed.layout.bars)
        if b.face == "bottom" and b.ends[1] == "bend" and low < b.end <= high
    ]
    assert bent
    share = next(c for c in designed.checks if c.id == "support-share.bottom.B-left")
    assert share.ok
    bars = list(designed.layout.bars)
    for k in bent:
        bars[k] = replace(bars[k], end=low + 60.0)
    short = run_check(beam, replace(designed.layout, bars=tuple(bars)))
    assert not next(c for c in short.checks if c.id == "support-share.bottom.B-left").ok


@pytest.mark.slow
def test_extra_bars_longer_than_stock_are_lapped():
    """Bars over two near supports, or through a long span, that 6 m of stock are too short for: in pieces, and every lap verified."""
    wishes = Detailing(("16", "20"), ("8", "10"), stock_length=6000.0)
    beam = line(
        [9000.0, 3000.0, 9000.0],
        uniform(3, [9000.0, 3000.0, 9000.0], 22.0),
        depth=600.0,
        width=350.0,
        detailing=wishes,
    )
    result = run_design(beam).result
    assert result.status == "pass", [(c.id, c.ratio) for c in result.failing]
    assert all(i.bar.end - i.bar.start + sum(i.bar.legs) <= 6000.0 + 1.0 for i in result.bars)
    laps = place(beam, CODE, result.layout, analyse(beam, CODE).stations).laps
    runs = {(b.face, b.layer) for b in result.layout.bars if "lap" in b.ends}
    assert laps
    assert {(result.layout.bars[v.first].face, result.layout.bars[v.first].layer) for v in laps} == runs
    assert sum(e == "lap" for b in result.layout.bars for e in b.ends) == 2 * len(laps)


def test_bars_of_spans_in_half_millimetres_stand_on_whole_ones():
    """Where the middle of a span is no whole number a bar that is centred there was half a millimetre off."""
    lengths = [6987.5, 7502.0]
    for live in (12.0, 18.0):
        beam = line(
            lengths, uniform(2, lengths, 16.0), live=uniform(2, lengths, live), width=350.0, depth=625.0
        )
        assert all(b.start == int(b.start) and b.end == int(b.end) for b in proposed(beam).bars)


@pytest.mark.parametrize("lengths", [[6.0], [5.0, 7.0, 6.0]])
def test_what_an_engineer_would_draw_is_among_what_is_weighed(lengths):
    """Two corner bars through, and extra bars of the same size where they do not suffice, of every size whose bond the cover suits."""
    base = {**plain_beams.EN, "profiles": {"p": {"shape": "rectangle", "depth": 600, "width": 350}}}
    described = plain_beams.beam(
        plain_beams.written(
            base, lengths, [plain_beams.dead({"line": 20}, weight=True), plain_beams.live({"line": 20})]
        )
    )
    code = code_of(described)
    forces = analyse(described, code)
    start = start_of(described, code, forces, Needs())
    for face in ("bottom", "top"):
        for run in runs_of(described, forces, face, Needs()):
            demand = demand_of(described, code, forces, run, start, Layout((), ()), 0.0)
            weighed = weigh(described, code, forces, run, demand, start.tie)
            c = weighed.candidates
            plain = [
                k
                for k, (size, extra) in enumerate(zip(c.size, c.extra, strict=True))
                if c.number[k] == 2.0 and size == extra
            ]
            assert {c.size[k] for k in plain} == {"12", "16", "20", "25"}
            in_a_row = [k for k in plain if 2.0 + weighed.total[k].max() <= 5.0]
            assert in_a_row
            assert weighed.feasible[in_a_row].all()


def test_proposed_bars_that_go_past_a_simple_end_have_their_least_anchorage_there():
    """8.6, by hand: 0.3 of 572 mm for 16 mm bars of B500 in C30/37 with good bond, whatever the concrete around them gives:
    bars with less count for nothing at the end."""
    profile = {"p": {"shape": "rectangle", "depth": 700, "width": 400}}
    loads = [plain_beams.dead({"line": 26.0}), plain_beams.live({"line": 17.3})]
    described = plain_beams.beam(
        plain_beams.written({**plain_beams.EN, "profiles": profile}, [9.5, 6.7], loads, width=500)
    )
    layout = propose(described, CODE, analyse(described, CODE), Needs()).layout
    face = 16_200.0 - 250.0
    past = [
        (b, b.end - face)
        for b in layout.bars
        if b.face == "bottom" and b.end > face and b.ends[1] == "straight"
    ]
    assert past
    for b, length in past:
        assert length >= 0.3 * CODE.sizes[b.size].diameter / 4.0 * 500.0 / 1.15 / 3.041 - 0.5


@pytest.mark.parametrize("side", [0, 1])
def test_held_laps_are_carried_on_by_pieces_that_meet_over_supports(side):
    """Three spans of 6 m, pieces of 8 m: from a lap about the first inner support to one about the other, and on to the end."""
    lengths = [6000.0] * 3
    detailing = Detailing(("16",), ("8",), stock_length=8000.0)
    beam = line(lengths, uniform(3, lengths, 20.0), detailing=detailing)
    bar = Bar("01", "bottom", 1, 2, "16", -120.0, 6450.0, ("bend", "lap"), (200.0, 0.0), True)
    if side == 0:
        bar = replace(bar, start=11_550.0, end=18_120.0, ends=("lap", "bend"), legs=(0.0, 200.0))
    pieces = sorted(carried_on(beam, CODE, (bar,)), key=lambda b: b.start)
    assert len(pieces) == 2
    near, far = pieces if side else pieces[::-1]
    overlap = (bar.end - near.start) if side else (near.end - bar.start)
    middle = 0.5 * ((near.end + far.start) if side else (near.start + far.end))
    assert overlap == pytest.approx((near.end - far.start) if side else (far.end - near.start), abs=26.0)
    assert middle == pytest.approx(12_000.0 if side else 6_000.0, abs=26.0)
    assert (far.end if side else -far.start) == pytest.approx(18_120.0 if side else 120.0)
    assert {b.count for b in pieces} == {2}
    assert max(b.end - b.start for b in pieces) <= 8000.0


@pytest.mark.parametrize(
    ("face", "width", "kind"),
    [
        ("bottom", 300.0, "bend"),
        ("bottom", 900.0, "straight"),
        ("top", 900.0, "bend"),
        ("top", 300.0, "bend"),
    ],
)
def test_what_carries_on_is_bent_at_the_top_and_where_the_last_support_is_narrow(face, width, kind):
    """16 mm bars: (8.4) asks for 571 mm in the conditions there, more than a support of 300 mm has and less than one of 900 mm."""
    lengths = [6000.0] * 2
    beam = line(lengths, uniform(2, lengths, 20.0), detailing=Detailing(("16",), ("8",)))
    last = replace(beam.supports[-1], width=width)
    beam = replace(beam, supports=(*beam.supports[:-1], last))
    bar = Bar("01", face, 1, 2, "16", -120.0, 6450.0, ("bend", "lap"), (200.0, 0.0), True)
    (piece,) = carried_on(beam, CODE, (bar,))
    assert piece.ends == ("lap", kind)
    assert (piece.legs[1] > 0.0) == (kind == "bend")
    assert piece.end == pytest.approx(12_000.0 + 0.5 * width - 30.0)
