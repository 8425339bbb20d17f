"""EN 1992-1-1 put together: its parts, with the annex's values."""

from __future__ import annotations

import functools
import json
from collections.abc import Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from upright_bramble.codes.design_code import DesignCode, Words
from upright_bramble.codes.en1992.actions import ActionsClauses
from upright_bramble.codes.en1992.analysis import AnalysisClauses
from upright_bramble.codes.en1992.bending import BendingClauses
from upright_bramble.codes.en1992.bond import BondClauses
from upright_bramble.codes.en1992.cover import CoverClauses
from upright_bramble.codes.en1992.cracking import CrackingClauses
from upright_bramble.codes.en1992.curtailment import CurtailmentClauses
from upright_bramble.codes.en1992.deflection import DeflectionClauses
from upright_bramble.codes.en1992.detailing import DetailingClauses
from upright_bramble.codes.en1992.materials import MaterialsClauses
from upright_bramble.codes.en1992.own_rules import own_rules
from upright_bramble.codes.en1992.service import ServiceClauses
from upright_bramble.codes.en1992.shear import ShearClauses
from upright_bramble.codes.en1992.torsion import TorsionClauses
from upright_bramble.codes.values import combination_factors, values_in_force, with_factors
from upright_bramble.core.bars import round_bars
from upright_bramble.errors import CodeError

SIZES = round_bars(
    (6, 8, 10, 12, 14, 16, 20, 25, 28, 32, 40),
    "ø",
    main=("12", "16", "20", "25", "32"),
    stirrups=("8", "10", "12"),
)

CLAUSES = {
    "bending.sagging": "6.1, 9.2.1.3",
    "bending.hogging": "6.1, 9.2.1.3",
    "ductility.sagging": "5.5(4)",
    "ductility.hogging": "5.5(4)",
    "redistribution.minimum": "5.5(4)",
    "redistribution.spans": "5.5(4)",
    "minimum.bottom": "9.2.1.1(1)",
    "minimum.top": "9.2.1.1(1)",
    "maximum.steel": "9.2.1.1(3)",
    "end-fixity.top": "9.2.1.2(1)",
    "support-share.bottom": "9.2.1.4(1), 9.2.1.5",
    "into-support.bottom": "9.2.1.5(2)",
    "anchorage.end": "9.2.1.4(2), 8.4.4",
    "curtailment.bottom": "9.2.1.3",
    "curtailment.top": "9.2.1.3",
    "shear.stirrups": "6.2.3(3)",
    "shear.crushing": "6.2.3(3)",
    "shear.near-support": "6.2.3(8)",
    "torsion.stirrups": "6.3.2(2)",
    "torsion.crushing": "6.3.2(4)",
    "torsion.spacing": "9.2.3(3)",
    "torsion.sides": "6.3.2(3), 9.2.3(4)",
    "torsion.side-spacing": "9.2.3(4)",
    "flange.crushing": "6.2.4(4)",
    "flange.steel": "6.2.4(4), 6.2.4(6)",
    "flange.crushing-tension": "6.2.4(4)",
    "flange.steel-tension": "6.2.4(4), 6.2.4(6)",
    "hanging.stirrups": "9.2.5(1)",
    "minimum.stirrups": "9.2.2(5)",
    "spacing.stirrups": "9.2.2(6)",
    "spacing.legs": "9.2.2(8)",
    "spacing.compressed": "9.2.1.2(3)",
    "fit.bottom": "8.2(2)",
    "fit.top": "8.2(2)",
    "fit.rows": "8.2(2)",
    "fit.bends": "8.2(2)",
    "lap.bottom": "8.7.3(1)",
    "lap.top": "8.7.3(1)",
    "lap-stirrups.bottom": "8.7.4.1(3)",
    "lap-spacing.bottom": "8.7.4.1(3), Figure 8.9",
    "lap-spacing.top": "8.7.4.1(3), Figure 8.9",
    "lap-share.bottom": "8.7.2(4)",
    "lap-share.top": "8.7.2(4)",
    "lap-stirrups.top": "8.7.4.1(3)",
    "skin.spacing": "7.3.3(3)",
    "skin.area": "7.3.3(3), 7.3.2(2)",
    "bend.support": "8.4.1(2)",
    "bend.leg": "8.3, 8.4.1(2)",
    "inside.bars": "4.4.1",
    "cover.bars": "4.4.1.2(3)",
    "cover.concrete": "Table E.1N",
    "deflection.total": "7.4.3",
    "deflection.after-finishes": "7.4.3",
    "deflection.upward": "7.4.3",
    "deflection.span-depth": "7.4.2",
    "deflection.precamber": "7.4.1(4)",
    "deflection.after-partitions": "7.4.3",
    "deflection.live": "7.4.3",
    "crack-table.bottom": "7.3.3(2)",
    "crack-table.top": "7.3.3(2)",
    "concrete-stress.bottom": "7.2(3)",
    "concrete-stress.top": "7.2(3)",
    "concrete-stress-rare.bottom": "7.2(2)",
    "concrete-stress-rare.top": "7.2(2)",
    "bar-stress.bottom": "7.2(5)",
    "bar-stress.top": "7.2(5)",
    "minimum.cracks-bottom": "7.3.2(2)",
    "minimum.cracks-top": "7.3.2(2)",
    "cracking.bottom": "7.3.4",
    "cracking.top": "7.3.4",
    "bracing.span": "5.9(3)",
    "deep.span": "5.3.1(3)",
    "forces.combinations": "EN 1990, 6.4.3.2",
    "flange.outline": "6.2.4",
}
WORDS = Words(
    CLAUSES,
    symbols={
        "M_R": "M_Rd",
        "V_R": "V_Rd",
        "V_R,c": "V_Rd,c",
        "V_R,max": "V_Rd,max",
        "cot_theta": "cot_theta",
    },
    out_of_scope=(
        "fire resistance beyond cover and axis distances",
        "fatigue",
        "second-order effects of axial force",
        "accidental actions, tying",
        "earthquake detailing (EN 1998-1)",
        "regions of struts and ties (deep spans, corbels, half joints)",
        "openings",
        "bundled, welded and coupled bars",
        "slab bars of flanges whose cross steel is not given (6.2.4)",
    ),
    seismic_clause="EN 1998-1, 5",
    starter={
        "steel": "bars: B500B, stirrups: B500B",
        "category": "B                # A to H: gives the combination factors",
        "service": (
            "deflection: {total: span/250, after_finishes: span/500, finishes_at: 60 days}, crack_width: "
            "0.3 mm"
        ),
    },
)


