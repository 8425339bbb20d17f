"""The line beyond straight rectangles: tapers, flanges, hinges, torque, and many spans. Each against another path."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from upright_bramble.analysis import analyse
from upright_bramble.analysis.flanges import with_flanges
from upright_bramble.beam import Flange, Load, Profile, Redistribution
from upright_bramble.codes import get_code
from upright_bramble.errors import UnstableLine
from yaml_beams import line, uniform

EN = get_code("en1992-1-1")
E = 33000.0


def tapered(beam, index, depth):
    span = beam.spans[index]
    spans = list(beam.spans)
    spans[index] = replace(span, becomes=replace(span.profile, name="end", depth=depth))
    return replace(beam, spans=tuple(spans))


def hinged(beam, index, *places):
    spans = list(beam.spans)
    spans[index] = replace(spans[index], hinges=places)
    return replace(beam, spans=tuple(spans))


def test_tapered_cantilever_by_integration():
    """Tip deflection as the integral of M x / (E I) over a depth that falls from 600 to 300."""
    beam = tapered(
        line(
            [3000.0], [Load("point", 0, 2e4, 2e4, 3000.0, 3000.0)], fixed=(0,), right_free=True, depth=600.0
        ),
        0,
        300.0,
    )
    result = analyse(beam, EN, E).elastic_lines()[0, -1]
    x = np.linspace(0.0, 3000.0, 200001)
    inertia = 300.0 * (600.0 - 0.1 * x) ** 3 / 12
    f = 2e4 * (3000.0 - x) ** 2 / (E * inertia)
    assert result == pytest.approx(float(((f[1:] + f[:-1]) / 2 * np.diff(x)).sum()), rel=1e-5)


@given(st.floats(300.0, 900.0), st.floats(300.0, 900.0), st.floats(0.1, 0.9))
def test_tapered_propped_span_by_the_force_method(first, last, share):
    """The fixed-end moment that keeps the end from turning, from flexibility integrals over the real depth."""
    length, p = 8000.0, 5e4
    a = share * length
    beam = tapered(line([length], [Load("point", 0, p, p, a, a)], fixed=(1,), depth=first), 0, last)
    forces = analyse(beam, EN, E)
    x = np.linspace(0.0, length, 40001)
    flexible = 1.0 / (first + (last - first) * x / length) ** 3
    free = np.where(x < a, p * (length - a) * x / length, p * a * (length - x) / length)
    one = x / length
    w = np.full_like(x, x[1])
    w[[0, -1]] /= 2
    expected = -(w * free * one * flexible).sum() / (w * one * one * flexible).sum()
    assert forces.responses.moment[0, -1] == pytest.approx(expected, rel=2e-6)


def test_gerber_beam_by_statics():
    """A hinge at a quarter of the end span: the part hung on it is a simple beam, the rest a cantilever's load."""
    w, length, a = 20.0, 6000.0, 1500.0
    beam = hinged(line([length, length], uniform(2, [length, length], w)), 1, a)
    forces = analyse(beam, EN, E)
    at, m = forces.stations, forces.responses.moment[0]
    rest = length - a
    support = -(w * rest / 2 * a + w * a**2 / 2)
    assert m[at.first[1]] == pytest.approx(support)
    assert np.interp(a, at.local[at.of(1)], m[at.of(1)]) == pytest.approx(0.0, abs=1.0)
    assert m[at.of(1)].max() == pytest.approx(w * rest**2 / 8, rel=1e-3)
    assert forces.responses.reaction[0, 2] == pytest.approx(w * rest / 2)


def test_a_hinge_over_a_support_parts_the_spans():
    lengths = [5000.0, 7000.0]
    beam = line(lengths, uniform(2, lengths, 12.0))
    supports = list(beam.supports)
    supports[1] = replace(supports[1], hinge=True)
    forces = analyse(replace(beam, supports=tuple(supports)), EN)
    at, m = forces.stations, forces.responses.moment[0]
    assert m[at.first[1]] == pytest.approx(0.0, abs=1.0)
    assert [m[at.of(i)].max() for i in (0, 1)] == pytest.approx([12.0 * x**2 / 8 for x in lengths], rel=1e-3)


@pytest.mark.parametrize(("index", "places"), [(0, (2000.0, 4000.0)), (1, (1000.0, 2000.0))])
def test_a_mechanism_is_told(index, places):
    lengths = [6000.0, 6000.0]
    with pytest.raises(UnstableLine, match="hinges"):
        analyse(hinged(line(lengths, uniform(2, lengths, 10.0)), index, *places), EN)


