"""Bars and stirrups proposed for the forces. Nothing here is believed: verification judges the proposal."""

from upright_bramble.proportion.needs import Needs, NoProposal
from upright_bramble.proportion.proposal import propose

__all__ = ["Needs", "NoProposal", "propose"]
