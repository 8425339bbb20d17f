"""A house's own habits in `detailing`: every wish is kept by the design, and the design still passes its checks."""

from __future__ import annotations

import itertools

import pytest

from plain_beams import EN, SI, US, beam, dead, design, live, written
from upright_bramble.beam import lapped_pairs

BASES = {"en": EN, "si": SI, "us": US}
HEAVY = {"en": (26.0, 22.0), "si": (22.0, 16.0), "us": (1.6, 1.2)}


def wished(name: str, factor: float = 1.0, lengths: tuple[float, ...] = (6.0, 6.5), **detailing):
    base = BASES[name]
    spans = [f"{round(3.3 * v)} ft" for v in lengths] if base is US else list(lengths)
    d, q = (factor * v for v in HEAVY[name])
    width = "12 in" if base is US else 300
    category = "B" if base is EN else "occupied"
    return design(
        written(
            base,
            spans,
            [dead({"line": d}), live({"line": q}, category=category)],
            width=width,
            detailing=detailing,
        )
    )


def sizes(result, face: str, *, through: bool | None = None) -> set[str]:
    return {
        b.size
        for b in result.layout.bars
        if b.face == face and (through is None or _through(result, b) == through)
    }


def _through(result, bar) -> bool:
    """Whether a bar is, or is a piece of, one from end to end."""
    low, high = result.beam.ends
    return "lap" in bar.ends or (bar.start < low + 200.0 and bar.end > high - 200.0)


codes = pytest.mark.parametrize("name", list(BASES))


@pytest.mark.slow
@codes
def test_lean_takes_no_more_steel_than_plain(name):
    plain, lean = wished(name), wished(name, style="lean")
    assert plain.status == lean.status == "pass"
    assert lean.quantities["steel_kg"] <= plain.quantities["steel_kg"] * 1.001


@pytest.mark.slow
@codes
def test_hangers_have_sizes_of_their_own(name):
    wish, others = (
        ("4", ["5", "6", "7", "8"])
        if name == "us"
        else ("13", ["16", "19", "22"])
        if name == "si"
        else ("12", ["16", "20", "25"])
    )
    result = wished(name, hangers=[wish], top_bars=[wish, *others])
    assert result.status == "pass"
    assert sizes(result, "top", through=True) == {wish}


@pytest.mark.slow
@codes
@pytest.mark.parametrize("shape", ["bend", "hook"])
def test_ends_of_one_shape(name, shape):
    result = wished(name, end_shape=shape)
    assert result.status == "pass"
    low, high = result.beam.ends
    ends = [
        kind
        for b in result.layout.bars
        for x, kind in zip((b.start, b.end), b.ends)
        if x < low + 100.0 or x > high - 100.0
    ]
    assert shape in ends
    assert set(ends) <= {shape, "straight"}
    through = [b for b in result.layout.bars if b.face == "top" and _through(result, b)]
    assert all(kind in (shape, "lap") for b in through for kind in b.ends)


@codes
def test_straight_ends_are_straight(name):
    result = wished(name, factor=0.4, end_shape="straight")
    assert {kind for b in result.layout.bars for kind in b.ends} <= {"straight", "lap"}


@pytest.mark.slow
@codes
def test_pieces_no_longer_and_no_shorter_than_wished(name):
    longest, shortest = ("26 ft", "5 ft") if name == "us" else (8.0, 1.5)
    result = wished(name, pieces={"longest": longest, "shortest": shortest, "lengths": 1})
    assert result.status == "pass"
    stock = 26 * 304.8 if name == "us" else 8000.0
    assert max(i.cut_length for i in result.bars) <= stock + 1.0
    assert min(i.cut_length for i in result.bars) >= (5 * 304.8 if name == "us" else 1500.0) - 26.0
    for s in result.beam.supports:
        over = {
            round(b.end - b.start)
            for b in result.layout.bars
            if b.face == "top" and b.start < s.x < b.end and not _through(result, b)
        }
        assert len(over) <= 1


@codes
def test_no_bar_is_cut_off(name):
    result = wished(name, cut_off="none")
    assert result.status == "pass"
    for b in result.layout.bars:
        for side, x in enumerate((b.start, b.end)):
            inside = any(
                low + 50.0 < x < high - 50.0
                for low, high in map(result.beam.clear, range(len(result.beam.spans)))
            )
            middle = any(
                abs(x - 0.5 * sum(c)) < 0.3 * (c[1] - c[0])
                for c in map(result.beam.clear, range(len(result.beam.spans)))
            )
            assert b.ends[side] == "lap" or not inside or (b.face == "top" and middle)