@pytest.mark.parametrize(("index", "places"), [(0, (2000.0, 4000.0)), (2, (2000.0, 4000.0))])
def test_a_mechanism_of_a_long_line_is_told(monkeypatch, index, places):
    """Long lines are solved another way."""
    monkeypatch.setattr("upright_bramble.analysis.line.DENSE", 0)
    sound = line([6000.0] * 3, uniform(3, [6000.0] * 3, 10.0))
    assert analyse(sound, EN, E).stations.x[-1] == pytest.approx(18_000.0)
    with pytest.raises(UnstableLine, match="hinges"):
        analyse(hinged(sound, index, *places), EN, E)


def test_flanged_line_has_the_flange_of_the_code():
    """5.3.2.1 by hand: end span of two, b_i 1500 each side, l_0 = 0.85 x 6000; then I of the T by two rectangles."""
    lengths = [6000.0, 6000.0]
    beam = line(lengths, uniform(2, lengths, 10.0))
    profile = Profile("t", 300.0, 500.0, Flange(150.0, 1500.0, 1500.0))
    beam = with_flanges(replace(beam, spans=tuple(replace(s, profile=profile) for s in beam.spans)), EN)
    one = min(0.2 * 1500 + 0.1 * 5100, 0.2 * 5100)
    assert beam.spans[0].reach[1] == pytest.approx((one, one))
    over = min(0.2 * 1500 + 0.1 * 1800, 0.2 * 1800)
    assert beam.spans[0].reach[2] == pytest.approx((over, over))
    forces = analyse(beam, EN, E)
    b = 300 + 2 * one
    area = b * 150 + 300 * 350
    y = (b * 150 * 75 + 300 * 350 * 325) / area
    inertia = b * 150**3 / 12 + b * 150 * (y - 75) ** 2 + 300 * 350**3 / 12 + 300 * 350 * (325 - y) ** 2
    assert forces.solved.elements.second_moment == pytest.approx([inertia, inertia])
    assert analyse(replace(beam, spans=beam.spans), EN, E).responses.moment == pytest.approx(
        forces.responses.moment
    )


def test_torque_by_hand():
    """Spread torque on a span held at both ends, a point torque at a third, and the same over a support that lets it through."""
    beam = line(
        [6000.0, 3000.0],
        [Load("twist", 0, 4000.0, 4000.0, 0.0, 6000.0), Load("torque", 1, 9e6, 9e6, 1000.0, 1000.0)],
    )
    forces = analyse(beam, EN)
    at, t = forces.stations, forces.responses.torsion[0]
    assert (t[0], t[at.of(0)][-1]) == pytest.approx((12e6, -12e6))
    assert (t[at.first[1]], t[-1]) == pytest.approx((6e6, -3e6))
    supports = list(beam.supports)
    supports[1] = replace(supports[1], holds_torsion=False)
    loose = analyse(replace(beam, supports=tuple(supports)), EN)
    t = loose.responses.torsion[0]
    # one prismatic line held at its far ends: each torque is shared by the distance to them
    left = (24e6 * 6000.0 + 9e6 * 2000.0) / 9000.0
    assert (t[0], t[-1]) == pytest.approx((left, left - 33e6))
    assert t[at.of(0)][-1] == pytest.approx(t[at.first[1]])
    free = replace(beam, supports=tuple(replace(s, holds_torsion=False) for s in beam.supports))
    with pytest.raises(UnstableLine, match="torque"):
        analyse(free, EN)


def test_torsion_of_a_cantilever_and_its_sign():
    beam = line([6000.0, 2000.0], [Load("torque", 1, 5e6, 5e6, 2000.0, 2000.0)], right_free=True)
    forces = analyse(beam, EN)
    at, t = forces.stations, forces.responses.torsion[0]
    assert np.abs(t[at.of(0)]).max() < 1e-3
    assert t[at.of(1)] == pytest.approx(np.full(at.first[2] - at.first[1], 5e6))
    assert forces.envelopes["strength"].torsion.max() == pytest.approx(1.35 * 5e6)


