"""EN 1990: actions, combinations and levels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from upright_bramble.codes.parts import (
    ActionsPart,
    Combination,
    Group,
)


def _company(groups: Sequence[Group], others: list[int], lead: Group | None) -> list[list[int]]:
    """Sets of groups beside a leader: all that can be arranged by span, and of each whole kind one or none,
    none of the leader's own kind."""
    arranged = [i for i in others if not groups[i].acts_as_one]
    choices: list[list[int]] = [[]]
    for kind in dict.fromkeys(groups[i].kind for i in others if groups[i].acts_as_one):
        if lead is not None and lead.acts_as_one and lead.kind == kind:
            continue
        own = [i for i in others if groups[i].kind == kind]
        choices = [[*chosen, *more] for chosen in choices for more in ([], *([i] for i in own))]
    return [[*arranged, *chosen] for chosen in choices]


@dataclass(frozen=True)
class ActionsClauses(ActionsPart):
    """Answers on loads and their combinations (EN 1990, 6.4.3 and 6.5.3)."""

    v: Mapping[str, float]
    psi: Mapping[str, Mapping[str, float]]
    variable: Mapping[str, Mapping[str, float]]
    usual: str = "6.10"

    levels = ("strength", "characteristic", "frequent", "quasi_permanent")
    rare_level = "characteristic"
    lasting_level = "quasi_permanent"

    @property
    def rules(self) -> Sequence[str]:
        """The annex's own first."""
        return (self.usual, *(rule for rule in ("6.10", "6.10ab") if rule != self.usual))

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        table = {**self.psi, **self.variable}
        return {key: (e["psi_0"], e["psi_1"], e["psi_2"]) for key, e in table.items()}

    @property
    def kinds(self) -> Sequence[str]:
        return ("imposed", *self.variable, "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self.psi)

    def default_category(self) -> str | None:
        return None

    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """psi_2, of the characteristic load."""
        return tuple(1.0 if g.kind == "settlement" else self._factors(g)[2] for g in groups)

    def _factors(self, group: Group) -> tuple[float, float, float]:
        if group.psi is not None:
            return group.psi
        result = self.psi[group.category] if group.category else self.variable.get(group.kind)
        return (result["psi_0"], result["psi_1"], result["psi_2"]) if result else (0.0, 0.0, 0.0)

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """EN 1990 6.10 (or 6.10a and 6.10b) with every variable group leading in turn, 6.12b with an
        earthquake, and the three service levels (6.14b, 6.15b, 6.16b). Settlement is there or not; of winds
        at most one; snow comes all at once."""
        psi = [self._factors(g) for g in groups]
        sup, inf, q = self.v["gamma_G_sup"], self.v["gamma_G_inf"], self.v["gamma_Q"]
        settle = self.v["gamma_set"]
        variable = [i for i, g in enumerate(groups) if g.kind not in ("settlement", "earthquake")]
        leads = [
            *([i] for i in variable if groups[i].kind != "snow"),
            [i for i in variable if groups[i].kind == "snow"],
        ]
        result: dict[tuple[str, float, tuple[float, ...]], Combination] = {}

        def add(level: str, permanent: float, factors: dict[int, float], settlement: float) -> None:
            """With and without settlement, and without each whole action that only accompanies."""
            for moved in (0.0, settlement) if any(g.kind == "settlement" for g in groups) else (0.0,):
                values = [
                    moved if g.kind == "settlement" else factors.get(i, 0.0) for i, g in enumerate(groups)
                ]
                key = (level, permanent, tuple(values))
                if key not in result:
                    words = [f"{permanent:g} G"] + [
                        f"{f:g} Q[{g.key}]" for f, g in zip(values, groups, strict=True) if f
                    ]
                    result[key] = Combination(level, " + ".join(words), permanent, tuple(values))

        def led(
            level: str, permanent: float, first: float | int, others: int, scale: float, settlement: float
        ) -> None:
            """Nothing, then each group leading (with `first`: a factor, or the index of a psi) and subsets
            beside it."""
            add(level, permanent, {}, settlement)
            for lead in (v for v in leads if v):
                leading = {i: scale * (psi[i][first] if isinstance(first, int) else first) for i in lead}
                for company in _company(groups, [i for i in variable if i not in lead], groups[lead[0]]):
                    add(
                        level,
                        permanent,
                        {**leading, **{i: scale * psi[i][others] for i in company}},
                        settlement,
                    )

        if (rule or self.usual) == "6.10":
            for permanent in (sup, inf):
                led("strength", permanent, 1.0, 0, q, settle)
        else:
            for permanent in (sup, inf):
                led("strength", permanent, 0, 0, q, settle)
            led("strength", self.v["xi"] * sup, 1.0, 0, q, settle)
            led("strength", inf, 1.0, 0, q, settle)
        for quake in (i for i, g in enumerate(groups) if g.kind == "earthquake"):
            for company in _company(groups, variable, None):
                add("strength", 1.0, {quake: 1.0, **{i: psi[i][2] for i in company}}, 1.0)
        led("characteristic", 1.0, 1.0, 0, 1.0, 1.0)
        led("frequent", 1.0, 1, 2, 1.0, 1.0)
        for company in _company(groups, variable, None):
            add("quasi_permanent", 1.0, {i: psi[i][2] for i in company}, 1.0)
        return list(result.values())
