"""Small parts that stand in for slower ones, held against these; and the examples of their docstrings."""

from __future__ import annotations

import doctest
import importlib
import inspect
import pkgutil

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import upright_bramble as ub
from upright_bramble.analysis.cases import first_of_each
from upright_bramble.beam import Bar, Layout, StirrupZone, lapped_pairs
from upright_bramble.codes import get_code
from upright_bramble.present.scene import MAXIMUM_POINTS, Scene, Words, runs, thinned
from upright_bramble.section.arrays import between, compact, nearest
from yaml_beams import line, uniform

ROOMS = ("codes", "core", "section", "analysis", "beam")
MODULES = [
    "text", "present.glyphs",
    *(m.name.removeprefix("upright_bramble.") for room in ROOMS for m in pkgutil.walk_packages(
        importlib.import_module(f"upright_bramble.{room}").__path__, f"upright_bramble.{room}.") if not m.ispkg),
]  # fmt: skip


@pytest.mark.parametrize("name", MODULES)
def test_examples_run(name):
    module = importlib.import_module(f"upright_bramble.{name}")
    ran = doctest.testmod(module, extraglobs={"np": np})
    assert not ran.failed


@pytest.mark.parametrize("package", ["en1992", "aci318"])
def test_every_clause_has_its_arguments_and_a_worked_number(package):
    folder = importlib.import_module(f"upright_bramble.codes.{package}").__path__
    seen = 0
    for module in pkgutil.iter_modules(folder):
        for f in vars(importlib.import_module(f"upright_bramble.codes.{package}.{module.name}")).values():
            if inspect.isfunction(f) and hasattr(f, "clause") and f.__module__.endswith(module.name):
                seen += 1
                assert ">>> " in f.__doc__, f.__name__
                assert all(f"    {name} : " in f.__doc__ for name in inspect.signature(f).parameters), (
                    f.__name__
                )
    assert seen > 70


@given(
    st.lists(st.integers(0, 40), min_size=2, max_size=30),
    st.lists(st.floats(-5.0, 45.0), min_size=1, max_size=20),
)
def test_nearest_is_the_first_of_the_nearest(values, places):
    x, at = np.sort(np.array(values, dtype=float)), np.array(places)
    assert nearest(x, at).tolist() == np.abs(x[:, None] - at).argmin(axis=0).tolist()


@given(st.lists(st.integers(0, 20), min_size=1, max_size=30), st.floats(-1.0, 21.0), st.floats(-1.0, 21.0))
def test_between_is_what_lies_between(values, a, b):
    x, (low, high) = np.sort(np.array(values, dtype=float)), sorted((a, b))
    inside = np.zeros(len(x), dtype=bool)
    inside[between(x, low, high)] = True
    assert (inside == ((x >= low) & (x <= high))).all()


@given(st.integers(1, 8), st.integers(0, 9), st.integers(0, 10_000))
def test_compact_loses_nothing(rows, columns, seed):
    """Sums, first moments and the order of entries of each row."""
    made = np.random.default_rng(seed)
    areas = np.where(made.random((rows, columns)) < 0.4, made.random((rows, columns)) + 0.1, 0.0)
    depths = made.random((rows, columns)) * 500.0
    a, d = compact(areas, depths)
    assert a.shape[1] == (areas > 0.0).sum(axis=1).max(initial=0)
    for k in range(rows):
        local = areas[k] > 0.0
        assert a[k][a[k] > 0.0].tolist() == areas[k, local].tolist()
        assert d[k][a[k] > 0.0].tolist() == depths[k, local].tolist()


@pytest.mark.parametrize("bits", [1, 8, 62, 63, 130])
def test_first_of_each_row_however_many_bits(bits):
    made = np.random.default_rng(bits)
    rows = made.random((40, bits)) < 0.5
    rows = rows[made.integers(0, 40, 200)]
    seen: dict[bytes, int] = {}
    for k, row in enumerate(rows):
        seen.setdefault(row.tobytes(), k)
    assert first_of_each(rows).tolist() == sorted(seen.values())


