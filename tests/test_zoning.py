"""Stirrups of a span in zones: nowhere further apart than permitted, set out from both faces, few and of three stirrups at least."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from upright_bramble.proportion.zoning import Room, permitted_of, zones_of

SPACINGS = (75.0, 100.0, 125.0, 150.0, 175.0, 200.0, 225.0, 250.0, 275.0, 300.0, 350.0, 400.0)


def places_of(zones) -> np.ndarray:
    return np.concatenate([a + s * np.arange(round((b - a) / s) + 1) for a, b, s in zones])


def profile(length, ends, inner):
    """Permitted spacings: each end's over a share of the length, `inner` between."""
    x = np.linspace(50.0, length - 50.0, 60)
    (left, share), (right, other) = ends
    most = np.where(x < share * length, left, np.where(x > (1.0 - other) * length, right, inner))
    return x, most


ends = st.tuples(*[st.tuples(st.floats(80.0, 420.0), st.floats(0.02, 0.45))] * 2)


@settings(max_examples=150)
@given(st.floats(700.0, 14_000.0), ends, st.floats(80.0, 420.0), st.sampled_from([3, 5]))
def test_every_gap_is_permitted_and_can_be_built(length, both, inner, maximum):
    x, most = profile(length, both, inner)
    room = Room(50.0, length - 50.0, SPACINGS, 50.0)
    zones = zones_of(permitted_of(x, most), room, maximum)
    places = places_of(zones)
    assert places[0] == 50.0
    assert places[-1] == pytest.approx(length - 50.0, abs=1.0)
    gaps = np.diff(places)
    assert gaps.min() >= 50.0 - 1e-6
    for a, b in itertools.pairwise(places):
        here = most[(x >= a) & (x <= b)]
        beside = most[[max(np.searchsorted(x, a) - 1, 0), min(np.searchsorted(x, b), len(x) - 1)]]
        assert (
            b - a <= max(min(here.min(initial=np.inf), beside.min()), 75.0) * (1 + 1e-9) + 1e-3
            or b - a <= here.min(initial=np.inf) + 1e-3
        )
    assert len(zones) <= maximum + 1
    assert all(round((b - a) / s) >= 2 for a, b, s in zones) or length < 1400.0
    if length > 1400.0 and most.min() >= 100.0:
        assert all(s in SPACINGS for _, _, s in zones)
    uniform = (length - 100.0) / max(s for s in SPACINGS if s <= most.min() + 1e-6)
    assert len(places) <= uniform + 6.0


@settings(max_examples=40)
@given(st.floats(3000.0, 12_000.0), ends, st.floats(110.0, 420.0))
def test_no_three_zones_that_a_person_would_find_take_many_fewer(length, both, inner):
    """All ways to part the span at twentieths of it, each part at the widest spacing of the list that is permitted there. A zone has to
    save three stirrups, ends that are alike may cost a tenth, and each of three zones begins with a stirrup."""
    x, most = profile(length, both, inner)
    permitted = permitted_of(x, most)
    zones = zones_of(permitted, Room(50.0, length - 50.0, SPACINGS, 50.0), 3)
    cuts = np.linspace(50.0, length - 50.0, 21)

    def number(a, b):
        limit = max(permitted.over(a, b), 75.0)
        return (b - a) / max(s for s in SPACINGS if s <= limit + 1e-6)

    fewest = min(
        number(cuts[0], a) + number(a, b) + number(b, cuts[-1])
        for a, b in itertools.combinations_with_replacement(cuts[1:-1], 2)
        if a < b
    )
    assert len(places_of(zones)) <= 1.1 * fewest + 9.0


def test_three_zones_from_both_faces():
    """100 over the outer quarters, 300 inside: what is left over is shared by the two gaps beside the middle."""
    x, most = profile(6000.0, ((100.0, 0.25), (100.0, 0.25)), 300.0)
    zones = zones_of(permitted_of(x, most), Room(50.0, 5950.0, SPACINGS, 50.0), 3)
    assert [s for _, _, s in zones] == [100.0, 300.0, 100.0]
    (a, b, _), (c, d, _), (e, f, _) = zones
    assert (a, f) == (50.0, 5950.0)
    assert c - b == pytest.approx(e - d, abs=5.0)
    assert 150.0 <= c - b <= 300.0
    assert b - a == f - e


