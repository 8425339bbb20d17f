"""A design code: one frozen object of parts."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from upright_bramble.codes.parts import (
    ActionsPart,
    AnalysisPart,
    BendingPart,
    BondPart,
    CoverPart,
    CrackingPart,
    CurtailmentPart,
    DeflectionPart,
    DetailingPart,
    MaterialsPart,
    ServicePart,
    ShearPart,
    TorsionPart,
)
from upright_bramble.codes.rules import Rule
from upright_bramble.codes.values import Value
from upright_bramble.core.bars import BarSizes
from upright_bramble.working import METRIC, Units


@dataclass(frozen=True)
class Words:
    """How a code says things: clause by kind of check, its own `symbols` where they differ from those of EN
    1992-1-1, the `units` of its printed formulas; what of the trade it leaves `out_of_scope`, and the clause
    of the earthquake detailing that is not covered ('': none); entries of a beam file to begin with that are
    the code's own (`starter`)."""

    clauses: Mapping[str, str]
    symbols: Mapping[str, str]
    out_of_scope: Sequence[str] = ()
    seismic_clause: str = ""
    starter: Mapping[str, str] = field(default_factory=dict)
    units: Units = METRIC
    assumed: Sequence[str] = ()
    """What an annex has values for that are not known here, so that the recommended ones stand."""
    renumbered: Mapping[str, str] = field(default_factory=dict)
    """Of an edition: standards and clauses as it calls them, by what its clause functions say."""

    def symbol(self, usual: str) -> str:
        """The code's own symbol for one of EN 1992-1-1; '' for a thing that it does not have."""
        return self.symbols.get(usual, usual)

    def source(self, clause: str) -> str:
        """A standard with its clause, as the edition has it."""
        for earlier, own in self.renumbered.items():
            clause = re.sub(rf"(?<![\d.]){re.escape(earlier)}(?![\d(])", own, clause)
        return clause

    def formula_symbol(self, usual: str) -> str:
        """The same as one symbol of a formula: 'phiV_n'."""
        return self.symbol(usual).replace(" ", "")


@dataclass(frozen=True, eq=False)  # a code is itself alone: what was found by it can be kept under it
class DesignCode:
    """A design code with its values in force. Each part answers the questions of one topic.

    Nothing outside `codes` asks which code it is.
    """

    name: str
    title: str
    annex: str | None
    annexes: Sequence[str]
    values: Mapping[str, Value]
    words: Words
    sizes: BarSizes
    materials: MaterialsPart
    actions: ActionsPart
    analysis: AnalysisPart
    bending: BendingPart
    shear: ShearPart
    torsion: TorsionPart
    bond: BondPart
    detailing: DetailingPart
    curtailment: CurtailmentPart
    cover: CoverPart
    service: ServicePart
    deflection: DeflectionPart
    cracking: CrackingPart
    rules: Sequence[Rule] = ()
