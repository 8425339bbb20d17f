"""What the user described: materials, profiles, line, actions, wishes, bars. Frozen dataclasses in N, mm, MPa."""

from upright_bramble.beam.layout import Bar, Layout, StirrupZone
from upright_bramble.beam.model import (
    Action,
    Beam,
    Concrete,
    Cover,
    Detailing,
    Load,
    Profile,
    Rates,
    Service,
    Span,
    Steel,
    Support,
)

__all__ = [
    "Action",
    "Bar",
    "Beam",
    "Concrete",
    "Cover",
    "Detailing",
    "Layout",
    "Load",
    "Profile",
    "Rates",
    "Service",
    "Span",
    "Steel",
    "StirrupZone",
    "Support",
]