def test_one_spacing_meets_in_the_middle():
    x = np.array([50.0, 5950.0])
    zones = zones_of(permitted_of(x, np.full(2, 310.0)), Room(50.0, 5950.0, SPACINGS, 50.0), 3)
    assert [s for _, _, s in zones] == [300.0, 300.0]
    assert zones[1][0] - zones[0][1] == pytest.approx(200.0)
    exact = zones_of(permitted_of(x, np.full(2, 310.0)), Room(50.0, 6050.0, SPACINGS, 50.0), 3)
    assert exact == [(50.0, 6050.0, 300.0)]


def test_what_is_left_over_is_never_too_little():
    """6010 is 20 times 300 and 10 mm: stirrups 10 mm apart cannot be built; the next spacing is taken."""
    x = np.array([50.0, 6060.0])
    zones = zones_of(permitted_of(x, np.full(2, 310.0)), Room(50.0, 6060.0, SPACINGS, 50.0), 3)
    assert [s for _, _, s in zones] == [275.0, 275.0]
    assert np.diff(places_of(zones)).min() >= 50.0


def test_a_limit_inside_the_span_makes_a_zone_of_its_own():
    """Stirrups across a lap at midspan: at least four in each third, the rest of the span as wide as before."""
    x = np.array([50.0, 5950.0])
    permitted = (
        permitted_of(x, np.full(2, 300.0)).limited(2000.0, 2400.0, 100.0).limited(2800.0, 3200.0, 100.0)
    )
    zones = zones_of(permitted, Room(50.0, 5950.0, SPACINGS, 50.0), 5)
    places = places_of(zones)
    for low, high in ((2000.0, 2400.0), (2800.0, 3200.0)):
        assert ((places >= low - 1e-6) & (places <= high + 1e-6)).sum() >= 4
    assert len(places) < 0.55 * 59
    assert len(zones) <= 5


@pytest.mark.parametrize("turned", [False, True])
def test_ends_that_are_nearly_alike_are_made_alike(turned):
    """100 over 1.5 m and 125 over 1.6 m make 43 stirrups, 100 over 1.6 m at both ends 46: less than a tenth more. 100 over 1.5 m and 150
    over 0.4 m stay as they are."""
    room = Room(50.0, 5950.0, SPACINGS, 50.0)

    def made(first, second, inner):
        both = (second, first) if turned else (first, second)
        x, most = profile(6000.0, both, inner)
        zones = zones_of(permitted_of(x, most), room, 3)
        return zones[::-1] if turned else zones

    near, middle, far = made((100.0, 0.25), (125.0, 1.6 / 6.0), 200.0)
    assert [near[2], middle[2], far[2]] == [100.0, 200.0, 100.0]
    assert near[1] - near[0] == far[1] - far[0] >= 1500.0
    unlike = made((100.0, 0.25), (150.0, 0.06), 300.0)
    assert [z[2] for z in unlike] == [100.0, 300.0, 150.0]
    assert unlike[0][1] - unlike[0][0] > 2.0 * (unlike[2][1] - unlike[2][0])


