"""Cover worked out by each code for stirrups, for main bars inside them and for fire, by hand."""

from __future__ import annotations

import pytest

from upright_bramble.codes import get_code
from upright_bramble.codes.parts import CoverWish
from upright_bramble.errors import CodeError

IS, BS, CSA, ACI, EN = "is456-2000", "bs8110-97", "csa-a23.3-19", "aci318m-19", "en1992-1-1"


def wish(exposure: str, strength: float, **other) -> CoverWish:
    usual = {
        "fire": None, "structural_class": None, "deviation": None, "bars": (12.0, 25.0), "ties": (8.0, 10.0), "width": 300.0,
        "continuous": True, "strength": strength, "aggregate": 20.0,
    }  # fmt: skip
    return CoverWish(exposure, **{**usual, **other})


@pytest.mark.parametrize(
    ("code", "asked", "cover"),
    [
        (IS, wish("mild", 20.0), 20.0),  # Table 16; bars of 25 inside stirrups of 8 ask for 17
        (IS, wish("mild", 20.0, bars=(10.0, 12.0)), 15.0),  # 5 less up to 12 mm
        (IS, wish("moderate", 25.0), 30.0),
        (IS, wish("severe", 30.0), 45.0),
        (IS, wish("severe", 35.0), 40.0),  # 5 less from M35 on
        (IS, wish("extreme", 40.0), 75.0),
        (IS, wish("mild", 20.0, bars=(12.0, 40.0)), 35.0),  # 26.4.1: 40 - 8 = 32, in steps of 5
        (IS, wish("mild", 20.0, fire=120), 30.0),  # Table 16A, continuous
        (IS, wish("mild", 20.0, fire=120, continuous=False), 40.0),
        (IS, wish("mild", 20.0, fire=180, width=240.0), 40.0),
        (IS, wish("severe", 30.0, fire=60), 45.0),  # durability rules
        (BS, wish("mild", 30.0), 25.0),  # Table 3.3
        (BS, wish("mild", 35.0), 20.0),
        (BS, wish("moderate", 35.0), 35.0),
        (BS, wish("moderate", 37.0), 35.0),  # the grade below
        (BS, wish("moderate", 50.0, bars=(12.0, 32.0)), 25.0),  # 3.3.1.2: 32 - 8 = 24
        (BS, wish("mild", 35.0, aggregate=40.0), 35.0),  # 3.3.1.3: 40 - 8 = 32
        (BS, wish("most severe", 50.0), 50.0),
        (BS, wish("mild", 35.0, fire=120), 30.0),  # Table 3.4
        (BS, wish("mild", 35.0, fire=120, continuous=False), 40.0),
        (BS, wish("mild", 35.0, fire=240), 50.0),
        (BS, wish("mild", 35.0, bars=(12.0, 40.0)), 35.0),  # 40 - 8 = 32
        (BS, wish("mild", 35.0, fire=90), 20.0),
        (BS, wish("mild", 35.0, fire=180, continuous=False), 60.0),
        (BS, wish("mild", 35.0, fire=240, continuous=False), 70.0),
        (IS, wish("mild", 20.0, fire=90, continuous=False), 20.0),
        (IS, wish("mild", 20.0, fire=180, width=240.0, continuous=False), 60.0),
        (IS, wish("mild", 20.0, fire=240, width=280.0), 50.0),
        (IS, wish("mild", 20.0, fire=240, width=280.0, continuous=False), 70.0),
        (CSA, wish("N", 30.0), 30.0),  # A23.1 Table 17
        (CSA, wish("N", 30.0, aggregate=40.0), 40.0),  # 1.0 a_g
        (CSA, wish("F-1", 30.0), 40.0),  # 1.5 x 25 - 8 = 29.5 of main bars, 1.5 x 20 of the aggregate
        (CSA, wish("F-1", 30.0, bars=(16.0, 35.7)), 50.0),  # 1.5 x 35.7 - 8 = 45.6
        (CSA, wish("S-2", 30.0, aggregate=28.0), 45.0),  # 1.5 x 28 = 42
        (CSA, wish("C-1", 35.0), 60.0),
        (CSA, wish("A-2", 35.0, bars=(16.0, 35.7)), 65.0),  # 2 x 35.7 - 8 = 63.4
        (ACI, wish("inside", 28.0), 40.0),  # Table 20.5.1.3.1
        (ACI, wish("weather", 28.0, bars=(12.7, 15.9)), 40.0),
        (ACI, wish("weather", 28.0, bars=(12.7, 19.1)), 45.0),  # 50 less stirrups of 8, in steps of 5
        (ACI, wish("earth", 28.0), 75.0),
        ("aci318-19", wish("inside", 28.0, ties=(9.5, 12.7)), 38.1),
        ("aci318-19", wish("weather", 28.0, bars=(12.7, 25.4), ties=(9.5, 12.7)), 44.45),  # 2 - 3/8, up to 1/4 in
        (EN, wish("XC1", 30.0), 30.0),  # class S3: 10 + 10 of stirrups; 25 + 10 - 8 = 27 of bars
        (EN, wish("XC3", 30.0), 35.0),  # S4: 25 + 10
        (EN, wish("XC3", 35.0), 30.0),  # S3: 20 + 10
        (EN, wish("XC3", 30.0, deviation=5.0), 30.0),
        (EN, wish("XC3", 30.0, structural_class=6), 45.0),  # S6: 35 + 10
        (EN, wish("XC1", 30.0, bars=(12.0, 40.0), aggregate=32.0), 45.0),  # 40 + 10 - 8 = 42
        (EN, wish("XC1", 30.0, bars=(12.0, 40.0), aggregate=40.0), 50.0),  # Table 4.2: 5 more above 32 mm
        (EN, wish("XD3", 40.0, bars=(12.0, 40.0)), 55.0),  # S4: 45 + 10; 40 + 10 - 8 of bars
    ],
)  # fmt: skip
def test_cover(code, asked, cover):
    worked_out = get_code(code).cover.required(asked)
    assert worked_out.bottom == pytest.approx(cover)
    assert worked_out.top == pytest.approx(cover)
    assert worked_out.sides == pytest.approx(cover)


