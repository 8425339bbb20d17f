"""IS 456 put together: its parts, with the values in force."""

from __future__ import annotations

import functools
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.is456.actions import ActionsClauses
from upright_bramble.codes.is456.analysis import AnalysisClauses
from upright_bramble.codes.is456.bending import BendingClauses
from upright_bramble.codes.is456.bond import BondClauses
from upright_bramble.codes.is456.cover import CoverClauses
from upright_bramble.codes.is456.cracking import CrackingClauses
from upright_bramble.codes.is456.curtailment import CurtailmentClauses
from upright_bramble.codes.is456.deflection import DeflectionClauses
from upright_bramble.codes.is456.detailing import DetailingClauses
from upright_bramble.codes.is456.materials import MaterialsClauses
from upright_bramble.codes.is456.own_rules import own_rules
from upright_bramble.codes.is456.service import ServiceClauses
from upright_bramble.codes.is456.shear import ShearClauses
from upright_bramble.codes.is456.torsion import TorsionClauses
from upright_bramble.codes.values import values_in_force
from upright_bramble.core.bars import round_bars
from upright_bramble.errors import CodeError

SIZES = round_bars(
    (6, 8, 10, 12, 16, 20, 25, 28, 32, 36, 40),
    "ø",
    main=("12", "16", "20", "25", "32"),
    stirrups=("8", "10", "12"),
)
CLAUSES = {
    "bending.sagging": "38.1, 26.2.3",
    "bending.hogging": "38.1, 26.2.3",
    "ductility.sagging": "38.1",
    "ductility.hogging": "38.1, 37.1.1(d)",
    "redistribution.minimum": "37.1.1(c)",
    "minimum.bottom": "26.5.1.1(a)",
    "minimum.top": "26.5.1.1(a)",
    "maximum.steel": "26.5.1.1(b)",
    "support-share.bottom": "26.2.3.3(a)",
    "support-share.top": "26.2.3.4",
    "into-support.bottom": "26.2.3.3(a)",
    "anchorage.end": "26.2.3.3(c)",
    "anchorage.inflection": "26.2.3.3(c)",
    "curtailment.bottom": "26.2.3.1",
    "curtailment.top": "26.2.3.1",
    "cut-off.bottom": "26.2.3.2",
    "cut-off.top": "26.2.3.2",
    "shear.stirrups": "40.4",
    "shear.crushing": "40.2.3",
    "torsion.stirrups": "41.4.3",
    "torsion.crushing": "41.3.1",
    "torsion.spacing": "26.5.1.7(a)",
    "torsion.sides": "26.5.1.7(b)",
    "torsion.side-spacing": "26.5.1.7(b)",
    "hanging.stirrups": "40.4",
    "minimum.stirrups": "26.5.1.6",
    "spacing.stirrups": "26.5.1.5",
    "spacing.legs": "26.5.1.5",
    "spacing.compressed": "26.5.3.2(c)",
    "spacing.compressed-legs": "26.5.3.2(b)",
    "links.diameter": "26.5.3.2(c)",
    "fit.bottom": "26.3.2",
    "fit.top": "26.3.2",
    "fit.rows": "26.3.2",
    "fit.bends": "26.3.2",
    "lap.bottom": "26.2.5.1(c)",
    "lap.top": "26.2.5.1(c)",
    "lap-size.bottom": "26.2.5.1(a)",
    "lap-size.top": "26.2.5.1(a)",
    "lap-spacing.bottom": "26.2.5",
    "lap-spacing.top": "26.2.5",
    "skin.spacing": "26.5.1.3",
    "skin.area": "26.5.1.3",
    "bend.support": "26.2.2.5",
    "bend.leg": "26.2.2.1",
    "inside.bars": "26.4",
    "cover.bars": "26.4.1",
    "deflection.total": "23.2(a)",
    "deflection.after-finishes": "23.2(b)",
    "deflection.upward": "23.2(a)",
    "deflection.span-depth": "23.2.1",
    "deflection.precamber": "23.2(a)",
    "deflection.after-partitions": "23.2(b)",
    "deflection.live": "annex C",
    "cracking.bottom": "26.3.3",
    "cracking.top": "26.3.3",
    "bracing.span": "23.3",
    "deep.span": "29.1",
    "forces.combinations": "Table 18",
    "flange.outline": "23.1.1",
}
WORDS = Words(
    CLAUSES,
    symbols={
        "M_R": "M_uR", "V_R": "V_uR", "V_R,c": "tau_c b d", "V_R,max": "V_u,max", "cot_theta": "",
        "V_Ed": "V_u", "M_Ed": "M_u",
        "a_sw": "a_sv", "A_sw/s": "A_sv/s_v", "A_sw/s,min": "A_sv/s_v,min", "A_s2": "A_sc", "sigma_s": "f_s",
        "w_k": "w_cr", "A_sl": "A_st",
        "x": "x_u", "x/d": "x_u/d", "x/d limit": "x_u,max/d", "alpha_eff": "m", "l_d": "L_d",
        "A_s,req": "A_st", "s_max": "a, max",
    },
    out_of_scope=(
        "fire resistance beyond the cover and width of tables",
        "fatigue",
        "second-order effects of axial force",
        "ductile detailing for earthquakes (IS 13920)",
        "deep beams and corbels",
        "openings",
        "bundled, welded and coupled bars",
        "transverse reinforcement of flanges (23.1.1)",
    ),
    seismic_clause="IS 13920",
    starter={
        "steel": "bars: Fe500, stirrups: Fe500",
        "strength": "grade: M25",
        "category": "general          # general, storage, permanent: how much of the load lasts",
        "service": "deflection: {total: span/250, after_finishes: span/350, finishes_at: 60 days}",
    },
)  # fmt: skip


@functools.cache
def _tables() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(Path(__file__).with_name("values.json").read_text("utf-8"))
    return loaded


def make(name: str, annex: str | None, overrides: Mapping[str, float]) -> DesignCode:
    """IS 456:2000, limit state method.

    Raises CodeError for an annex, of which it has none, or a value that is not known.
    """
    if annex is not None:
        raise CodeError(f"the code {name} has no annexes; leave 'annex' out")
    tables = _tables()
    lasts = {
        f"lasting_{name}": {"value": share, "clause": "annex C (permanent load)", "share": True, "zero": True}
        for name, share in tables["categories"].items()
    }
    values = values_in_force({**tables["values"], **lasts}, overrides)
    v = {key: value.value for key, value in values.items()}
    shares = {name: v[f"lasting_{name}"] for name in tables["categories"]}
    materials = MaterialsClauses(v)
    shear = ShearClauses(v, materials)
    return DesignCode(
        name=name,
        title="IS 456:2000",
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
        torsion=TorsionClauses(v, materials, shear),
        bond=BondClauses(v, materials),
        detailing=DetailingClauses(v),
        curtailment=CurtailmentClauses(v),
        cover=CoverClauses(),
        service=ServiceClauses(v, materials),
        deflection=DeflectionClauses(v),
        cracking=CrackingClauses(v),
        rules=own_rules(),
    )
