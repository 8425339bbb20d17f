"""What a design code must answer, part by part. Nothing outside `codes` asks which code it is."""

from upright_bramble.codes.parts.actions import ActionsPart, Combination, Group
from upright_bramble.codes.parts.analysis import AnalysisPart, Deep, Reaches, ShortSpan, Surroundings
from upright_bramble.codes.parts.bending import BendingPart, PrintedSection, TensionFace
from upright_bramble.codes.parts.bond import Around, BondPart, Crossing
from upright_bramble.codes.parts.cover import CoverPart, CoverWish
from upright_bramble.codes.parts.cracking import (
    CrackingPart,
    CrackPoints,
    CrackState,
    Face,
    TableControl,
    TensionZone,
)
from upright_bramble.codes.parts.curtailment import Continuity, CurtailmentPart, EndFacts
from upright_bramble.codes.parts.deflection import Ask, DeflectionPart, Deflections, Slender
from upright_bramble.codes.parts.detailing import DetailingPart
from upright_bramble.codes.parts.materials import MaterialsPart
from upright_bramble.codes.parts.service import ServicePart, Stage
from upright_bramble.codes.parts.shear import ActingSets, FlangeShear, ShearPart, ShearState, Web
from upright_bramble.codes.parts.torsion import TorsionPart, Tube, Twist

__all__ = [
    "ActingSets",
    "ActionsPart",
    "AnalysisPart",
    "Around",
    "Ask",
    "BendingPart",
    "BondPart",
    "Combination",
    "Continuity",
    "CoverPart",
    "CoverWish",
    "CrackPoints",
    "CrackState",
    "CrackingPart",
    "Crossing",
    "CurtailmentPart",
    "Deep",
    "DeflectionPart",
    "Deflections",
    "DetailingPart",
    "EndFacts",
    "Face",
    "FlangeShear",
    "Group",
    "MaterialsPart",
    "PrintedSection",
    "Reaches",
    "ServicePart",
    "ShearPart",
    "ShearState",
    "ShortSpan",
    "Slender",
    "Stage",
    "Surroundings",
    "TableControl",
    "TensionFace",
    "TensionZone",
    "TorsionPart",
    "Tube",
    "Twist",
    "Web",
]
