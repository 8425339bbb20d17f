"""ACI 318-19 chapter 5: load factors and combinations."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from upright_bramble.codes.parts import (
    ActionsPart,
    Combination,
    Group,
)


def _letter(group: Group) -> str:
    return {
        "imposed": "L",
        "roof": "Lr",
        "snow": "S",
        "rain": "R",
        "wind": "W",
        "earthquake": "E",
        "settlement": "T",
    }.get(group.kind, "L")


def _times(factors: dict[int, float], by: float) -> dict[int, float]:
    return {i: f * by for i, f in factors.items()}


@dataclass(frozen=True)
class ActionsClauses(ActionsPart):
    """Answers on loads and their combinations (chapter 5)."""

    v: Mapping[str, float]
    psi: Mapping[str, Mapping[str, float]]
    variable: Mapping[str, Mapping[str, float]]

    levels = ("strength", "dead", "service", "sustained")
    rare_level = "service"
    lasting_level = "sustained"
    rules = ("5.3.1",)

    def default_category(self) -> str | None:
        return "heavy"

    @property
    def kinds(self) -> Sequence[str]:
        return ("imposed", *self.variable, "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self.psi)

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Factors by category and kind: beside other leading loads, in service, sustained."""
        table = {**self.psi, **self.variable}
        return {key: (e["psi_0"], e["psi_1"], e["psi_2"]) for key, e in table.items()}

    def _factors(self, group: Group) -> tuple[float, float, float]:
        if group.psi is not None:
            return group.psi
        result = self.psi.get(group.category or "") or self.variable.get(group.kind)
        return (result["psi_0"], result["psi_1"], result["psi_2"]) if result else (1.0, 1.0, 0.0)

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """5.3.1 (a) to (g), each with every roof load, wind and earthquake in turn; settlement (T, 5.3.6)
        there or not; and the service levels: dead; dead, live and one roof load; sustained."""
        of = {
            k: [i for i, g in enumerate(groups) if g.kind in kinds]
            for k, kinds in (
                ("L", ("imposed", "other")),
                ("R", ("roof", "snow", "rain")),
                ("W", ("wind",)),
                ("E", ("earthquake",)),
                ("S", ("snow",)),
                ("T", ("settlement",)),
            )
        }
        result: dict[tuple[str, float, tuple[float, ...]], Combination] = {}
        v = self.v

        def add(
            level: str, section: str, permanent: float, factors: dict[int, float], settling: float
        ) -> None:
            for moved in (0.0, settling) if of["T"] else (0.0,):
                values = [moved if i in of["T"] else factors.get(i, 0.0) for i in range(len(groups))]
                key = (level, permanent, tuple(values))
                if key not in result:
                    words = [f"{permanent:g} D"] + [
                        f"{f:g} {_letter(g)}[{g.key}]" for f, g in zip(values, groups, strict=True) if f
                    ]
                    result[key] = Combination(level, " + ".join(words) + section, permanent, tuple(values))

        live = dict.fromkeys(of["L"], v["L"])
        beside = {i: self._factors(groups[i])[0] for i in of["L"]}
        snows = dict.fromkeys(of["S"], 1.0)  # snow comes all at once
        roofs = [
            dict[int, float](),
            *({i: 1.0} for i in of["R"] if i not in snows),
            *([snows] if snows else []),
        ]
        add("strength", " (a)", v["D_alone"], {}, v["T"])
        for roof in roofs:
            add("strength", " (b)", v["D"], {**live, **_times(roof, v["roof_beside"])}, v["T"])
            if roof:
                add("strength", " (c)", v["D"], {**_times(roof, v["roof"]), **beside}, v["T"])
                for wind in of["W"]:
                    add("strength", " (c)", v["D"], {**_times(roof, v["roof"]), wind: v["W_beside"]}, v["T"])
            for wind in of["W"]:
                add(
                    "strength",
                    " (d)",
                    v["D"],
                    {wind: v["W"], **beside, **_times(roof, v["roof_beside"])},
                    v["T"],
                )
        for quake in of["E"]:
            for snow in [dict[int, float](), *([_times(snows, v["S_with_E"])] if snows else [])]:
                add("strength", " (e)", v["D"], {quake: v["E"], **beside, **snow}, v["T"])
            add("strength", " (g)", v["D_low"], {quake: v["E"]}, v["T"])
        for wind in of["W"]:
            add("strength", " (f)", v["D_low"], {wind: v["W"]}, v["T"])
        add("dead", "", 1.0, {}, 1.0)
        winds = [dict[int, float](), *({i: self._factors(groups[i])[1]} for i in of["W"])]
        for roof, blown in itertools.product(roofs, winds):
            add(
                "service",
                "",
                1.0,
                {**{i: self._factors(groups[i])[1] for i in of["L"]}, **roof, **blown},
                1.0,
            )
        add("sustained", "", 1.0, {i: self._factors(g)[2] for i, g in enumerate(groups)}, 1.0)
        return list(result.values())

    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """Of each group's service load."""
        return tuple(
            1.0 if g.kind == "settlement" else self._factors(g)[2] / max(self._factors(g)[1], 1e-9)
            for g in groups
        )
