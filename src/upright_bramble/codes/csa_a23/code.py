"""CSA A23.3 put together: its parts, with the values in force."""

from __future__ import annotations

import functools
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from upright_bramble.codes.csa_a23.actions import ActionsClauses
from upright_bramble.codes.csa_a23.analysis import AnalysisClauses
from upright_bramble.codes.csa_a23.bending import BendingClauses
from upright_bramble.codes.csa_a23.bond import BondClauses
from upright_bramble.codes.csa_a23.cover import CoverClauses
from upright_bramble.codes.csa_a23.cracking import CrackingClauses
from upright_bramble.codes.csa_a23.curtailment import CurtailmentClauses
from upright_bramble.codes.csa_a23.deflection import DeflectionClauses
from upright_bramble.codes.csa_a23.detailing import DetailingClauses
from upright_bramble.codes.csa_a23.materials import BARS, MaterialsClauses
from upright_bramble.codes.csa_a23.own_rules import own_rules
from upright_bramble.codes.csa_a23.service import ServiceClauses
from upright_bramble.codes.csa_a23.shear import ShearClauses
from upright_bramble.codes.csa_a23.torsion import TorsionClauses
from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.values import values_in_force
from upright_bramble.core.bars import tabulated_bars
from upright_bramble.errors import CodeError

SIZES = tabulated_bars(BARS, 1.0, "", suffix="M", main=("15", "20", "25", "30"), stirrups=("10", "15"))
CLAUSES = {
    "bending.sagging": "10.1, 12.10.3",
    "bending.hogging": "10.1, 12.10.3",
    "ductility.sagging": "10.5.2",
    "ductility.hogging": "10.5.2, 9.2.4",
    "redistribution.minimum": "9.2.4",
    "minimum.bottom": "10.5.1",
    "minimum.top": "10.5.1",
    "support-share.bottom": "12.11.1",
    "support-share.top": "12.12.2",
    "into-support.bottom": "12.11.1",
    "anchorage.end": "12.11.3",
    "anchorage.inflection": "12.11.3",
    "chord-force.bottom": "11.3.9",
    "chord-force.top": "11.3.9",
    "curtailment.bottom": "12.10.3",
    "curtailment.top": "12.10.3",
    "shear.stirrups": "11.3.3",
    "shear.crushing": "11.3.3",
    "torsion.stirrups": "11.3.10.3",
    "torsion.crushing": "11.3.10.4",
    "torsion.spacing": "11.3.8.3",
    "torsion.sides": "11.3.10.6",
    "torsion.side-spacing": "11.2.7",
    "hanging.stirrups": "11.2.11",
    "minimum.stirrups": "11.2.8.2",
    "spacing.stirrups": "11.3.8",
    "spacing.compressed": "7.6.5.2",
    "spacing.compressed-legs": "7.6.5.5",
    "fit.bottom": "A23.1 6.6.5.2",
    "fit.top": "A23.1 6.6.5.2",
    "fit.rows": "A23.1 6.6.5.2",
    "fit.bends": "A23.1 6.6.5.2",
    "lap.bottom": "12.15.1",
    "lap.top": "12.15.1",
    "lap-size.bottom": "12.14.2.1",
    "lap-size.top": "12.14.2.1",
    "skin.spacing": "10.6.2",
    "skin.area": "10.6.2",
    "bend.support": "12.5",
    "bend.leg": "A23.1 6.6.2",
    "inside.bars": "A23.1 Table 17",
    "cover.bars": "A23.1 Table 17",
    "deflection.total": "9.8.2.5",
    "deflection.after-finishes": "Table 9.3",
    "deflection.upward": "9.8.2.5",
    "deflection.span-depth": "Table 9.2",
    "deflection.precamber": "9.8.2.5",
    "deflection.after-partitions": "Table 9.3",
    "deflection.live": "Table 9.3",
    "cracking.bottom": "10.6.1",
    "cracking.top": "10.6.1",
    "bracing.span": "9.2.5.1",
    "deep.span": "10.7.1",
    "forces.combinations": "NBCC 4.1.3.2",
    "flange.outline": "10.5.3",
}
WORDS = Words(
    CLAUSES,
    symbols={
        "M_R": "M_r", "V_R": "V_r", "V_R,c": "V_c", "V_R,max": "V_r,max", "cot_theta": "", "V_Ed": "V_f",
        "M_Ed": "M_f", "a_sw": "a_v",
        "A_sw/s": "A_v/s", "A_sw/s,min": "A_v,min/s", "A_s2": "A'_s", "sigma_s": "f_s", "w_k": "z",
        "A_sl": "A_s", "x": "c", "x/d": "c/d",
        "x/d limit": "c/d, max", "alpha_eff": "n", "s_max": "s, max",
    },
    out_of_scope=(
        "fire (NBCC appendix D)",
        "fatigue",
        "second-order effects of axial force",
        "seismic design (clause 21)",
        "deep flexural members, brackets and corbels",
        "openings",
        "bundled, welded and coupled bars",
        "bars in overhangs of flanges in tension (10.5.3.1)",
        "structural integrity",
    ),
    seismic_clause="clause 21",
    starter={
        "steel": "bars: 400W, stirrups: 400W",
        "strength": "strength: 30 MPa",
        "category": "general          # general, assembly, storage: companion factors and what is sustained",
        "service": "deflection: {total: span/240, after_finishes: span/240, finishes_at: 60 days}",
    },
)  # fmt: skip


@functools.cache
def _tables() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(Path(__file__).with_name("values.json").read_text("utf-8"))
    return loaded


def make(name: str, annex: str | None, overrides: Mapping[str, float]) -> DesignCode:
    """CSA A23.3:19 with NBCC 2020; `general_shear: 1` uses the general method throughout.

    Raises CodeError for an annex, of which it has none, or a value that is not known.
    """
    if annex is not None:
        raise CodeError(f"the code {name} has no annexes; leave 'annex' out")
    tables = _tables()
    lasts = {
        f"lasting_{name}": {"value": share, "clause": "sustained part", "share": True, "zero": True}
        for name, share in tables["categories"].items()
    }
    values = values_in_force({**tables["values"], **lasts}, overrides)
    v = {key: value.value for key, value in values.items()}
    shares = {name: v[f"lasting_{name}"] for name in tables["categories"]}
    materials = MaterialsClauses(v)
    shear, detailing = ShearClauses(v), DetailingClauses(v)
    return DesignCode(
        name=name,
        title="CSA A23.3:19, NBCC 2020",
        annex=None,
        annexes=(),
        values=values,
        words=WORDS,
        sizes=SIZES,
        materials=materials,
        actions=ActionsClauses(v, shares),
        analysis=AnalysisClauses(v),
        bending=BendingClauses(v),
        shear=shear,
        torsion=TorsionClauses(v, shear),
        bond=BondClauses(v, detailing),
        detailing=detailing,
        curtailment=CurtailmentClauses(v),
        cover=CoverClauses(),
        service=ServiceClauses(v, materials),
        deflection=DeflectionClauses(v),
        cracking=CrackingClauses(v),
        rules=own_rules(v),
    )
