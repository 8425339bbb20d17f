"""Tables of IS 456, BS 8110 and CSA A23.3, written here once more from the standards themselves."""

from __future__ import annotations

import pytest

from upright_bramble.codes.bs8110 import analysis as bs_analysis
from upright_bramble.codes.bs8110 import bending as bs_bending
from upright_bramble.codes.bs8110 import bond as bs_bond
from upright_bramble.codes.bs8110 import cover as bs_cover
from upright_bramble.codes.bs8110 import deflection as bs_deflection
from upright_bramble.codes.csa_a23 import bond as csa_bond
from upright_bramble.codes.csa_a23 import cracking as csa_cracking
from upright_bramble.codes.csa_a23 import detailing as csa_detailing
from upright_bramble.codes.is456 import analysis, bond, cover, cracking, deflection, materials, service, shear
from upright_bramble.errors import CodeError

PERCENT = [0.15, 0.25, 0.5, 0.75, 1.0, 1.25, 1.5, 1.75, 2.0, 2.25, 2.5, 2.75, 3.0]


@pytest.mark.parametrize(
    ("grade", "row", "highest"),
    [
        (15, "0.28 0.35 0.46 0.54 0.60 0.64 0.68 0.71 0.71 0.71 0.71 0.71 0.71", 2.5),
        (20, "0.28 0.36 0.48 0.56 0.62 0.67 0.72 0.75 0.79 0.81 0.82 0.82 0.82", 2.8),
        (25, "0.29 0.36 0.49 0.57 0.64 0.70 0.74 0.78 0.82 0.85 0.88 0.90 0.92", 3.1),
        (30, "0.29 0.37 0.50 0.59 0.66 0.71 0.76 0.80 0.84 0.88 0.91 0.94 0.96", 3.5),
        (35, "0.29 0.37 0.50 0.59 0.67 0.73 0.78 0.82 0.86 0.90 0.93 0.96 0.99", 3.7),
        (40, "0.30 0.38 0.51 0.60 0.68 0.74 0.79 0.84 0.88 0.92 0.95 0.98 1.01", 4.0),
    ],
)
def test_shear_stress_of_is(grade, row, highest):
    """Tables 19 and 20; straight between the percentages, no more than at 3 and no less than at 0.15."""
    values = [float(v) for v in row.split()]
    assert shear.concrete_stress(PERCENT, float(grade)) == pytest.approx(values)
    assert float(shear.concrete_stress(0.375, float(grade))) == pytest.approx(0.5 * (values[1] + values[2]))
    assert [float(shear.concrete_stress(p, float(grade))) for p in (0.05, 4.0)] == [values[0], values[-1]]
    assert shear.maximum_stress(float(grade)) == highest
    assert shear.maximum_stress(grade + 4.0) == highest


def test_bond_stress_of_is():
    """26.2.1.1: plain bars in tension; 60 % more of deformed ones, 25 % in compression."""
    for grade, stress in ((20, 1.2), (25, 1.4), (30, 1.5), (35, 1.7), (40, 1.9), (50, 1.9)):
        assert bond.bond_stress(float(grade), deformed=False) == pytest.approx(stress)
        assert bond.bond_stress(float(grade)) == pytest.approx(1.6 * stress)
        assert bond.bond_stress(float(grade), compression=True) == pytest.approx(2.0 * stress)


@pytest.mark.parametrize(
    ("f_y", "by_percent"),
    [(250, (215, 260, 300, 300, 300)), (415, (125, 155, 180, 210, 235)), (500, (105, 130, 150, 175, 195))],
)
def test_bar_distance_of_is(f_y, by_percent):
    """Table 15 at -30, -15, 0, 15 and 30 % of redistribution."""
    assert [cracking.table_distance(float(f_y), p) for p in (-30.0, -15.0, 0.0, 15.0, 30.0)] == list(
        by_percent
    )