def test_fire_asks_for_distances_of_axes_and_more_at_the_sides():
    """EN 1992-1-2, 5.6, of the thinnest bars, 12 mm in stirrups of 8, so 14 mm less for cover, and 10 mm more at the sides. R120 at
    300 mm: 55 (Table 5.5, for simple beams and continuous ones, whose top bars no rule makes longer). R60 at 150 mm: 40 of simple
    beams, 25 of continuous ones (Table 5.6), which durability and bond exceed at the soffit."""
    for asked, soffit, sides in (
        (wish("XC1", 30.0, fire=120), 45.0, 55.0),
        (wish("XC1", 30.0, fire=120, continuous=False), 45.0, 55.0),
        (wish("XC1", 30.0, fire=60, width=150.0, continuous=False), 30.0, 40.0),
        (wish("XC1", 30.0, fire=60, width=150.0), 30.0, 30.0),
        (wish("XC1", 30.0, fire=240), 80.0, 90.0),  # 90 - 14 at 280 mm and more
    ):
        cover = get_code(EN).cover.required(asked)
        assert (cover.top, cover.bottom, cover.sides) == pytest.approx((30.0, soffit, sides))


@pytest.mark.parametrize(
    ("code", "asked", "words"),
    [
        (IS, wish("severe", 25.0), "at least M30 (Table 5)"),
        (IS, wish("mild", 20.0, fire=120, width=180.0), "2 h requires beams 200 mm wide, not 180"),
        (IS, wish("mild", 20.0, fire=300), "no more than 4 h"),
        (IS, wish("mild", 20.0, deviation=5.0), "no deviation to add"),
        (BS, wish("severe", 35.0), "at least C40 (Table 3.3)"),
        (BS, wish("mild", 25.0), "at least C30 (Table 3.3)"),
        (BS, wish("mild", 35.0, fire=240, width=250.0), "4 h requires beams 280 mm wide, not 250"),
        (BS, wish("mild", 35.0, structural_class=4), "no structural class"),
        (CSA, wish("N", 30.0, fire=60), "fire is not in this code"),
        (CSA, wish("N", 30.0, deviation=5.0), "neither a deviation nor a structural class"),
        (CSA, wish("X-1", 30.0), "is not a valid exposure"),
        (ACI, wish("inside", 28.0, fire=60), "fire is not in this code"),
        (ACI, wish("XC1", 28.0), "is not a valid exposure"),
        (EN, wish("XC1", 30.0, fire=100), "R100 is not in the tables"),
    ],
)
def test_what_no_cover_serves(code, asked, words):
    with pytest.raises(CodeError) as error:
        get_code(code).cover.required(asked)
    assert words in str(error.value)
