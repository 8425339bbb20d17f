"""ACI 318-19 (or 318M-19), or its edition of 2014, put together: the parts, with the values in force."""

from __future__ import annotations

import functools
import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from upright_bramble.codes.aci318.actions import ActionsClauses
from upright_bramble.codes.aci318.analysis import AnalysisClauses
from upright_bramble.codes.aci318.bending import BendingClauses
from upright_bramble.codes.aci318.bond import BondClauses
from upright_bramble.codes.aci318.cover import CoverClauses
from upright_bramble.codes.aci318.cracking import CrackingClauses
from upright_bramble.codes.aci318.curtailment import CurtailmentClauses
from upright_bramble.codes.aci318.deflection import DeflectionClauses
from upright_bramble.codes.aci318.detailing import DetailingClauses
from upright_bramble.codes.aci318.edition_2014 import ACI as ACI_14
from upright_bramble.codes.aci318.edition_2014 import (
    RENUMBERED,
    Bending2014,
    Bond2014,
    Materials2014,
    Service2014,
    Shear2014,
)
from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC, Expressions
from upright_bramble.codes.aci318.materials import SI_BARS, US_BARS, MaterialsClauses
from upright_bramble.codes.aci318.own_rules import own_rules
from upright_bramble.codes.aci318.service import ServiceClauses
from upright_bramble.codes.aci318.shear import ShearClauses
from upright_bramble.codes.aci318.symbols import ACI as ACI_19
from upright_bramble.codes.aci318.torsion import TorsionClauses
from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.values import combination_factors, values_in_force, with_factors
from upright_bramble.core.bars import tabulated_bars
from upright_bramble.errors import CodeError

SIZES = {
    INCH_POUND.name: tabulated_bars(
        US_BARS, 25.4, "#", main=("4", "5", "6", "7", "8", "9", "10"), stirrups=("3", "4")
    ),
    METRIC.name: tabulated_bars(
        SI_BARS, 1.0, "#", main=("13", "16", "19", "22", "25", "29", "32"), stirrups=("10", "13")
    ),
}
CLAUSES = {
    "bending.sagging": "9.5.2, 9.7.3",
    "bending.hogging": "9.5.2, 9.7.3",
    "ductility.sagging": "9.3.3.1",
    "ductility.hogging": "9.3.3.1, 6.6.5",
    "redistribution.minimum": "6.6.5.3",
    "minimum.bottom": "9.6.1.2",
    "minimum.top": "9.6.1.2",
    "support-share.bottom": "9.7.3.8",
    "support-share.top": "9.7.3.8.4",
    "into-support.bottom": "9.7.3.8",
    "anchorage.end": "9.7.3.8.3",
    "integrity.bottom": "9.7.7.2",
    "integrity.number": "9.7.7.2",
    "integrity.through": "9.7.7.2, 9.7.7.5",
    "integrity.top": "9.7.7.1",
    "integrity.end-bottom": "9.7.7.1, 9.7.7.4",
    "integrity.end-top": "9.7.7.1, 9.7.7.4",
    "lateral.bottom": "9.7.3.8.2",
    "anchorage.inflection": "9.7.3.8.3",
    "confinement.bars": "9.7.1.4, 25.4.2.2",
    "lap-size.bottom": "25.5.1.1",
    "lap-size.top": "25.5.1.1",
    "spacing.compressed-legs": "9.7.6.4.4",
    "torsion.bar-size": "9.7.5.2",
    "bend.leg": "25.3.1",
    "curtailment.bottom": "9.7.3.3, 9.7.3.4",
    "curtailment.top": "9.7.3.3, 9.7.3.4",
    "cut-off.bottom": "9.7.3.5",
    "cut-off.top": "9.7.3.5",
    "shear.stirrups": "22.5",
    "shear.crushing": "22.5.1.2",
    "torsion.stirrups": "22.7.6.1",
    "torsion.crushing": "22.7.7.1",
    "torsion.spacing": "9.7.6.3.3",
    "torsion.sides": "22.7.6.1, 9.7.5.1",
    "torsion.side-spacing": "9.7.5.1",
    "hanging.stirrups": "9.4.3.2(b)",
    "minimum.stirrups": "9.6.3.4",
    "spacing.stirrups": "9.7.6.2.2",
    "spacing.legs": "9.7.6.2.2",
    "spacing.compressed": "9.7.6.4.3",
    "fit.bottom": "25.2.1",
    "fit.top": "25.2.1",
    "fit.rows": "25.2.2",
    "fit.bends": "25.2.1",
    "lap.bottom": "25.5.2.1",
    "lap.top": "25.5.2.1",
    "skin.spacing": "9.7.2.3",
    "skin.area": "9.7.2.3",
    "bend.support": "25.4.3",
    "inside.bars": "20.5.1",
    "cover.bars": "25.4.2.3",
    "deflection.total": "24.2.2",
    "deflection.after-finishes": "24.2.2",
    "deflection.upward": "24.2.2",
    "deflection.span-depth": "9.3.1.1",
    "deflection.precamber": "24.2.2",
    "deflection.after-partitions": "24.2.2",
    "deflection.live": "24.2.2",
    "deflection.averaged": "24.2.3.6",
    "tension-flange.top": "24.3.4",
    "tension-flange.bottom": "24.3.4",
    "cracking.bottom": "24.3.2",
    "cracking.top": "24.3.2",
    "bracing.span": "9.2.3.1",
    "deep.span": "9.9.1.1",
    "forces.combinations": "5.3.1",
    "flange.outline": "7.5.2.3",
}
SYMBOLS = {
    "M_R": "phi M_n", "V_R": "phi V_n", "V_R,c": "phi V_c", "V_R,max": "phi V_n,max", "cot_theta": "",
    "V_Ed": "V_u", "a_sw": "a_v", "A_sl": "A_s",
    "x": "c", "x/d": "c/d", "x/d limit": "c/d, max", "sigma_s": "f_s", "alpha_e": "n", "A_c": "A_g",
    "I": "I_g", "x_cr": "kd",
    "alpha_eff": "n", "M_Ed": "M_u",
    "A_sw/s": "A_v/s", "A_sw/s,min": "A_v,min/s", "A_s2": "A_s'", "A_s,req": "A_s", "M_s": "M_u/phi",
    "M_lim": "M_n, max", "z": "jd",
    "w_k": "w", "s_max": "s, max",
}  # fmt: skip
OUT_OF_SCOPE = (
    "fire (ACI 216.1)",
    "fatigue",
    "second-order effects of axial force",
    "earthquake detailing (chapter 18)",
    "regions of struts and ties (deep spans, corbels, dapped ends)",
    "openings",
    "bundled, welded and coupled bars",
    "slab bars of flanges (7.5.2.3, 24.3.4)",
)