def test_cover_of_is():
    """Tables 16 and 16A, Figure 1."""
    assert [cover.durability_cover(e, 30.0) for e in ("mild", "moderate", "severe")] == [20.0, 30.0, 45.0]
    assert [cover.durability_cover(e, 40.0) for e in ("severe", "very severe", "extreme")] == [
        40.0,
        45.0,
        75.0,
    ]  # note 3: 5 mm less from M35
    for hours, simple, continuous, width in (
        (0.5, 20, 20, 200), (1, 20, 20, 200), (1.5, 20, 20, 200), (2, 40, 30, 200), (3, 60, 40, 240), (4, 70, 50, 280),
    ):  # fmt: skip
        assert [cover.fire_cover(hours), cover.fire_cover(hours, True), cover.fire_width(hours)] == [
            simple,
            continuous,
            width,
        ]
    with pytest.raises(CodeError):
        cover.fire_cover(4.5)


def test_steel_and_creep_of_is():
    """38.1 note; Figure 23 with 415 MPa as SP 16 tabulates its strains; 6.2.5.1; C-3."""
    assert [materials.limiting_ratio(f) for f in (250.0, 415.0, 500.0, 550.0)] == [0.53, 0.48, 0.46, 0.44]
    f_yd = 415.0 / 1.15
    for strain, stress in (
        (0.00144, 288.7),
        (0.00163, 306.7),
        (0.00192, 324.8),
        (0.00241, 342.8),
        (0.00276, 351.8),
        (0.0038, 360.9),
    ):
        assert float(materials.stress_of(strain, 415.0, f_yd)) == pytest.approx(
            stress, abs=1.0
        )  # strains are rounded
    assert [round(materials.creep_coefficient(age), 3) for age in (7.0, 28.0, 365.0)] == [2.2, 1.6, 1.1]
    shapes = {"cantilever": 0.5, "simple": 0.125, "one_end": 0.086, "both_ends": 0.063}
    assert shapes == service.SHRINKAGE_SHAPES


def test_coefficients_of_is():
    """Tables 12 and 13, with 20 and 10 N/mm over 6 m."""
    for place, dead, imposed in (
        ("end_span", 1 / 12, 1 / 10), ("interior_span", 1 / 16, 1 / 12), ("support_next_to_end", -1 / 10, -1 / 9),
        ("other_interior_support", -1 / 12, -1 / 9),
    ):  # fmt: skip
        assert analysis.coefficient_moment(place, 20.0, 10.0, 6000.0) == pytest.approx(
            (20.0 * dead + 10.0 * imposed) * 36e6
        )
    for place, dead, imposed in (
        ("end_support", 0.4, 0.45), ("next_to_end_outer", 0.6, 0.6), ("next_to_end_inner", 0.55, 0.6), ("other_interior_support", 0.5, 0.6),
    ):  # fmt: skip
        assert analysis.coefficient_shear(place, 20.0, 10.0, 6000.0) == pytest.approx(
            (20.0 * dead + 10.0 * imposed) * 6000.0
        )


def test_span_over_depth_of_is_and_bs():
    """23.2.1(a); Table 3.9 for rectangles and flanges with b_w/b of 0.3."""
    assert deflection.BASIC == {"cantilever": 7.0, "simple": 20.0, "continuous": 26.0}
    for kind, plain, flanged in (
        ("cantilever", 7.0, 5.6),
        ("simple", 20.0, 16.0),
        ("continuous", 26.0, 20.8),
    ):
        assert bs_deflection.basic_ratio(kind) == plain
        assert bs_deflection.basic_ratio(kind, 0.3) == pytest.approx(flanged)
        assert bs_deflection.basic_ratio(kind, 0.65) == pytest.approx(0.5 * (plain + flanged))
    for shape, k in (
        ("udl", 5 / 48),
        ("central", 1 / 12),
        ("cantilever_udl", 1 / 4),
        ("cantilever_end", 1 / 3),
    ):
        assert bs_deflection.K_VALUES[shape] == pytest.approx(k)


@pytest.mark.parametrize(
    ("kind", "mild", "high"),
    [
        ("rect_tension", 0.24, 0.13), ("web_tension_narrow", 0.32, 0.18), ("web_tension", 0.24, 0.13), ("flange_tension_T", 0.48, 0.26),
        ("flange_tension_L", 0.36, 0.2), ("rect_compression", 0.2, 0.2), ("web_compression", 0.2, 0.2), ("flange_compression", 0.4, 0.4),
        ("flange_transverse", 0.15, 0.15),
    ],
)  # fmt: skip
def test_least_steel_of_bs(kind, mild, high):
    """Table 3.25."""
    assert [bs_bending.minimum_share(kind, f) for f in (250.0, 460.0, 500.0)] == [mild, high, high]


