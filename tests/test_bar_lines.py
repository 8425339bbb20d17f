"""The line of a bottom bar along a soffit that slopes, worked out by hand."""

from __future__ import annotations

import math

import pytest

from plain_beams import EN, beam, dead, written
from upright_bramble.analysis.bar_lines import Stretch, length_of, line_of, shape_of
from upright_bramble.beam import Bar, Beam


def _beam(*depths: tuple[float, float]) -> Beam:
    """Spans of 6 m between supports of 300 mm, each from one depth to another."""
    names = {d: f"d{d:.0f}" for pair in depths for d in pair}
    profiles = {n: {"shape": "rectangle", "depth": d, "width": 300} for d, n in names.items()}
    spans = [
        {"span": 6.0, "profile": {"from": names[a], "to": names[b]} if a != b else names[a]}
        for a, b in depths
    ]
    return beam(written({**EN, "profiles": profiles}, spans, [dead({"line": 20})], width=300))


def _line(described: Beam, start: float, end: float, phi: float = 20.0) -> list[tuple[float, float, float]]:
    bar = Bar("01", "bottom", 1, 2, "20", start, end)
    return [(s.start, s.end, round(s.rise, 6)) for s in line_of(described, [bar], None, phi)]


def test_level_bars_have_no_line():
    assert _line(_beam((500.0, 500.0), (500.0, 500.0)), 0.0, 12_000.0) == []


def test_a_bar_falls_with_its_soffit():
    """From 450 to 750 mm over 6 m: one in twenty; at the top it would stay level."""
    assert _line(_beam((450.0, 750.0)), 1000.0, 5000.0) == [(1000.0, 5000.0, -200.0)]
    assert _line(_beam((750.0, 450.0)), 1000.0, 5000.0) == [(1000.0, 5000.0, 200.0)]


def test_a_bar_is_bent_at_a_kink_that_it_goes_past():
    """Down to the support by 1 in 20 and up again by 1 in 20; 2 m on each side."""
    bent = _line(_beam((450.0, 750.0), (750.0, 450.0)), 4000.0, 8000.0)
    assert bent == [(4000.0, 6000.0, -100.0), (6000.0, 8000.0, 100.0)]
    level = _line(_beam((450.0, 750.0), (750.0, 750.0)), 4000.0, 8000.0)
    assert level == [(4000.0, 6000.0, -100.0), (6000.0, 8000.0, 0.0)]


@pytest.mark.parametrize(("beyond", "bent"), [(300.0, False), (790.0, False), (810.0, True), (2000.0, True)])
def test_a_short_end_past_a_kink_stays_straight(beyond, bent):
    """40 diameters of 20 mm: 800 mm."""
    right = _line(_beam((450.0, 750.0), (750.0, 450.0)), 3000.0, 6000.0 + beyond)
    left = _line(_beam((450.0, 750.0), (750.0, 450.0)), 6000.0 - beyond, 9000.0)
    assert len(right) == len(left) == 1 + bent
    if not bent:
        assert right == [(3000.0, 6000.0 + beyond, -round((3000.0 + beyond) / 20.0, 6))]
        assert left == [(6000.0 - beyond, 9000.0, round((3000.0 + beyond) / 20.0, 6))]


def test_one_slope_through_two_spans_is_one_stretch():
    """450, 600 and 750 mm: no kink over the middle support."""
    assert _line(_beam((450.0, 600.0), (600.0, 750.0)), 2000.0, 10_000.0) == [(2000.0, 10_000.0, -200.0)]


def test_a_step_ends_what_a_bar_follows():
    """Past a step of the soffit it goes on as in the span that its middle lies in."""
    assert _line(_beam((450.0, 600.0), (800.0, 800.0)), 3000.0, 6400.0) == [(3000.0, 6400.0, -85.0)]


def test_the_length_is_measured_along_it():
    stretches = (Stretch(0.0, 3000.0, 400.0), Stretch(3000.0, 4000.0, 0.0))
    assert stretches[0].length == pytest.approx(math.hypot(3000.0, 400.0))
    assert length_of(stretches, 0.0) == pytest.approx(math.hypot(3000.0, 400.0) + 1000.0)


@pytest.mark.parametrize(
    ("rises", "shape"), [((100.0, 100.0), "46"), ((100.0, 102.0), "99"), ((102.0, 100.0), "99")]
)
def test_a_bar_bent_up_unlike_at_both_sides_has_no_shape_of_its_own(rises, shape):
    """ISO 3766, shape 46: as high at both sides; a level piece of 3 m between two inclines and two pieces of 1 m."""
    up, down = rises
    places = [
        (0.0, 1000.0, 0.0),
        (1000.0, 1100.0, -up),
        (1100.0, 4100.0, 0.0),
        (4100.0, 4200.0, down),
        (4200.0, 5200.0, 0.0),
    ]
    assert shape_of([Stretch(*v) for v in places], []) == shape
    assert shape_of([Stretch(*v) for v in places[:3]], []) == "26"
