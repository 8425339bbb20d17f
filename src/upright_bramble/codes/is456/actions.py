"""IS 456 18.2, 36.4: partial safety factors and combinations of loads (Table 18)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from upright_bramble.codes.parts import ActionsPart, Combination, Group

LETTERS = {
    "imposed": "IL",
    "roof": "IL",
    "snow": "IL",
    "wind": "WL",
    "other": "IL",
    "settlement": "S",
    "earthquake": "EL",
}


@dataclass(frozen=True)
class ActionsClauses(ActionsPart):
    """Answers on loads and their combinations (Table 18)."""

    v: Mapping[str, float]
    shares: Mapping[str, float]

    levels = ("strength", "service", "permanent_service")
    rare_level = "service"
    lasting_level = "permanent_service"
    rules = ("Table 18",)
    kinds = ("imposed", "roof", "snow", "wind", "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self.shares)

    def default_category(self) -> str | None:
        return "general"

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Beside wind and in service; the last is what lasts."""
        kinds = {"roof": 0.0, "snow": 0.0, "wind": 0.0}
        return {key: (0.8, 1.0, share) for key, share in {**self.shares, **kinds}.items()}

    def _lasts(self, group: Group) -> float:
        if group.kind == "settlement":
            return 1.0
        if group.psi is not None:
            return group.psi[2]
        return self.shares.get(group.category or "", 0.0) if group.kind in ("imposed", "other") else 0.0

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """Table 18: dead and imposed; dead and each wind or earthquake, with 0.9 DL where stresses reverse;
        all three. Service: DL + IL, DL + WL, DL + 0.8 IL + 0.8 WL; and what lasts."""
        v, result = self.v, dict[tuple[str, float, tuple[float, ...]], Combination]()
        live = [i for i, g in enumerate(groups) if g.kind in ("imposed", "roof", "snow", "other")]
        lateral = [i for i, g in enumerate(groups) if g.kind in ("wind", "earthquake")]
        settled = [i for i, g in enumerate(groups) if g.kind == "settlement"]

        def add(level: str, permanent: float, factors: Mapping[int, float], moved: float) -> None:
            for sunk in (0.0, moved) if settled else (0.0,):
                values = tuple(sunk if i in settled else factors.get(i, 0.0) for i in range(len(groups)))
                words = [f"{permanent:g} DL"]
                words += [
                    f"{f:g} {LETTERS.get(g.kind, 'IL')}[{g.key}]"
                    for f, g in zip(values, groups, strict=True)
                    if f
                ]
                result.setdefault(
                    (level, permanent, values), Combination(level, " + ".join(words), permanent, values)
                )

        imposed = dict.fromkeys(live, v["gamma_IL"])
        add("strength", v["gamma_DL"], imposed, v["gamma_IL"])
        add("strength", v["gamma_DL_low"], imposed, v["gamma_IL"])  # "when stress reversal is critical"
        for i in lateral:
            for dead in (v["gamma_DL"], v["gamma_DL_low"]):
                add("strength", dead, {i: v["gamma_WL"]}, v["gamma_WL"])
            add(
                "strength",
                v["gamma_all"],
                {**dict.fromkeys(live, v["gamma_all"]), i: v["gamma_all"]},
                v["gamma_all"],
            )
        add("service", 1.0, dict.fromkeys(live, 1.0), 1.0)
        for i in lateral:
            add("service", 1.0, {i: 1.0}, 1.0)
            add("service", 1.0, {**dict.fromkeys(live, 0.8), i: 0.8}, 1.0)
        add("permanent_service", 1.0, {i: self._lasts(groups[i]) for i in live}, 1.0)
        return list(result.values())

    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """Of each group's characteristic load."""
        return tuple(self._lasts(g) for g in groups)
