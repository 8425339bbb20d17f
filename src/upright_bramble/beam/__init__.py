"""What the user described: materials, profiles, line, actions, wishes, bars. Frozen dataclasses in N, mm, MPa."""

from upright_bramble.beam.layout import Bar, Layout, StirrupZone
from upright_bramble.beam.model import (
    Action,
    Beam,
    Column,
    Combining,
    Concrete,
    Cover,
    Detailing,
    Load,
    Profile,
    Rates,
    Redistribution,
    Service,
    Span,
    Steel,
    Support,
    UserCombination,
)

__all__ = [
    "Action",
    "Bar",
    "Beam",
    "Column",
    "Combining",
    "Concrete",
    "Cover",
    "Detailing",
    "Layout",
    "Load",
    "Profile",
    "Rates",
    "Redistribution",
    "Service",
    "Span",
    "Steel",
    "StirrupZone",
    "Support",
    "UserCombination",
]