@dataclass(frozen=True)
class Edition:
    """An edition of the code: the parts of its own, what is added to or left out of the values and the
    numbers of clauses."""

    year: int
    materials: type[MaterialsClauses]
    bending: type[BendingClauses]
    shear: type[ShearClauses]
    bond: type[BondClauses]
    service: type[ServiceClauses]
    without: tuple[str, ...] = ()
    values: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    renumbered: Mapping[str, str] = field(default_factory=dict)


EDITION_2019 = Edition(2019, MaterialsClauses, BendingClauses, ShearClauses, BondClauses, ServiceClauses)
EDITION_2014 = Edition(
    year=2014,
    materials=Materials2014,
    bending=Bending2014,
    shear=Shear2014,
    bond=Bond2014,
    service=Service2014,
    without=("strain_reserve",),
    values={"strain_least": {"value": 0.004, "clause": "9.3.3.1"}},
    renumbered={ACI_19: ACI_14, **RENUMBERED},
)


def _words(x: Expressions, categories: Mapping[str, Any], edition: Edition) -> Words:
    inch = x is INCH_POUND
    starter = {
        "steel": "yield: 60 ksi" if inch else "yield: 420 MPa",
        "strength": "strength: 4000 psi" if inch else "strength: 28 MPa",
        "category": f"occupied         # {', '.join(categories)}: gives the factors beside other loads",
        "service": "deflection: {total: span/240, after_finishes: span/240, finishes_at: 60 days}",
    }
    clauses = {kind: _renumbered(text, edition) for kind, text in CLAUSES.items()}
    return Words(
        clauses, SYMBOLS, OUT_OF_SCOPE, "chapter 18", starter, x.units, renumbered=edition.renumbered
    )


def _renumbered(text: str, edition: Edition) -> str:
    return ", ".join(edition.renumbered.get(number, number) for number in text.split(", "))


@functools.cache
def _tables() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(Path(__file__).with_name("values.json").read_text("utf-8"))
    return loaded


def make(name: str, annex: str | None, overrides: Mapping[str, float]) -> DesignCode:
    """ACI 318-19 or 318-14 in one of its two sets of expressions.

    Raises CodeError for an annex, of which it has none, or a value that is not known.
    """
    if annex is not None:
        raise CodeError(f"the code {name} has no annexes; leave 'annex' out")
    x, tables = METRIC if name.startswith("aci318m") else INCH_POUND, _tables()
    edition = EDITION_2014 if name.endswith("-14") else EDITION_2019
    own = {key: value for key, value in tables["values"].items() if key not in edition.without}
    factors = combination_factors([tables["categories"], tables["kinds"]], "5.3.1, 5.3.3")
    values = values_in_force({**own, **edition.values, **factors}, overrides)
    v = {key: value.value for key, value in values.items()}
    categories, kinds = with_factors(tables["categories"], v), with_factors(tables["kinds"], v)
    materials = edition.materials(x)
    shear, detailing = edition.shear(v, x, materials), DetailingClauses(x)
    bond, curtailment = edition.bond(x, detailing), CurtailmentClauses(v, x)
    year = edition.year % 100
    return DesignCode(
        name=name,
        title=f"ACI 318M-{year}, SI expressions"
        if x is METRIC
        else f"ACI 318-{year}, inch-pound expressions",
        annex=None,
        annexes=(),
        values=values,
        words=_words(x, tables["categories"], edition),
        sizes=SIZES[x.name],
        materials=materials,
        actions=ActionsClauses(v, categories, kinds),
        analysis=AnalysisClauses(v, x),
        bending=edition.bending(v, x),
        shear=shear,
        torsion=TorsionClauses(v, x, materials, shear),
        bond=bond,
        detailing=detailing,
        curtailment=curtailment,
        cover=CoverClauses(x),
        service=edition.service(x, materials),
        deflection=DeflectionClauses(v, x),
        cracking=CrackingClauses(x),
        rules=own_rules(x, bond, curtailment),
    )