def test_cover_and_bond_of_bs():
    """Tables 3.3, 3.4, 3.5 and 3.26, Figure 3.2."""
    for exposure, row in (
        ("mild", (25, 20, 20, 20, 20)), ("moderate", (None, 35, 30, 25, 20)), ("severe", (None, None, 40, 30, 25)),
        ("very severe", (None, None, 50, 40, 30)), ("most severe", (None, None, None, None, 50)),
    ):  # fmt: skip
        for grade, expected in zip((30.0, 35.0, 40.0, 45.0, 50.0), row, strict=True):
            if expected is None:
                with pytest.raises(CodeError):
                    bs_cover.durability_cover(exposure, grade)
            else:
                assert bs_cover.durability_cover(exposure, grade) == expected
    for hours, simple, continuous, width in (
        (0.5, 20, 20, 200),
        (1.5, 20, 20, 200),
        (2, 40, 30, 200),
        (3, 60, 40, 240),
        (4, 70, 50, 280),
    ):
        assert [bs_cover.fire_cover(hours), bs_cover.fire_cover(hours, True), bs_cover.fire_width(hours)] == [
            simple,
            continuous,
            width,
        ]
    for bar, tension, compression in (
        ("plain", 0.28, 0.35),
        ("type1", 0.4, 0.5),
        ("type2", 0.5, 0.63),
        ("fabric", 0.65, 0.81),
    ):
        assert bs_bond.bond_stress(36.0, bar) == pytest.approx(6.0 * tension)
        assert bs_bond.bond_stress(36.0, bar, True) == pytest.approx(6.0 * compression)
    for place, share in (
        ("outer_support", 0.0), ("end_span", 0.09), ("first_interior_support", -0.11), ("interior_span", 0.07), ("interior_support", -0.08),
    ):  # fmt: skip
        assert bs_analysis.simplified_moment(place, 200e3, 6000.0) == pytest.approx(share * 1200e6)


def test_bars_of_csa():
    """A23.1 Table 17: bends of main bars, of grade R and of ties; 10.6.1, 10.6.2; 12.2.4."""
    for d_b, bend, hard in (
        (11.3, 60, 70), (16.0, 90, 100), (19.5, 100, 120), (25.2, 150, 150), (29.9, 200, 250), (35.7, 250, 300), (43.7, 400, 450),
        (56.4, 550, 600),
    ):  # fmt: skip
        assert [csa_detailing.bend_diameter(d_b), csa_detailing.bend_diameter(d_b, False)] == [bend, hard]
    assert [csa_detailing.tie_bend_diameter(d) for d in (11.3, 16.0, 19.5)] == [45, 65, 100]
    assert [csa_cracking.z_limit(exterior) for exterior in (False, True)] == [30_000.0, 25_000.0]
    assert csa_cracking.SKIN == {"interior": 0.008, "exterior": 0.010}
    assert csa_bond.DENSITY == {"normal": 1.0, "semi-low": 1.2, "low": 1.3}


@pytest.mark.parametrize(
    ("exposure", "millimetres", "grade"),
    [
        ("mild", 20, 20),
        ("moderate", 30, 25),
        ("severe", 45, 30),
        ("very severe", 50, 35),
        ("extreme", 75, 40),
    ],
)
def test_exposures_of_is_456(exposure, millimetres, grade):
    """Tables 16 and 5; 5 mm less for thin bars in mild exposure, and from M35 on in severe and very severe."""
    assert cover.durability_cover(exposure, 30.0, 20.0) == millimetres
    assert cover.least_grade(exposure) == grade
    assert cover.durability_cover(exposure, 30.0, 12.0) == millimetres - 5 * (exposure == "mild")
    assert cover.durability_cover(exposure, 35.0, 20.0) == millimetres - 5 * ("severe" in exposure)