@given(
    st.lists(st.floats(3000.0, 9000.0), min_size=2, max_size=5),
    st.lists(st.floats(350.0, 800.0), min_size=5, max_size=5),
    st.floats(0.15, 0.3),
    st.booleans(),
    st.floats(1e4, 1e6),
)
def test_every_case_is_in_equilibrium(lengths, depths, share, spring, stiffness):
    """Loads, reactions and end forces of tapered, hinged, sprung lines to 1e-9, case by case."""
    n = len(lengths)
    loads = [
        *uniform(n, lengths, 20.0),
        Load("point", 0, 3e4, 3e4, 1234.0, 1234.0),
        Load("couple", n - 1, 4e7, 4e7, 1000.0, 1000.0),
    ]
    beam = line(lengths, loads, live=[Load("line", i, 0.0, 15.0, 500.0, lengths[i]) for i in range(n)],
                springs={1: stiffness} if spring else None)  # fmt: skip
    beam = tapered(hinged(beam, n - 1, share * lengths[-1]), 0, depths[0])
    forces = analyse(beam, EN)
    r = forces.responses
    size = np.abs(r.load).max()
    np.testing.assert_allclose(r.reaction.sum(axis=1), r.load, atol=1e-9 * size)
    x = np.array([s.x for s in beam.supports])
    for case, loads_ in enumerate(forces.cases.loads):
        turning = 0.0
        for p in loads_:
            start = beam.spans[p.span].start
            if p.shape == "line":
                span = p.end - p.start
                turning += (
                    span * (p.first + p.last) / 2 * (start + p.start) + span**2 * (p.first + 2 * p.last) / 6
                )
            else:
                turning += p.first * (start + p.start) if p.shape == "point" else p.first
        assert (r.reaction[case] * x).sum() == pytest.approx(turning, abs=1e-9 * size * x[-1])


@pytest.mark.slow
def test_far_spans_are_left_out_without_a_trace():
    """Forty spans enveloped some at a time, against every row multiplied out."""
    lengths = [5000.0 + 100.0 * (i % 7) for i in range(40)]
    beam = line(lengths, uniform(40, lengths, 20.0), live=uniform(40, lengths, 15.0))
    forces = analyse(beam, EN)
    for level in EN.actions.levels:
        e = forces.envelopes[level]
        whole, shear = forces.moments(level), forces.factors[level] @ forces.responses.shear
        for got, expected in (
            (e.moment_max, whole.max(axis=0)),
            (e.moment_min, whole.min(axis=0)),
            (e.shear_max, shear.max(axis=0)),
        ):
            np.testing.assert_allclose(got, expected, atol=1e-9 * np.abs(whole).max())
        columns = np.arange(len(forces.stations))
        np.testing.assert_allclose(
            whole[e.moment.high_by, columns], e.moment_max, atol=1e-9 * np.abs(whole).max()
        )
        np.testing.assert_allclose(
            whole[e.moment.low_by, columns], e.moment_min, atol=1e-9 * np.abs(whole).max()
        )


def test_a_long_line_takes_the_banded_way():
    """400 hinged pieces: more freedoms than a full matrix takes; the same spans as a short line in the middle."""
    lengths = [5000.0] * 60
    beam = line(lengths, uniform(60, lengths, 20.0))
    long = replace(
        beam, spans=tuple(replace(s, becomes=replace(s.profile, name="q", depth=500.001)) for s in beam.spans)
    )
    a, b = analyse(beam, EN), analyse(long, EN)
    assert len(b.solved.elements) > 700
    assert b.envelopes["strength"].moment_min.min() == pytest.approx(
        a.envelopes["strength"].moment_min.min(), rel=1e-5
    )


def test_redistribution_as_far_as_allowed():
    """The least delta that the neutral axis allows: a light beam takes 0.7, a heavy one less, one too heavy none."""
    lengths = [6000.0, 6000.0]
    result = []
    for w in (10.0, 45.0, 80.0):
        beam = line(lengths, uniform(2, lengths, w), redistribution=Redistribution(None, (1,)))
        result.append(float(analyse(beam, EN).delta[1]))
    assert result[0] == pytest.approx(0.7)
    assert result[0] < result[1] < result[2] <= 1.0


@pytest.mark.parametrize("kind", ["couple", "point"])
def test_what_stands_in_a_simple_span_bends_it_as_its_moments_say(kind):
    """y from M/(E I) integrated twice, with no deflection at the ends: 40 kNm or 40 kN at 2.5 m of 6 m, 300 x 500."""
    length, a, p = 6000.0, 2500.0, 4e7 if kind == "couple" else 4e4
    forces = analyse(line([length], [Load(kind, 0, p, p, a, a)]), EN, E)
    x = np.linspace(0.0, length, 60_001)
    if kind == "couple":
        moment = np.where(x < a, -p * x / length, p * (1.0 - x / length))
    else:
        moment = np.where(x < a, p * (length - a) * x / length, p * a * (length - x) / length)
    step = x[1]
    turned = np.concatenate([[0.0], np.cumsum(0.5 * (moment[1:] + moment[:-1])) * step])
    sunk = np.concatenate([[0.0], np.cumsum(0.5 * (turned[1:] + turned[:-1])) * step])
    y = (sunk - sunk[-1] * x / length) / (E * 300.0 * 500.0**3 / 12.0)
    own = forces.elastic_lines()[0]
    assert own == pytest.approx(-np.interp(forces.stations.x, x, y), abs=2e-3 * np.abs(y).max())
