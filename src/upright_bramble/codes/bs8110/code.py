"""BS 8110 put together: its parts, with the values in force."""

from __future__ import annotations

import functools
import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from upright_bramble.codes.bs8110.actions import ActionsClauses
from upright_bramble.codes.bs8110.analysis import AnalysisClauses
from upright_bramble.codes.bs8110.bending import BendingClauses
from upright_bramble.codes.bs8110.bond import BondClauses
from upright_bramble.codes.bs8110.cover import CoverClauses
from upright_bramble.codes.bs8110.cracking import CrackingClauses
from upright_bramble.codes.bs8110.curtailment import CurtailmentClauses
from upright_bramble.codes.bs8110.deflection import DeflectionClauses
from upright_bramble.codes.bs8110.detailing import DetailingClauses
from upright_bramble.codes.bs8110.materials import MaterialsClauses
from upright_bramble.codes.bs8110.own_rules import own_rules
from upright_bramble.codes.bs8110.service import ServiceClauses
from upright_bramble.codes.bs8110.shear import ShearClauses
from upright_bramble.codes.bs8110.torsion import TorsionClauses
from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.values import values_in_force
from upright_bramble.core.bars import round_bars
from upright_bramble.errors import CodeError

SIZES = round_bars(
    (6, 8, 10, 12, 16, 20, 25, 32, 40), "T", main=("12", "16", "20", "25", "32"), stirrups=("8", "10", "12")
)
CLAUSES = {
    "bending.sagging": "3.4.4, 3.12.9",
    "bending.hogging": "3.4.4, 3.12.9",
    "ductility.sagging": "3.4.4.4",
    "ductility.hogging": "3.4.4.4, 3.2.2.1",
    "redistribution.minimum": "3.2.2.1",
    "minimum.bottom": "3.12.5.3",
    "minimum.top": "3.12.5.3",
    "maximum.steel": "3.12.6.1",
    "support-share.bottom": "3.12.10.2",
    "into-support.bottom": "3.12.9.1",
    "anchorage.end": "3.12.9.4",
    "curtailment.bottom": "3.12.9.1",
    "curtailment.top": "3.12.9.1",
    "cut-off.bottom": "3.12.9.1",
    "cut-off.top": "3.12.9.1",
    "shear.stirrups": "3.4.5.3",
    "shear.crushing": "3.4.5.2",
    "torsion.stirrups": "part 2, 2.4.7",
    "torsion.crushing": "part 2, 2.4.5",
    "torsion.spacing": "part 2, 2.4.8",
    "torsion.sides": "part 2, 2.4.7",
    "torsion.side-spacing": "part 2, 2.4.9",
    "hanging.stirrups": "3.4.5.11",
    "minimum.stirrups": "Table 3.7",
    "spacing.stirrups": "3.4.5.5",
    "spacing.legs": "3.4.5.5",
    "spacing.compressed": "3.12.7.1",
    "spacing.compressed-legs": "3.12.7.2",
    "links.diameter": "3.12.7.1",
    "fit.bottom": "3.12.11.1",
    "fit.top": "3.12.11.1",
    "fit.rows": "3.12.11.1",
    "fit.bends": "3.12.11.1",
    "lap.bottom": "3.12.8.13",
    "lap.top": "3.12.8.13",
    "lap-spacing.bottom": "3.12.8.12",
    "lap-spacing.top": "3.12.8.12",
    "skin.spacing": "3.12.11.2.6",
    "skin.area": "3.12.5.4",
    "bend.support": "3.12.8.25",
    "bend.leg": "3.12.8.24",
    "inside.bars": "3.3.1",
    "cover.bars": "3.3.1.2",
    "deflection.total": "part 2, 3.2.1",
    "deflection.after-finishes": "part 2, 3.2.1",
    "deflection.upward": "part 2, 3.2.1",
    "deflection.span-depth": "3.4.6",
    "deflection.precamber": "part 2, 3.2.1",
    "deflection.after-partitions": "part 2, 3.2.1",
    "deflection.live": "part 2, 3.2.1",
    "cracking.bottom": "3.12.11.2",
    "cracking.top": "3.12.11.2",
    "bracing.span": "3.4.1.6",
    "deep.span": "3.4.1.1",
    "forces.combinations": "Table 2.1",
    "flange.outline": "3.12.5.3",
}
WORDS = Words(
    CLAUSES,
    symbols={
        "M_R": "M_R", "V_R": "V_R", "V_R,c": "v_c b d", "V_R,max": "V_max", "cot_theta": "", "V_Ed": "V",
        "M_Ed": "M", "a_sw": "a_sv",
        "A_sw/s": "A_sv/s_v", "A_sw/s,min": "A_sv/s_v nominal", "A_s2": "A'_s", "sigma_s": "f_s", "w_k": "w",
        "A_sl": "A_s",
        "s_max": "a, max", "kappa_m": "1/r",
    },
    out_of_scope=(
        "fire resistance beyond the cover and width of tables",
        "fatigue",
        "second-order effects of axial force",
        "tying (3.12.3)",
        "earthquake detailing",
        "deep beams, corbels and nibs",
        "openings",
        "bundled, welded and coupled bars",
        "bars across a flange (Table 3.25)",
    ),
    seismic_clause="no earthquake detailing",
    starter={
        "steel": "bars: 500, stirrups: 500",
        "strength": "grade: C30",
        "category": "general          # general, storage, permanent: how much of the load lasts",
        "service": "deflection: {total: span/250, after_finishes: span/350, finishes_at: 60 days}",
    },
)  # fmt: skip


@functools.cache
def _tables() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(Path(__file__).with_name("values.json").read_text("utf-8"))
    return loaded


def make(name: str, annex: str | None, overrides: Mapping[str, float]) -> DesignCode:
    """BS 8110-1:1997 with BS 8110-2:1985; `gamma_s` of 1.15 gives the strength of bars of its first edition.

    Raises CodeError for an annex, of which it has none, or a value that is not known.
    """
    if annex is not None:
        raise CodeError(f"the code {name} has no annexes; leave 'annex' out")
    tables = _tables()
    lasts = {
        f"lasting_{name}": {"value": share, "clause": "part 2, 3.3.3", "share": True, "zero": True}
        for name, share in tables["categories"].items()
    }
    values = values_in_force({**tables["values"], **lasts}, overrides)
    v = {key: value.value for key, value in values.items()}
    shares = {name: v[f"lasting_{name}"] for name in tables["categories"]}
    materials = MaterialsClauses(v)
    return DesignCode(
        name=name,
        title="BS 8110-1:1997",
        annex=None,
        annexes=(),
        values=values,
        words=WORDS,
        sizes=SIZES,
        materials=materials,
        actions=ActionsClauses(v, shares),
        analysis=AnalysisClauses(v),
        bending=BendingClauses(v),
        shear=ShearClauses(v, materials),
        torsion=TorsionClauses(v, materials),
        bond=BondClauses(v, materials),
        detailing=DetailingClauses(v),
        curtailment=CurtailmentClauses(v),
        cover=CoverClauses(),
        service=ServiceClauses(v, materials),
        deflection=DeflectionClauses(v, materials),
        cracking=CrackingClauses(v),
        rules=own_rules(),
    )
