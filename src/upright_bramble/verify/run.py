"""All rules in turn."""

from __future__ import annotations

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.rules import Rule
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.kinds import COMMON
from upright_bramble.verify.result import Judged
from upright_bramble.verify.rules.amounts import maximum, minimum
from upright_bramble.verify.rules.bending import bending, curtailment
from upright_bramble.verify.rules.bracing import bracing
from upright_bramble.verify.rules.building import impossible
from upright_bramble.verify.rules.cracking import cracking, skin
from upright_bramble.verify.rules.deflection import deflection, precamber, span_depth
from upright_bramble.verify.rules.ductility import ductility, redistribution
from upright_bramble.verify.rules.flange import flanges
from upright_bramble.verify.rules.laps import laps
from upright_bramble.verify.rules.planes import bends_in_one_plane
from upright_bramble.verify.rules.room import bends, cover, inside, legs, rows_of_bars, rows_of_faces, stock
from upright_bramble.verify.rules.shear import shear
from upright_bramble.verify.rules.stirrups import stirrups, suspension
from upright_bramble.verify.rules.supports import supports
from upright_bramble.verify.rules.torsion import torsion

_RULES = (
    (10, bending, ("bending",)),
    (20, ductility, ("ductility",)),
    (21, redistribution, ("redistribution",)),
    (30, minimum, ("minimum.bottom", "minimum.top")),
    (40, maximum, ("maximum",)),
    (50, shear, ("shear",)),
    (60, curtailment, ("curtailment",)),
    (70, flanges, ("flange.crushing", "flange.steel")),
    (80, torsion, ("torsion",)),
    (90, skin, ("skin",)),
    (100, stirrups, ("minimum.stirrups", "spacing")),
    (110, suspension, ("hanging",)),
    (120, supports, ("support-share", "anchorage")),
    (130, rows_of_bars, ("fit.bottom", "fit.top")),
    (140, rows_of_faces, ("fit.rows",)),
    (142, bends_in_one_plane, ("fit.bends",)),
    (145, bracing, ("bracing",)),
    (155, laps, ("lap",)),
    (165, inside, ("inside.bars",)),
    (166, bends, ("bend.support",)),
    (167, legs, ("bend.leg",)),
    (
        168,
        impossible,
        ("inside.stirrups", "inside.sides", "fit.legs", "fit.sides", "fit.stirrups", "fit.corners"),
    ),
    (169, stock, ("stock",)),
    (170, cover, ("cover.bars",)),
    (180, deflection, ("deflection.total", "deflection.live", "deflection.after", "deflection.upward")),
    (195, precamber, ("deflection.precamber",)),
    (200, span_depth, ("deflection.span-depth",)),
    (210, cracking, ("cracking", "service-stress")),
)
COMMON_RULES = tuple(
    Rule(evaluate.__name__, order, tuple(k for k in COMMON if k.id.startswith(kinds)), evaluate)
    for order, evaluate, kinds in _RULES
)


def rules_of(code: DesignCode) -> tuple[Rule, ...]:
    """Those that every code has and its own, in their turn."""
    return tuple(sorted((*COMMON_RULES, *code.rules), key=lambda rule: rule.order))


def judge(f: Facts) -> Judged:
    """Every check of the beam, in the order of the work, and what could not be verified."""
    return [result for rule in rules_of(f.code) for result in rule.evaluate(f)]
