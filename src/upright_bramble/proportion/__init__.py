"""Bars and stirrups proposed for the forces. Nothing here is believed: verification judges the proposal."""

from upright_bramble.proportion.choice import Weighings
from upright_bramble.proportion.needs import Needs, NoProposal
from upright_bramble.proportion.proposal import Proposal, propose
from upright_bramble.proportion.together import Runner

__all__ = ["Needs", "NoProposal", "Proposal", "Runner", "Weighings", "propose"]
