"""What the user described: materials, profiles, line, actions, wishes, bars. Frozen dataclasses in N, mm,
MPa."""

from upright_bramble.beam.actions import Action, Combining, ForceLine, Load, UserCombination
from upright_bramble.beam.layout import (
    CRANKED,
    Bar,
    BentUp,
    Entry,
    Layout,
    SideBars,
    StirrupZone,
    lapped_pairs,
    lapped_share,
)
from upright_bramble.beam.model import Beam
from upright_bramble.beam.parts import (
    KINK,
    Column,
    Concrete,
    Cover,
    Flange,
    Profile,
    SlabBars,
    Span,
    Steel,
    Support,
)
from upright_bramble.beam.wishes import Detailing, Rates, Redistribution, Service

__all__ = [
    "CRANKED",
    "KINK",
    "Action",
    "Bar",
    "Beam",
    "BentUp",
    "Column",
    "Combining",
    "Concrete",
    "Cover",
    "Detailing",
    "Entry",
    "Flange",
    "ForceLine",
    "Layout",
    "Load",
    "Profile",
    "Rates",
    "Redistribution",
    "Service",
    "SideBars",
    "SlabBars",
    "Span",
    "Steel",
    "StirrupZone",
    "Support",
    "UserCombination",
    "lapped_pairs",
    "lapped_share",
]