@pytest.mark.slow
@codes
def test_distances_of_bars_in_a_row(name):
    result = wished(
        name,
        bar_spacing={"clear": "2.5 in" if name == "us" else 60, "centres": "5 in" if name == "us" else 120},
    )
    assert result.status == "pass"
    made, tie = result.beam, result.sizes[result.layout.stirrups[0].size].diameter
    for face in ("bottom", "top"):
        for z in result.layout.stirrups:
            row = [
                b
                for b in result.layout.bars
                if b.face == face and b.layer == 1 and b.start <= z.start + 1.0 and b.end >= z.start + 1.0
            ]
            n = sum(b.count for b in row) - sum(row[j].count for _, j in lapped_pairs(row))
            phi = max(result.sizes[b.size].diameter for b in row)
            centres = (made.spans[0].narrowest - 2.0 * (made.cover.sides + tie) - phi) / (n - 1)
            assert centres <= (5 * 25.4 if name == "us" else 120.0) + 1.0
            assert centres - phi >= (2.5 * 25.4 if name == "us" else 60.0) - 1.0


@codes
def test_minimum_steel_of_ones_own_is_designed_and_checked(name):
    result = wished(name, factor=0.25, minimum_steel=0.6)
    assert result.status == "pass"
    least = [c for c in result.checks if c.id.startswith("minimum.bottom.")]
    width, depth = result.beam.spans[0].narrowest, result.beam.spans[0].shallowest
    assert all(0.006 * width * 0.8 * depth < c.demand < 0.006 * width * depth for c in least)
    without = wished(name, factor=0.25)
    assert max(c.demand for c in without.checks if c.id.startswith("minimum.bottom.")) < 0.8 * least[0].demand
    from upright_bramble.pipeline import run_check

    judged = run_check(result.beam, without.layout)
    assert any(not c.ok and c.kind.id == "minimum.bottom" for c in judged.checks)


@pytest.mark.slow
@codes
def test_hangers_may_have_a_size_that_no_other_bar_has(name):
    thin, thick = ("4", "7") if name == "us" else ("13", "22") if name == "si" else ("12", "20")
    result = wished(name, hangers=[thin], main_bars=[thick])
    assert result.status == "pass"
    assert sizes(result, "top", through=True) == {thin}
    assert {b.size for b in result.layout.bars} == {thin, thick}


@pytest.mark.slow
@codes
def test_side_bars_on_request(name):
    size = "4" if name == "us" else "13" if name == "si" else "12"
    result = wished(name, side_rows=1, side_bars=[size])
    assert result.status == "pass"
    assert {(s.rows, s.size) for s in result.layout.sides} == {(1, size)}
    assert not wished(name).layout.sides


@codes
def test_three_rows_where_two_do_not_hold_the_bars(name):
    """A narrow web under a heavy load: more rows, none fuller than the one below it."""
    narrow = {
        "p": {
            "shape": "rectangle",
            "depth": 36 if name == "us" else 900,
            "width": 10 if name == "us" else 250,
        }
    }
    base = {**BASES[name], "profiles": narrow}
    span = "30 ft" if name == "us" else 9.0
    d, q = {"us": (2.2, 1.4), "si": (26.0, 17.0), "en": (42.0, 30.0)}[name]
    small = ["6"] if name == "us" else ["19"] if name == "si" else ["20"]
    text = {
        layers: written(
            base, [span], [dead({"line": d}), live({"line": q}, category="B" if name == "en" else "occupied")],
            width="12 in" if name == "us" else 300, detailing={"layers": layers, "main_bars": small},
        )
        for layers in (2, 3, 4)
    }  # fmt: skip
    two, most = design(text[2]), design(text[4])
    assert two.status == "fail"
    rows = {
        k: sum(b.count for b in most.layout.bars if b.face == "bottom" and b.layer == k) for k in range(1, 5)
    }
    assert rows[3] > 0
    assert all(a >= b for a, b in itertools.pairwise(rows.values()))
    assert not any(not c.ok and c.topic in ("bending", "fit") for c in most.checks), [
        c.id for c in most.failing
    ]
    assert beam(text[4]).detailing.layers == 4


def test_impossible_wishes_are_told(bramble):
    text = written(
        EN,
        [6.0],
        [dead({"line": 20})],
        detailing={
            "pieces": {"shortest": 20.0},
            "bar_spacing": {"clear": 90, "centres": 60},
            "hangers": ["17"],
        },
    )
    bramble.write("t.beam.yaml", text)
    ran = bramble("design", "t.beam.yaml")
    assert ran.status == 2
    for key in ("detailing.pieces.shortest", "detailing.bar_spacing.centres", "detailing.hangers"):
        assert key in ran.err
