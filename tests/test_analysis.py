"""The line: equilibrium, symmetry, superposition, closed forms."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from upright_bramble.analysis import analyse
from upright_bramble.analysis.line import diagrams, solve
from upright_bramble.analysis.stations import place_stations
from upright_bramble.analysis.support_width import shear_at_d
from upright_bramble.beam import Action, Load
from upright_bramble.codes import get_code
from upright_bramble.errors import UnstableLine
from yaml_beams import line, uniform

CODE = get_code("en1992-1-1")
lengths = st.lists(st.floats(3000.0, 12000.0), min_size=1, max_size=6)


@st.composite
def lines(draw):
    """Any line with any loads: cantilevers, fixed ends, springs, partial and varying loads, points, couples."""
    spans = draw(lengths)
    left, right = draw(st.booleans()), draw(st.booleans())
    if len(spans) < 2:
        left = False
    if len(spans) < 3 and left:
        right = False
    fixed = (0,) if (len(spans) == 1 and right) or draw(st.booleans()) else ()
    loads = []
    for _ in range(draw(st.integers(1, 5))):
        i = draw(st.integers(0, len(spans) - 1))
        a, b = sorted((draw(st.floats(0.0, 0.9)), draw(st.floats(0.05, 1.0))))
        b = max(b, a + 0.05)
        kind = draw(st.sampled_from(["line", "point", "couple"]))
        if kind == "line":
            loads.append(
                Load(
                    "line", i, draw(st.floats(-20, 60)), draw(st.floats(-20, 60)), a * spans[i], b * spans[i]
                )
            )
        else:
            size = draw(st.floats(-1e5, 1e5)) * (1.0 if kind == "point" else 1e3)
            loads.append(Load(kind, i, size, size, a * spans[i], a * spans[i]))
    springs = {len(spans) - 1: draw(st.floats(1e4, 1e6))} if draw(st.booleans()) and not left else {}
    return line(spans, loads, fixed=fixed, left_free=left, right_free=right, springs=springs)


def _solved(beam, loads):
    at = place_stations(beam)
    return at, diagrams(solve(beam, [loads], 33000.0), at)


@given(lines())
def test_equilibrium_and_compatible_diagrams(beam):
    loads = list(beam.actions[0].loads)
    at, r = _solved(beam, loads)
    scale = sum(abs(p.first) + abs(p.last) for p in loads) * 1e4 + 1.0
    assert r.reaction[0].sum() == pytest.approx(r.load[0], abs=1e-9 * scale)
    # moments of everything about x = 0
    turning = 0.0
    for p in loads:
        x0 = beam.spans[p.span].start
        if p.shape == "line":
            length, q = p.end - p.start, p.last - p.first
            turning += (p.first * length) * (x0 + p.start + length / 2) + q * length / 2 * (
                x0 + p.start + 2 * length / 3
            )
        else:
            turning += p.first * (x0 + p.start) if p.shape == "point" else p.first
    held = (
        sum(R * s.x for R, s in zip(r.reaction[0], beam.supports, strict=True)) - r.moment_reaction[0].sum()
    )
    assert held == pytest.approx(turning, abs=1e-8 * scale * beam.length)
    # free ends carry nothing, supports that turn freely carry the moment on
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        m, v = r.moment[0][rows], r.shear[0][rows]
        if span.right is None:
            assert abs(m[-1]) < 1e-7 * scale * 1e3
        # moment changes by the area of shear between stations (Simpson holds no matter: shear is quadratic at most)
        middle = np.diff(at.local[rows])
        trapezoid = 0.5 * (v[1:] + v[:-1]) * middle
        couples = any(p.shape == "couple" and p.span == index for p in loads)
        if not couples:
            bend = max(abs(p.first - p.last) / max(p.end - p.start, 1.0) for p in loads) if loads else 0.0
            assert np.abs(np.diff(m) - trapezoid).max() <= bend * middle.max() ** 3 + 1e-6 * scale


@given(lengths, st.floats(1.0, 80.0))
def test_mirror(spans, w):
    """The mirrored line has the mirrored diagrams."""
    loads = [
        Load("line", 0, w, 3 * w, 0.0, 0.6 * spans[0]),
        Load("point", len(spans) - 1, 1e4 * w, 1e4 * w, 900.0, 900.0),
    ]
    n = len(spans)
    turned = [
        Load(p.shape, n - 1 - p.span, p.last, p.first, spans[p.span] - p.end, spans[p.span] - p.start)
        for p in loads
    ]
    _, a = _solved(line(spans, loads), loads)
    _, b = _solved(line(spans[::-1], turned), turned)
    np.testing.assert_allclose(a.reaction[0], b.reaction[0][::-1], rtol=1e-7, atol=1e-3)
    assert a.moment.max() == pytest.approx(b.moment.max(), rel=1e-6, abs=1.0)
    assert a.deflection.max() == pytest.approx(b.deflection.max(), rel=1e-6, abs=1e-9)


@given(lines(), st.floats(-3.0, 3.0))
def test_superposition(beam, factor):
    loads = list(beam.actions[0].loads)
    at = place_stations(beam)
    scaled = [Load(p.shape, p.span, factor * p.first, factor * p.last, p.start, p.end) for p in loads]
    r = diagrams(solve(beam, [loads, scaled, loads + scaled], 33000.0), at)
    for values in (r.moment, r.shear, r.deflection, r.reaction):
        size = 1e-6 * np.abs(values).max() + 1e-9 * sum(abs(p.first) + abs(p.last) for p in loads)
        np.testing.assert_allclose(values[1], factor * values[0], atol=size)
        np.testing.assert_allclose(values[2], values[0] + values[1], atol=size)


def test_exact_elastic_line():
    """Two equal spans, one loaded, against the polynomial of the handbook solution."""
    beam = line([6000.0, 6000.0], [Load("line", 0, 10.0, 10.0, 0.0, 6000.0)])
    at, r = _solved(beam, list(beam.actions[0].loads))
    rows = at.of(0)
    xi = at.local[rows] / 6000.0
    exact = -(7 / 16 * xi**3 / 6 - xi**4 / 24 - xi / 32) * 10 * 6000.0**4 / (33000.0 * 300 * 500**3 / 12)
    np.testing.assert_allclose(r.deflection[0][rows], exact, atol=1e-12)


def test_a_line_that_turns_over_is_refused():
    with pytest.raises(UnstableLine, match="two supports"):
        analyse(line([4000.0], [Load("line", 0, 5.0, 5.0, 0.0, 4000.0)], right_free=True), CODE)


@given(lengths, st.floats(5.0, 40.0), st.floats(2.0, 30.0))
def test_every_covers_the_arrangements_of_the_code(spans, g, q):
    n = len(spans)
    both = [
        analyse(line(spans, uniform(n, spans, g), live=uniform(n, spans, q), arrangements=kind), CODE)
        for kind in ("code", "every")
    ]
    for level in CODE.actions.levels:
        code, every = (f.envelopes[level] for f in both)
        x = both[1].stations.x + 1e8 * both[1].stations.span
        at = both[0].stations.x + 1e8 * both[0].stations.span
        size = np.abs(every.moment_min).max() + np.abs(every.moment_max).max()
        # stations differ by the peaks that each adds: compare where both have one
        common, i, j = np.intersect1d(np.round(at, 3), np.round(x, 3), return_indices=True)
        assert len(common) > 20
        assert (every.moment_max[j] >= code.moment_max[i] - 1e-9 * size).all()
        assert (every.moment_min[j] <= code.moment_min[i] + 1e-9 * size).all()
        if (
            n <= 3
        ):  # here two adjacent, alternate, all and no spans are all that can be worst for moments in spans
            rows = both[1].stations.of(0)
            assert every.moment_max[rows].max() == pytest.approx(
                code.moment_max[both[0].stations.of(0)].max(), rel=2e-3
            )


def test_rows_are_in_equilibrium_and_lead_in_turn():
    spans = [5000.0, 7000.0, 4000.0]
    actions = (
        Action("dead", "permanent", None, tuple(uniform(3, spans, 20.0))),
        Action("shop", "imposed", "D", tuple(uniform(3, spans, 10.0))),
        Action("store", "imposed", "E", tuple(uniform(3, spans, 6.0))),
    )
    forces = analyse(line(spans, [], actions=actions), CODE)
    names = {row.combination.name for row in forces.rows["strength"]}
    assert "1.35 G + 1.5 Q[D] + 1.5 Q[E]" in names  # storage accompanies with psi_0 = 1
    assert "1.35 G + 1.05 Q[D] + 1.5 Q[E]" not in names  # the one before has more of it, all else alike
    loads = forces.factors["strength"] @ forces.responses.load
    np.testing.assert_allclose(forces.reactions("strength").sum(axis=1), loads, rtol=1e-9)
    quasi = forces.factors["quasi_permanent"]
    assert quasi[:, 1:4].max() == pytest.approx(0.6)
    assert quasi[:, 4:7].max() == pytest.approx(0.8)


def test_support_peak_is_rounded_by_the_reaction():
    """5.3.2.2(4): the peak falls by F t / 8, by hand for two equal spans."""
    spans, w = [6000.0, 6000.0], 30.0
    forces = analyse(line(spans, uniform(2, spans, w)), CODE)
    peak = -0.125 * 1.35 * w * 6000.0**2
    rounded = peak + 1.25 * 1.35 * w * 6000.0 * 300.0 / 8
    assert forces.envelopes["strength"].moment_min.min() == pytest.approx(peak)
    assert forces.design.moment_min.min() == pytest.approx(rounded)


def test_fixed_support_takes_the_face_moment():
    """5.3.2.2(3): at the face, not less than 0.65 of the fixed-end moment."""
    forces = analyse(line([6000.0], uniform(1, [6000.0], 30.0), fixed=(0, 1)), CODE)
    w, x = 1.35 * 30.0, 150.0
    at_face = -w * 6000.0**2 / 12 + w * 6000.0 / 2 * x - w * x**2 / 2
    assert forces.design.moment_min.min() == pytest.approx(at_face, rel=1e-9)


def test_simple_ends_are_designed_for_part_of_the_span_moment():
    forces = analyse(line([6000.0], uniform(1, [6000.0], 30.0), annex="uk"), get_code("en1992-1-1", "uk"))
    span = 1.35 * 30.0 * 6000.0**2 / 8
    np.testing.assert_allclose(forces.design.end_hogging, 0.25 * span, rtol=1e-9)
    assert forces.design.moment_min.min() == pytest.approx(-0.25 * span)


@pytest.mark.parametrize(
    ("extra", "reduced"),
    [
        (None, True),
        (Load("point", 0, 80e3, 80e3, 400.0, 400.0), False),
        (Load("couple", 0, 20e6, 20e6, 400.0, 400.0), False),
        (Load("line", 0, 800.0, 800.0, 300.0, 400.0), False),  # a strip of 100 mm: a force by another name
        (Load("line", 0, 800.0, 0.0, 0.0, 300.0), False),
        (Load("point", 0, 80e3, 80e3, 3000.0, 3000.0), True),
        (Load("line", 0, 30.0, 30.0, 0.0, 3000.0), True),
    ],
)
def test_shear_is_taken_at_d_only_under_loads_spread_evenly(extra, reduced):
    """From a face 150 from the centreline, d = 450: the first 600 mm of the span decide."""
    beam = line([6000.0], [*uniform(1, [6000.0], 40.0), *([extra] if extra else [])])
    forces = analyse(beam, CODE)
    at = forces.stations
    shear = np.maximum(
        np.abs(forces.envelopes["strength"].shear_max), np.abs(forces.envelopes["strength"].shear_min)
    )
    taken = shear_at_d(beam, at, shear, np.full(len(at), 450.0))
    near = (at.x > 150.0) & (at.x < 590.0)
    assert near.any()
    assert bool((taken[near] < shear[near] - 1.0).all()) is reduced
    assert reduced or np.array_equal(taken[near], shear[near])
    far = (at.x > 610.0) & (at.x < 5000.0)
    assert np.array_equal(taken[far], shear[far])
