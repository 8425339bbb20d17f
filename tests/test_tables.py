"""Tables of the standards, written here once more from the standards themselves."""

from __future__ import annotations

import math

import pytest

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes import get_code
from upright_bramble.codes.en1992 import cover, cracking, materials
from upright_bramble.codes.parts import CoverWish, Slender
from upright_bramble.errors import CodeError

EN, US, SI = get_code("en1992-1-1"), get_code("aci318-19"), get_code("aci318m-19")


@pytest.mark.parametrize(
    ("exposure", "by_class", "minimum", "lower_from"),
    [
        ("X0", (10, 10, 10, 10, 15, 20), 12, 30),
        ("XC1", (10, 10, 10, 15, 20, 25), 20, 30),
        ("XC2", (10, 15, 20, 25, 30, 35), 25, 35),
        ("XC3", (10, 15, 20, 25, 30, 35), 30, 35),
        ("XC4", (15, 20, 25, 30, 35, 40), 30, 40),
        ("XD1", (20, 25, 30, 35, 40, 45), 30, 40),
        ("XD2", (25, 30, 35, 40, 45, 50), 30, 40),
        ("XD3", (30, 35, 40, 45, 50, 55), 35, 45),
        ("XS1", (20, 25, 30, 35, 40, 45), 30, 40),
        ("XS2", (25, 30, 35, 40, 45, 50), 35, 45),
        ("XS3", (30, 35, 40, 45, 50, 55), 35, 45),
    ],
)
def test_exposure(exposure, by_class, minimum, lower_from):
    """EN 1992-1-1: Table 4.4N by class S1 to S6, the strength of Table E.1N, the one that lowers the class in Table 4.3N."""
    assert [cover.durability_cover(exposure, k) for k in range(1, 7)] == list(by_class)
    assert cover.indicative_strength(exposure) == minimum
    assert [cover.structural_class(exposure, f) for f in (lower_from - 1.0, float(lower_from))] == [4, 3]


@pytest.mark.parametrize(
    ("minutes", "simple", "continuous"),
    [
        (30, ((80, 25), (120, 20), (160, 15)), ((80, 15), (160, 12))),
        (60, ((120, 40), (160, 35), (200, 30), (300, 25)), ((120, 25), (200, 12))),
        (90, ((150, 55), (200, 45), (300, 40), (400, 35)), ((150, 35), (250, 25))),
        (120, ((200, 65), (240, 60), (300, 55), (500, 50)), ((200, 45), (300, 35), (500, 30))),
        (180, ((240, 80), (300, 70), (400, 65), (600, 60)), ((240, 60), (400, 50), (600, 40))),
        (240, ((280, 90), (350, 80), (500, 75), (700, 70)), ((280, 75), (500, 60), (700, 50))),
    ],
)
def test_fire(minutes, simple, continuous):
    """EN 1992-1-2, Tables 5.5 and 5.6: what a width has holds up to the next."""
    for table, over in ((simple, False), (continuous, True)):
        for k, (width, axis) in enumerate(table):
            assert cover.fire_axis_distance(minutes, float(width), over) == axis
            if k:
                assert cover.fire_axis_distance(minutes, width - 1.0, over) == table[k - 1][1]
        with pytest.raises(CodeError):
            cover.fire_axis_distance(minutes, table[0][0] - 1.0, over)


@pytest.mark.parametrize(
    ("stress", "thick", "apart"),
    [
        (160, (40, 32, 25), (300, 300, 200)),
        (200, (32, 25, 16), (300, 250, 150)),
        (240, (20, 16, 12), (250, 200, 100)),
        (280, (16, 12, 8), (200, 150, 50)),
        (320, (12, 10, 6), (150, 100, 0)),
        (360, (10, 8, 5), (100, 50, 0)),
        (400, (8, 6, 4), (0, 0, 0)),
        (450, (6, 5, 0), (0, 0, 0)),
    ],
)
def test_cracks_without_calculation(stress, thick, apart):
    """EN 1992-1-1, Tables 7.2N and 7.3N for 0.4, 0.3 and 0.2 mm, and half-way between them; h/(2 (h - d)) of 5, f_ct of 2.9."""
    for k, width in enumerate((0.4, 0.3, 0.2)):
        assert float(cracking.maximum_bar_diameter(float(stress), width, 2.9, 500.0, 450.0)) == pytest.approx(
            thick[k]
        )
        assert float(cracking.maximum_bar_spacing(float(stress), width)) == apart[k]
    assert float(cracking.maximum_bar_spacing(float(stress), 0.35)) == pytest.approx(
        0.5 * (apart[0] + apart[1])
    )
    assert float(cracking.maximum_bar_spacing(float(stress), 0.19)) == 0.0


def test_cements():
    """EN 1992-1-1, 3.1.2(6), B.1(2) and B.2(1) for S, N and R at 7 days and C30."""
    for cement, s, alpha, one, two in (
        ("S", 0.38, -1.0, 3.0, 0.13),
        ("N", 0.25, 0.0, 4.0, 0.12),
        ("R", 0.20, 1.0, 6.0, 0.11),
    ):
        assert materials.strength_growth(7.0, cement) == pytest.approx(math.exp(s * (1.0 - 2.0)))
        assert materials.adjusted_loading_age(7.0, cement) == pytest.approx(
            7.0 * (9.0 / (2.0 + 7.0**1.2) + 1.0) ** alpha
        )
        dry = 0.85 * (220.0 + 110.0 * one) * math.exp(-two * 3.8) * 1e-6 * 1.55 * (1.0 - 0.8**3)
        assert materials.drying_shrinkage_nominal(30.0, 80.0, cement) == pytest.approx(dry)


