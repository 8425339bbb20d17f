"""The two sets of expressions: inch-pound (318-19) and SI (318M-19). All other modules are written once, in
N, mm, MPa.

Where the code has a number times sqrt(f'c), `root` is that square root as a stress in MPa and the number is
the set's own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import Units

PSI = 6.894757293168361e-3
IN = 25.4


@dataclass(frozen=True)
class Expressions:
    """Numbers of one set. `stress` and `length` are its units in MPa and mm; the rest are coefficients by
    clause."""

    name: str
    stress: float
    length: float
    modulus: float  # 19.2.2.1(b), of root
    rupture: float  # 19.2.3.1
    steel_modulus: float  # 20.2.2.2, MPa
    as_min: tuple[float, float]  # 9.6.1.2: of root, and in the unit of stress
    v_c: tuple[float, float, float]  # Table 22.5.5.1 (a), (b) and the most
    v_s_most: float  # 22.5.1.2
    close: float  # Table 9.7.6.2.2
    maximum_spacing: tuple[float, float]  # Table 9.7.6.2.2, mm
    av_threshold: float  # 9.6.3.1
    av_min: tuple[float, float]  # Table 9.6.3.4
    size: float  # 22.5.5.1.3: d over this, mm
    torsion: tuple[float, float]  # Tables 22.7.4.1 and 22.7.5.1
    al_min: tuple[float, float]  # 9.6.4.3
    bond: tuple[float, float, float, float, float]  # Table 25.4.2.3 (four) and 25.4.2.4
    hook: float  # 25.4.3.1
    hook_14: float  # 25.4.3.1 of 2014
    axial_14: tuple[float, float]  # 22.5.6.1, 22.5.7.1 of 2014, MPa
    confinement: tuple[float, float]  # Table 25.4.3.2, psi_c: f'c over the first plus 0.6, 1 from the second
    compression: tuple[float, float]  # 25.4.9.2
    crack: tuple[float, float, float]  # Table 24.3.2: mm, mm, MPa
    root_most: float  # 22.5.3.1, in the unit of stress
    strength: tuple[
        float, float
    ]  # f'c, MPa: 19.2.1.1, and where 22.5.3.1 and the block have been shown to hold
    grades: tuple[float, float]  # Table 25.4.2.5: yield up to which psi_g is 1.0, 1.15; MPa
    shear_yield: float  # Table 20.2.2.4(a), MPa
    min_yield: float  # 9.6.1.2, MPa

    printed: Mapping[str, str]  # the numbers as formulas tell them, in the set's units
    units: Units  # that go with them

    @property
    def twelve(self) -> float:
        """12 in, or 300 mm."""
        return 12.0 * self.length if self.length > 1.0 else 300.0

    @property
    def six(self) -> float:
        """6 in, or 150 mm."""
        return 0.5 * self.twelve

    def root(self, f_c: Floats) -> Array:
        """sqrt(f'c) as a stress, MPa."""
        return np.asarray(np.sqrt(np.asarray(f_c) / self.stress) * self.stress)

    def capped_root(self, f_c: Floats) -> Array:
        """sqrt(f'c) no more than 22.5.3.1 and 25.4.1.4 allow, MPa."""
        return np.minimum(self.root(f_c), self.root_most * self.stress)


INCH_POUND = Expressions(
    name="aci318-19",
    stress=PSI,
    length=IN,
    modulus=57_000.0,
    rupture=7.5,
    steel_modulus=29e6 * PSI,
    as_min=(3.0, 200.0),
    v_c=(2.0, 8.0, 5.0),
    v_s_most=8.0,
    close=4.0,
    maximum_spacing=(24.0 * IN, 12.0 * IN),
    av_threshold=1.0,
    av_min=(0.75, 50.0),
    size=10.0 * IN,
    torsion=(1.0, 4.0),
    al_min=(5.0, 25.0),
    bond=(25.0, 20.0, 50.0 / 3.0, 40.0 / 3.0, 40.0 / 3.0),
    hook=55.0,
    hook_14=50.0,
    axial_14=(2000.0 * PSI, 500.0 * PSI),
    confinement=(15_000.0 * PSI, 6000.0 * PSI),
    compression=(50.0, 0.0003),
    crack=(15.0 * IN, 12.0 * IN, 40_000.0 * PSI),
    root_most=100.0,
    strength=(2500.0 * PSI, 15_000.0 * PSI),
    grades=(60_000.0 * PSI, 80_000.0 * PSI),
    shear_yield=60_000.0 * PSI,
    min_yield=80_000.0 * PSI,
    printed={
        "E": "57000",
        "r": "7.5",
        "Es": "29000000",
        "as0": "3",
        "as1": "200",
        "fymin": "80000",
        "vc0": "2",
        "vc1": "8",
        "vcm": "5",
        "vs": "8",
        "avt": "1",
        "av0": "0.75",
        "av1": "50",
        "size": "10",
        "tt": "1",
        "tc": "4",
        "b0": "25",
        "b1": "20",
        "b2": "50/3",
        "b3": "40/3",
        "b4": "(40/3)",
        "small": "0.756",
        "hook": "55",
        "hook14": "50",
        "nc": "2000",
        "nt": "500",
        "two": "2",
        "hf0": "15000",
        "hf1": "6000",
        "c0": "50",
        "c1": "0.0003",
        "cr0": "15",
        "cr1": "12",
        "cr2": "40000",
        "rm": "100",
        "twelve": "12",
        "eight": "8",
        "six": "6",
        "three": "3",
        "inch": "1",
        "eleven": "1.5",
        "bar": "0.375",
        "w1": "12",
        "w0": "24",
        "close": "4",
        "db25": "1.004",
        "db36": "1.42",
        "db16": "0.63",
        "hk": "2.5",
        "al0": "5",
        "al1": "25",
        "g": "60000",
        "gd": "100000",
        "fc0": "3000",
        "c_in": "1.5",
        "c_w": "2",
        "c_e": "3",
        "size6": "0.74",
        "sc0": "0.0005",
        "sc1": "0.0009",
        "six6": "0.74",
        "g0": "60000",
        "g1": "80000",
        "beta0": "4000",
        "beta1": "1000",
        "beta2": "8000",
    },
    units=Units(
        {
            "mm": IN,
            "mm2": IN**2,
            "mm3": IN**3,
            "mm4": IN**4,
            "MPa": PSI,
            "N": PSI * IN**2,
            "N mm": PSI * IN**3,
            "mm2/mm": IN,
            "1/mm": 1.0 / IN,
        },
        {
            "mm": "in",
            "mm2": "in2",
            "mm3": "in3",
            "mm4": "in4",
            "MPa": "psi",
            "N": "lb",
            "N mm": "lb in",
            "mm2/mm": "in2/in",
            "1/mm": "1/in",
        },
        {"N": 1e3, "N mm": 12e3},
    ),
)

METRIC = Expressions(
    name="aci318m-19",
    stress=1.0,
    length=1.0,
    modulus=4700.0,
    rupture=0.62,
    steel_modulus=200_000.0,
    as_min=(0.25, 1.4),
    v_c=(0.17, 0.66, 0.42),
    v_s_most=0.66,
    close=0.33,
    maximum_spacing=(600.0, 300.0),
    av_threshold=0.083,
    av_min=(0.062, 0.35),
    size=250.0,
    torsion=(0.083, 0.33),
    al_min=(0.42, 0.175),
    bond=(2.1, 1.7, 1.4, 1.1, 1.1),
    hook=23.0,
    hook_14=1.0 / 0.24,
    axial_14=(14.0, 1.0 / 0.29),
    confinement=(105.0, 42.0),
    compression=(1.0 / 0.24, 0.043),
    crack=(380.0, 300.0, 280.0),
    root_most=8.3,
    strength=(17.0, 100.0),
    grades=(420.0, 550.0),
    shear_yield=420.0,
    min_yield=550.0,
    printed={
        "E": "4700",
        "r": "0.62",
        "Es": "200000",
        "as0": "0.25",
        "as1": "1.4",
        "fymin": "550",
        "vc0": "0.17",
        "vc1": "0.66",
        "vcm": "0.42",
        "vs": "0.66",
        "avt": "0.083",
        "av0": "0.062",
        "av1": "0.35",
        "size": "250",
        "tt": "0.083",
        "tc": "0.33",
        "b0": "2.1",
        "b1": "1.7",
        "b2": "1.4",
        "b3": "1.1",
        "b4": "1.1",
        "small": "19.2",
        "hook": "23",
        "hook14": "(1/0.24)",
        "nc": "14",
        "nt": "(1/0.29)",
        "two": "50",
        "hf0": "105",
        "hf1": "42",
        "c0": "(1/0.24)",
        "c1": "0.043",
        "cr0": "380",
        "cr1": "300",
        "cr2": "280",
        "rm": "8.3",
        "twelve": "300",
        "eight": "200",
        "six": "150",
        "three": "75",
        "inch": "25",
        "eleven": "38",
        "bar": "9.5",
        "w1": "300",
        "w0": "600",
        "close": "0.33",
        "db25": "25.5",
        "db36": "36",
        "db16": "16",
        "hk": "65",
        "al0": "0.42",
        "al1": "0.175",
        "g": "420",
        "gd": "700",
        "fc0": "21",
        "c_in": "40",
        "c_w": "50",
        "c_e": "75",
        "size6": "19",
        "sc0": "0.071",
        "sc1": "0.13",
        "six6": "19",
        "g0": "420",
        "g1": "550",
        "beta0": "28",
        "beta1": "7",
        "beta2": "55",
    },
    units=Units({}, {}),
)
