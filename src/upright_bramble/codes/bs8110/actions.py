"""BS 8110-1 2.4.3: partial factors and combinations of loads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from upright_bramble.codes.parts import ActionsPart, Combination, Group

LETTERS = {
    "imposed": "Q_k",
    "roof": "Q_k",
    "snow": "Q_k",
    "wind": "W_k",
    "other": "Q_k",
    "settlement": "S",
    "earthquake": "E",
}


@dataclass(frozen=True)
class ActionsClauses(ActionsPart):
    """Answers on loads and their combinations (Table 2.1; part 2, 3.3.3)."""

    v: Mapping[str, float]
    shares: Mapping[str, float]

    levels = ("strength", "service", "permanent_service")
    rare_level = "service"
    lasting_level = "permanent_service"
    rules = ("Table 2.1",)
    kinds = ("imposed", "roof", "snow", "wind", "earthquake", "other")

    @property
    def permanent_by_span(self) -> str:
        """3.2.1.2.2: spans without imposed load carry 1.0 G_k while loaded ones carry 1.4 G_k."""
        return f"{self.v['gamma_G'] - self.v['gamma_G_min']:g} G_k"

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self.shares)

    def default_category(self) -> str | None:
        return "general"

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Beside other loads and in service whole; the last is what lasts (part 2, 3.3.3)."""
        kinds = {"roof": 0.0, "snow": 0.0, "wind": 0.0}
        return {key: (1.0, 1.0, share) for key, share in {**self.shares, **kinds}.items()}

    def _lasts(self, group: Group) -> float:
        if group.kind == "settlement":
            return 1.0
        if group.psi is not None:
            return group.psi[2]
        return self.shares.get(group.category or "", 0.0) if group.kind in ("imposed", "other") else 0.0

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """Table 2.1: dead and imposed; dead and each wind; dead, imposed and each wind; an earthquake beside
        1.0 G_k and what lasts. Service: all characteristic loads, and those that last."""
        v, result = self.v, dict[tuple[str, float, tuple[float, ...]], Combination]()
        part = self.permanent_by_span
        more = {
            i: v["gamma_G"] - v["gamma_G_min"]
            for i, g in enumerate(groups)
            if g.key == part and g.kind == "permanent"
        }
        variable = [i for i, g in enumerate(groups) if g.kind in ("imposed", "roof", "snow", "other")]
        winds, quakes = (
            [i for i, g in enumerate(groups) if g.kind == kind] for kind in ("wind", "earthquake")
        )
        settled = [i for i, g in enumerate(groups) if g.kind == "settlement"]

        def add(level: str, name: str, permanent: float, factors: Mapping[int, float], moved: float) -> None:
            for sunk in (0.0, moved) if settled else (0.0,):
                values = tuple(sunk if i in settled else factors.get(i, 0.0) for i in range(len(groups)))
                words = [name] + [
                    f"{f:g} {LETTERS[g.kind]}[{g.key}]"
                    for f, g in zip(values, groups, strict=True)
                    if f and g.kind != "permanent"
                ]
                result.setdefault(
                    (level, permanent, values), Combination(level, " + ".join(words), permanent, values)
                )

        least, dead = v["gamma_G_min"], f"{v['gamma_G']:g} G_k"
        live = dict.fromkeys(variable, v["gamma_Q"])
        add("strength", dead, least, {**more}, v["gamma_Q"])
        add("strength", f"{dead} ({least:g} on unloaded spans)", least, {**more, **live}, v["gamma_Q"])
        add("strength", f"{least:g} G_k", least, live, v["gamma_Q"])
        for i in winds:
            add("strength", dead, least, {**more, i: v["gamma_W"]}, v["gamma_W"])
            add("strength", f"{least:g} G_k", least, {i: v["gamma_W"]}, v["gamma_W"])
            both = {**dict.fromkeys(variable, v["gamma_all"]), i: v["gamma_all"]}
            add("strength", f"{v['gamma_all']:g} G_k", v["gamma_all"], both, v["gamma_all"])
        for i in quakes:
            add("strength", "1 G_k", 1.0, {i: 1.0, **{k: self._lasts(groups[k]) for k in variable}}, 1.0)
            add("strength", "1 G_k", 1.0, {i: 1.0}, 1.0)
        for wind in [dict[int, float](), *({i: 1.0} for i in winds)]:
            add("service", "1 G_k", 1.0, {**dict.fromkeys(variable, 1.0), **wind}, 1.0)
        add("permanent_service", "1 G_k", 1.0, {i: self._lasts(groups[i]) for i in variable}, 1.0)
        return list(result.values())

    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """Of each group's characteristic load."""
        return tuple(1.0 if g.kind == "permanent" else self._lasts(g) for g in groups)