def test_aggregates():
    """EN 1992-1-1, 3.1.3(2): a tenth less of limestone, 30 % less of sandstone, a fifth more of basalt."""
    whole = 22_000.0 * 3.8**0.3
    for aggregate, share in (("quartzite", 1.0), ("limestone", 0.9), ("sandstone", 0.7), ("basalt", 1.2)):
        assert materials.secant_modulus(30.0, aggregate) == pytest.approx(share * whole)


def test_grades():
    """EN 1992-1-1, Table 3.1 and Table C.1."""
    for grade, strength in (
        ("C12/15", 12),
        ("C28/35", 28),
        ("C30/37", 30),
        ("C32/40", 32),
        ("C55/67", 55),
        ("C90/105", 90),
    ):
        assert EN.materials.concrete_strength(grade) == strength
    for grade, strength, ductility in (("B400A", 400, "A"), ("B500B", 500, "B"), ("B600C", 600, "C")):
        steel = EN.materials.steel(grade)
        assert (steel.strength, steel.ductility) == (strength, ductility)


def test_sizes_of_bars():
    """ASTM A615 in inches and in millimetres; EN 1992-1-1 by diameter."""
    inches = {"3": (3 / 8, 0.11), "4": (0.5, 0.2), "5": (5 / 8, 0.31), "6": (0.75, 0.44), "7": (7 / 8, 0.6), "8": (1.0, 0.79), "9": (1.128, 1.0),
              "10": (1.27, 1.27), "11": (1.41, 1.56), "14": (1.693, 2.25), "18": (2.257, 4.0)}  # fmt: skip
    metric = {"10": (9.5, 71), "13": (12.7, 129), "16": (15.9, 199), "19": (19.1, 284), "22": (22.2, 387), "25": (25.4, 510), "29": (28.7, 645),
              "32": (32.3, 819), "36": (35.8, 1006), "43": (43.0, 1452), "57": (57.3, 2581)}  # fmt: skip
    assert set(US.sizes) == set(inches)
    assert set(SI.sizes) == set(metric)
    for name, (d, a) in inches.items():
        assert (US.sizes[name].diameter, US.sizes[name].area) == pytest.approx((25.4 * d, 25.4**2 * a))
    for name, (d, a) in metric.items():
        assert (SI.sizes[name].diameter, SI.sizes[name].area) == pytest.approx((d, a))
    for name in EN.sizes:
        assert (EN.sizes[name].diameter, EN.sizes[name].area) == pytest.approx(
            (float(name), math.pi * float(name) ** 2 / 4.0)
        )


def test_span_depth_by_system():
    """EN 1992-1-1, Table 7.4N: 1.3 for end spans, 1.5 for inner ones, 0.4 for cantilevers, of what simple spans may have."""
    spans = {
        ends: Slender(6000.0, 450.0, 500.0, ends, 0.009, 0.0, 0.0, 1.0, 1.0)
        for ends in ("simple", "end", "interior", "cantilever")
    }
    permitted = {
        ends: EN.deflection.span_depth(Concrete(30.0), Steel(500.0, "B"), s)[1] for ends, s in spans.items()
    }
    assert permitted["end"] / permitted["simple"] == pytest.approx(1.3)
    assert permitted["interior"] / permitted["simple"] == pytest.approx(1.5)
    assert permitted["cantilever"] / permitted["simple"] == pytest.approx(0.4)
    rho, rho_0 = 0.009, math.sqrt(30.0) * 1e-3
    assert permitted["simple"] == pytest.approx(11.0 + 1.5 * math.sqrt(30.0) * rho_0 / rho)
    # compression bars count as far as the moment requires them, and as they are there (7.16b)
    for there, required, counted in ((0.012, 0.0, 0.0), (0.012, 0.003, 0.003), (0.002, 0.003, 0.002)):
        slender = Slender(6000.0, 450.0, 500.0, "simple", rho, there, required, 1.0, 1.0)
        first = 1.5 * math.sqrt(30.0) * rho_0 / (rho - counted)
        second = math.sqrt(30.0) / 12.0 * math.sqrt(counted / rho_0)
        limit = EN.deflection.span_depth(Concrete(30.0), Steel(500.0, "B"), slender)[1]
        assert limit == pytest.approx(11.0 + first + second)


@pytest.mark.parametrize(
    ("bars", "ties", "aggregate", "fire", "wanted"),
    [
        ((16.0, 32.0), (8.0, 10.0), 20.0, None, (35.0, 35.0, 35.0)),  # 32 + 10 less the stirrup of 8
        ((16.0, 32.0), (8.0, 10.0), 40.0, None, (40.0, 40.0, 40.0)),  # 5 more for coarse aggregate
        ((12.0, 12.0), (12.0, 12.0), 20.0, None, (25.0, 25.0, 25.0)),  # 12 + 10 of the stirrup
        ((12.0, 12.0), (12.0, 12.0), 40.0, None, (30.0, 30.0, 30.0)),
        # R120, 300 wide, simple: 55 - 8 - 8, and 10 more at the sides
        ((16.0, 20.0), (8.0, 8.0), 20.0, 120, (25.0, 40.0, 50.0)),
        # R60: 25 + 10 is within the 25 that 20 mm bars need
        ((16.0, 20.0), (8.0, 8.0), 20.0, 60, (25.0, 25.0, 25.0)),
    ],
)
def test_cover(bars, ties, aggregate, fire, wanted):
    """EN 1992-1-1, 4.4.1 with XC1 (15 mm) and 10 mm of deviation; EN 1992-1-2, Table 5.5; in steps of 5 mm."""
    wish = CoverWish("XC1", fire, None, None, bars, ties, 300.0, False, 30.0, aggregate)
    result = EN.cover.required(wish)
    assert (result.top, result.bottom, result.sides) == wanted