def test_a_thinned_line_keeps_its_ends_and_extremes():
    x = np.linspace(0.0, 700.0, 9000)
    y = np.sin(x / 3.0) * x
    y[4321] = 5000.0
    a, b = thinned(x, y)
    assert len(a) < 0.9 * len(x)
    assert (a[0], a[-1]) == (x[0], x[-1])
    assert (b.max(), b.min()) == (y.max(), y.min())
    assert (np.diff(a) >= 0.0).all()
    few = np.arange(float(MAXIMUM_POINTS))
    assert thinned(few, few)[0] is few


def test_each_lap_has_one_partner_of_its_kind():
    """Against a search of every pair."""
    made = np.random.default_rng(7)
    for _ in range(40):
        bars = [
            Bar(str(k), str(made.choice(["top", "bottom"])), 1, int(made.integers(1, 3)), "16", 1000.0 * s, 1000.0 * (s + made.integers(2, 7)),
                tuple(str(v) for v in made.choice(["lap", "straight"], 2)), (0.0, 0.0), False)
            for k, s in enumerate(made.integers(0, 12, 14))
        ]  # fmt: skip
        taken: set[int] = set()
        expected = []
        for i in sorted(
            (k for k, b in enumerate(bars) if b.ends[1] == "lap"), key=lambda k: (bars[k].end, k)
        ):
            a = bars[i]
            result = [
                j for j, b in enumerate(bars)
                if j != i and j not in taken and (a.face, a.layer, a.size, a.count) == (b.face, b.layer, b.size, b.count)
                and b.ends[0] == "lap" and a.start < b.start <= a.end < b.end
            ]  # fmt: skip
            if result:
                j = max(result, key=lambda k: (bars[k].start, -k))
                taken.add(j)
                expected.append((i, j))
        assert lapped_pairs(bars) == sorted(expected)


def test_lines_are_drawn_where_they_have_values():
    nan = np.nan
    assert runs(np.array([nan, 1.0, 2.0, nan, nan, 3.0])) == [slice(1, 3), slice(5, 6)]
    assert runs(np.array([nan, nan])) == []
    assert runs(np.array([1.0])) == [slice(0, 1)]


def test_a_text_is_put_where_it_has_room():
    scene = Scene(200.0)
    assert scene.add_clear(Words(100.0, 50.0, "mid-span", anchor="middle"))
    assert not scene.add_clear(Words(100.0, 52.0, "again", anchor="middle"))
    assert scene.add_clear(Words(100.0, 80.0, "below", anchor="middle"))
    assert not scene.add_clear(Words(198.0, 20.0, "past the edge"))
    assert not scene.add_clear(Words(2.0, 20.0, "past the edge", anchor="end"))
    assert [w.text for w in scene.texts()] == ["mid-span", "below"]


def test_cover_is_that_of_the_thickest_stirrups_and_of_the_thickest_bars_inside_the_thinnest_ones():
    """Table 20.5.1.3.1 in weather: 40 mm to No. 16, 50 from No. 19."""
    from upright_bramble.codes.parts import CoverWish

    code = get_code("aci318m-19")

    def required(bars: tuple[float, float], ties: tuple[float, float]) -> float:
        return code.cover.required(CoverWish("weather", None, None, None, bars, ties, 300.0, True)).top

    assert required((12.7, 15.9), (9.5, 9.5)) == 40.0
    assert required((12.7, 25.4), (9.5, 9.5)) == 45.0  # 50 less the stirrup of 9.5
    assert required((12.7, 25.4), (9.5, 12.7)) == 45.0
    assert required((12.7, 15.9), (9.5, 19.1)) == 50.0