@functools.cache
def _tables() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(Path(__file__).with_name("values.json").read_text("utf-8"))
    return loaded


@functools.cache
def _annexes() -> dict[str, dict[str, Any]]:
    """By name, in their order; the recommended values first."""
    folder = Path(__file__).with_name("annexes")
    read = {path.stem: json.loads(path.read_text("utf-8")) for path in folder.glob("*.json")}
    return {
        "recommended": {"title": "recommended values"},
        **dict(sorted(read.items(), key=lambda item: item[1]["order"])),
    }


def _merged(
    table: Mapping[str, Mapping[str, Any]], own: Mapping[str, Mapping[str, Any]]
) -> dict[str, dict[str, Any]]:
    """Categories or kinds with what an annex says of them."""
    return {name: {**entry, **own.get(name, {})} for name, entry in table.items()}


def _words(annex: Mapping[str, Any]) -> Words:
    """With what the data of the annex leaves out, where recommended values stand instead."""
    missing = annex.get("left_out", ())
    if not missing:
        return WORDS
    return replace(
        WORDS,
        out_of_scope=(*WORDS.out_of_scope, f"of the {annex['title']}: {', '.join(missing)}"),
        assumed=tuple(missing),
    )


def make(name: str, annex: str | None, overrides: Mapping[str, float]) -> DesignCode:
    """EN 1992-1-1:2004+A1:2014 with EN 1990, for the recommended values or a national annex.

    Raises CodeError for an annex or value that is not known.
    """
    tables, annexes, annex = _tables(), _annexes(), annex or "recommended"
    if annex not in annexes:
        raise CodeError(f"'{annex}' is not a valid annex (valid: {', '.join(annexes)})")
    own = annexes[annex]
    kinds, psi = (_merged(tables[key], own.get(key, {})) for key in ("kinds", "categories"))
    entries = {**tables["recommended"], **own.get("values", {})}
    for key, entry in tables["recommended"].items():
        entries[key] = {**entry, **entries[key]}
    values = values_in_force({**entries, **combination_factors([psi, kinds], "EN 1990 A1.2.2")}, overrides)
    v = {key: value.value for key, value in values.items()}
    kinds, psi = with_factors(kinds, v), with_factors(psi, v)
    materials = MaterialsClauses(v)
    shear = ShearClauses(v, materials, upright_in_tension=own.get("upright_struts_in_tension", False))
    detailing = DetailingClauses(v)
    service, cracking = ServiceClauses(), CrackingClauses(v)
    return DesignCode(
        name=name,
        title=f"EN 1992-1-1:2004+A1:2014, {own['title']}",
        annex=annex,
        annexes=tuple(annexes),
        values=values,
        words=_words(own),
        sizes=SIZES,
        materials=materials,
        actions=ActionsClauses(v, psi, kinds, own.get("rule", "6.10")),
        analysis=AnalysisClauses(v),
        bending=BendingClauses(v),
        shear=shear,
        torsion=TorsionClauses(v, materials, shear),
        bond=BondClauses(v, materials, detailing),
        detailing=detailing,
        curtailment=CurtailmentClauses(v, shear),
        cover=CoverClauses(own.get("cover", "")),
        service=service,
        deflection=DeflectionClauses(v),
        cracking=cracking,
        rules=own_rules(cracking, service),
    )
