"""From the line and its actions to envelopes: exact line stiffness, combinations, arrangements, support
width."""

from upright_bramble.analysis.envelope import Envelope
from upright_bramble.analysis.forces import Forces, analyse, at_places
from upright_bramble.analysis.stations import Stations

__all__ = ["Envelope", "Forces", "Stations", "analyse", "at_places"]