def test_least_steel_over_a_wide_flange_in_tension_has_twice_the_web():
    from upright_bramble.codes.aci318.bending import minimum_steel_width

    assert float(minimum_steel_width(300.0, 1500.0)) == 600.0
    assert float(minimum_steel_width(300.0, 500.0)) == 500.0


@pytest.mark.parametrize(
    ("first", "end", "fine"), [(5000.0, 6149.0, True), (5000.0, 6450.0, False), (-300.0, 900.0, False)]
)
def test_stirrups_stand_inside_the_concrete_from_the_first_to_the_last(first, end, fine):
    made = line([6000.0], uniform(1, [6000.0], 10.0))
    bars = tuple(Bar(m, m, 1, 2, "16", -120.0, 6120.0) for m in ("bottom", "top"))
    checks = ub.check(made, Layout(bars, (StirrupZone("20", "8", 2, first, end, 200.0),))).checks
    assert any(c.kind.id == "inside.stirrups" and not c.ok for c in checks) != fine


@pytest.mark.parametrize("away", [0.0, 150.0, -400.0])
def test_a_section_is_symmetric_wherever_its_corners_are_counted_from(away):
    """A T has its mirror about its own middle, an L has none; a hole beside the middle takes it away."""
    from upright_bramble.section.shape import shape_of

    tee = [
        (-300.0, 600.0),
        (-300.0, 450.0),
        (-100.0, 450.0),
        (-100.0, 0.0),
        (100.0, 0.0),
        (100.0, 450.0),
        (300.0, 450.0),
        (300.0, 600.0),
    ]
    ell = [(0.0, 0.0), (400.0, 0.0), (400.0, 150.0), (150.0, 150.0), (150.0, 600.0), (0.0, 600.0)]
    hole = [(-60.0, 100.0), (-20.0, 100.0), (-20.0, 200.0), (-60.0, 200.0)]

    def moved(points):
        return [(x + away, y) for x, y in points]

    assert shape_of(moved(tee)).symmetric
    assert not shape_of(moved(ell)).symmetric
    assert not shape_of(moved(tee), [moved(hole)]).symmetric
    assert shape_of(moved(tee), [moved([(-x, y) for x, y in hole[::-1]]), moved(hole)]).symmetric


def test_spans_of_continuous_beams_on_wide_supports_by_is_456():
    """22.2(b): between the faces of wide supports; with a free end the lesser of half the depth and half that support beyond."""
    from upright_bramble.codes.is456.analysis import effective_span

    wide = {"centres": 6600.0, "supports": (700.0, 700.0)}
    assert effective_span("continuous", 6000.0, 500.0, **wide) == 6000.0
    assert effective_span("continuous", 6000.0, 500.0, end=300.0, **wide) == 6150.0
    assert effective_span("continuous", 6000.0, 500.0, end=700.0, **wide) == 6250.0
    narrow = {"centres": 6300.0, "supports": (300.0, 300.0)}
    assert effective_span("continuous", 6000.0, 500.0, **narrow) == 6300.0
    assert effective_span("continuous", 6000.0, 200.0, **narrow) == 6200.0


def test_high_yield_bars_of_bs_8110_bond_as_deformed_ones_from_400_mpa_on():
    """Table 3.26: type 2 with 0.5 sqrt(f_cu), plain bars of grade 250 with 0.28."""
    from upright_bramble.beam import Concrete, Steel

    code, phi, place = get_code("bs8110-97"), np.array([16.0]), (np.array([50.0]), np.array([500.0]))

    def stress(f_y: float) -> float:
        length = float(code.bond.anchorage(Concrete(35.0), Steel(f_y), phi, *place)[0])
        return code.materials.steel_law(Steel(f_y)).yield_stress * 16.0 / (4.0 * length)

    assert stress(410.0) == pytest.approx(stress(460.0), rel=1e-6)
    assert stress(250.0) == pytest.approx(0.56 * stress(460.0), rel=1e-3)