SET_OUT = [  # length, both ends, inside, a dip, zones at most: from-to/spacing of every zone
    (6000, ((100, 0.25), (100, 0.25)), 300, None, 3, "50-1550/100 1800-4200/300 4450-5950/100"),
    (6000, ((150, 0.2), (100, 0.3)), 300, None, 3, "50-1250/150 1500-3900/300 4150-5950/100"),
    (6000, ((110, 0.1), (310, 0.3)), 200, None, 3, "50-650/100 750-5950/200"),
    (4200, ((90, 0.3), (130, 0.15)), 250, None, 3, "50-1325/75 1485-3235/250 3400-4150/125"),
    (9000, ((125, 0.15), (160, 0.25)), 410, None, 3, "50-1425/125 1785-6185/400 6550-8950/150"),
    (3000, ((100, 0.4), (100, 0.1)), 180, None, 3, "50-1250/100 1425-2475/175 2650-2950/100"),
    (1500, ((80, 0.3), (150, 0.3)), 300, None, 3, "50-500/75 550-1450/150"),
    (7300, ((310, 0.2), (120, 0.2)), 260, None, 3, "50-5550/250 5750-7250/100"),
    (5000, ((200, 0.3), (205, 0.2)), 230, None, 3, "50-2450/200 2550-4950/200"),
    (2400, ((420, 0.2), (90, 0.35)), 300, None, 3, "50-1250/300 1525-2350/75"),
    (12000, ((140, 0.05), (85, 0.12)), 350, None, 3, "50-675/125 875-10325/350 10525-11950/75"),
    (800, ((100, 0.3), (100, 0.3)), 200, None, 3, "50-750/100"),
    (6600, ((175, 0.45), (175, 0.45)), 300, None, 3, "50-3025/175 3150-3450/150 3575-6550/175"),
    (5400, ((260, 0.1), (110, 0.4)), 130, None, 3, "50-3050/125 3150-5350/100"),
    (4200, ((90, 0.3), (130, 0.15)), 250, None, 1, "50-2075/75 2125-4150/75"),
    (9000, ((125, 0.15), (160, 0.25)), 410, None, 1, "50-4300/125 4400-4600/100 4700-8950/125"),
    (2400, ((420, 0.2), (90, 0.35)), 300, None, 1, "50-1175/75 1225-2350/75"),
    (8000, ((150, 0.15), (150, 0.15)), 350, (3000, 4000, 125), 3, "50-4175/125 4510-6260/350 6600-7950/150"),
    (8000, ((150, 0.15), (150, 0.15)), 350, (3000, 4000, 125), 5, "50-1400/150 1750-2800/350 2925-4175/125 4510-6260/350 6600-7950/150"),
    (8000, ((120, 0.2), (200, 0.1)), 300, (5200, 5900, 100), 3, "50-1750/100 2050-4750/300 5050-7950/100"),
    (8000, ((120, 0.2), (200, 0.1)), 300, (5200, 5900, 100), 5, "50-1750/100 2050-4750/300 5050-5850/100 5950-7950/200"),
    (5000, ((100, 0.2), (100, 0.2)), 250, (2000, 2300, 75), 3, "50-2450/75 2700-3700/250 3950-4950/100"),
    (5000, ((100, 0.2), (100, 0.2)), 250, (2000, 2300, 75), 5, "50-1050/100 1300-1800/250 1875-2400/75 2550-3800/250 3950-4950/100"),
    (10000, ((175, 0.1), (90, 0.2)), 400, (2500, 3000, 200), 3, "50-3200/175 3560-7560/400 7925-9950/75"),
    (10000, ((175, 0.1), (90, 0.2)), 400, (2500, 3000, 200), 5, "50-3200/175 3560-7560/400 7925-9950/75"),
    # stretches too short for zones of their own are joined where that takes fewest more
    (2300, ((290, 0.28), (380, 0.23)), 390, (900, 1800, 90), 3, "50-600/275 825-2250/75"),
    (5000, ((400, 0.13), (410, 0.33)), 110, (2000, 3700, 90), 5, "50-1950/100 2025-3750/75 4150-4950/400"),
    (5000, ((410, 0.15), (150, 0.24)), 110, (1600, 2900, 120), 3, "50-4950/100"),
]  # fmt: skip


@pytest.mark.parametrize(("length", "both", "inner", "dip", "maximum", "zones"), SET_OUT)
def test_zones_are_set_out_as_they_were_read(length, both, inner, dip, maximum, zones):
    x, most = profile(length, both, inner)
    if dip is not None:
        most = np.where((x > dip[0]) & (x < dip[1]), np.minimum(most, dip[2]), most)
    made = zones_of(permitted_of(x, most), Room(50.0, length - 50.0, SPACINGS, 50.0), maximum)
    assert " ".join(f"{a:g}-{b:g}/{s:g}" for a, b, s in ((round(v, 1) for v in z) for z in made)) == zones
