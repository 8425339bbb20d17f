"""NBCC 2020 4.1.3: load factors and combinations, for CSA A23.3."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from upright_bramble.codes.parts import ActionsPart, Combination, Group

LETTERS = {
    "imposed": "L",
    "other": "L",
    "roof": "L",
    "snow": "S",
    "rain": "S",
    "wind": "W",
    "earthquake": "E",
    "settlement": "T",
}
COMPANION = {
    ("L", "S"): 1.0,
    ("L", "W"): 0.4,
    ("S", "L"): 1.0,
    ("S", "W"): 0.4,
    ("W", "L"): 0.5,
    ("W", "S"): 0.5,
    ("E", "L"): 0.5,
    ("E", "S"): 0.25,
}
IMPORTANCE = {  # 4.1.6.2, 4.1.7.3, 4.1.8.5: by load and category of the building, at ultimate and in service
    "S": {"low": (0.8, 0.9), "normal": (1.0, 0.9), "high": (1.15, 0.9), "post": (1.25, 0.9)},
    "W": {"low": (0.8, 0.75), "normal": (1.0, 0.75), "high": (1.15, 0.75), "post": (1.25, 0.75)},
    "E": {"low": (0.8, 1.0), "normal": (1.0, 1.0), "high": (1.3, 1.0), "post": (1.5, 1.0)},
}  # fmt: skip


def companion_factor(principal: str, load: str, storage: bool = False) -> float:
    """Factor of a companion load (Table 4.1.3.2.-A): L beside W and E is 1.0 where it is storage.

    principal, load : text; L, S, W, E
    storage : true or false

    >>> companion_factor("W", "L"), companion_factor("W", "L", True)
    (0.5, 1.0)
    """
    return 1.0 if load == "L" and storage else COMPANION[principal, load]


def importance_factor(load: str, category: str = "normal", service: bool = False) -> float:
    """Importance factor of snow, wind, earthquake.

    load : text; S, W, E
    category : text; low, normal, high, post
    service : true or false

    >>> importance_factor("W", "normal", True)
    0.75
    """
    return IMPORTANCE[load][category][1 if service else 0]


def live_load_reduction(area: float, group: str = "other") -> float:
    """Factor on imposed loads by the tributary area (4.1.5.8), which the user applies to his loads: storage
    and garages above 80 m2, other uses above 20 m2, assembly none.

    area : number, m2; 0 or more
    group : text

    >>> round(live_load_reduction(100.0), 3)
    0.613
    """
    if group == "storage":
        return 0.5 + (20.0 / area) ** 0.5 if area > 80.0 else 1.0
    if group == "other":
        return 0.3 + (9.8 / area) ** 0.5 if area > 20.0 else 1.0
    return 1.0


@dataclass(frozen=True)
class ActionsClauses(ActionsPart):
    """Answers on loads and their combinations (NBCC 4.1.3)."""

    v: Mapping[str, float]
    shares: Mapping[str, float]

    levels = ("strength", "service", "sustained")
    rare_level = "service"
    lasting_level = "sustained"
    rules = ("4.1.3.2",)
    kinds = ("imposed", "roof", "snow", "rain", "wind", "earthquake", "other")

    @property
    def categories(self) -> Sequence[str]:
        return tuple(self.shares)

    def default_category(self) -> str | None:
        return "general"

    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """As companion of wind, in service, what is sustained."""
        rows = {name: (1.0 if name == "storage" else 0.5, 1.0, share) for name, share in self.shares.items()}
        return {**rows, "snow": (0.5, self.v["I_S_SLS"], 0.0), "wind": (0.4, self.v["I_W_SLS"], 0.0)}

    def _lasts(self, group: Group) -> float:
        if group.kind == "settlement":
            return 1.0
        if group.psi is not None:
            return group.psi[2]
        return self.shares.get(group.category or "", 0.0) if group.kind in ("imposed", "other") else 0.0

    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]:
        """Table 4.1.3.2.-A: 1.4 D; L, S, W principal with one companion, dead load at 1.25 and 0.9; E with L
        and S beside 1.0 D. Service: D with L and S, with each wind; and what is sustained."""
        v, result = self.v, dict[tuple[str, float, tuple[float, ...]], Combination]()
        of = {
            letter: [i for i, g in enumerate(groups) if LETTERS.get(g.kind, "L") == letter]
            for letter in "LSWET"
        }
        importance = {"S": v["I_S"], "W": v["I_W"], "E": v["I_E"], "L": 1.0}

        def add(level: str, permanent: float, factors: Mapping[int, float], moved: float) -> None:
            for sunk in (0.0, moved) if of["T"] else (0.0,):
                values = tuple(sunk if i in of["T"] else factors.get(i, 0.0) for i in range(len(groups)))
                words = [f"{permanent:g} D"]
                words += [
                    f"{f:g} {LETTERS.get(g.kind, 'L')}[{g.key}]"
                    for f, g in zip(values, groups, strict=True)
                    if f
                ]
                result.setdefault(
                    (level, permanent, values), Combination(level, " + ".join(words), permanent, values)
                )

        def sets(letter: str, factor: float, principal: str = "") -> list[dict[int, float]]:
            """All of L and S together, each W and E by itself; as companions with their factors."""
            by = importance[letter]

            def one(i: int) -> float:
                beside = (
                    companion_factor(principal, letter, groups[i].category == "storage")
                    if principal
                    else factor
                )
                return by * beside

            each = [[i] for i in of[letter]] if letter in "WE" else [of[letter]]
            return [{i: one(i) for i in some} for some in each if some]

        add("strength", v["D_alone"], {}, 1.25)
        for principal, factor in (("L", v["L"]), ("S", v["S"]), ("W", v["W"])):
            for leading in sets(principal, factor):
                beside = [dict[int, float]()]
                for other in "LSW":
                    if (principal, other) in COMPANION:
                        beside += sets(other, 0.0, principal)
                for company in beside:
                    for dead in (v["D"], v["D_low"]):
                        add("strength", dead, {**leading, **company}, 1.25)
        for quake in sets("E", 1.0):
            both = {key: f for letter in "LS" for some in sets(letter, 0.0, "E") for key, f in some.items()}
            add("strength", 1.0, {**quake, **both}, 1.0)
            add("strength", 1.0, quake, 1.0)
        live = dict.fromkeys(of["L"], 1.0)
        snow = dict.fromkeys(of["S"], v["I_S_SLS"])
        for wind in [dict[int, float](), *({i: v["I_W_SLS"]} for i in of["W"])]:
            add("service", 1.0, {**live, **snow, **wind}, 1.0)
        add("sustained", 1.0, {i: self._lasts(groups[i]) for i in of["L"]}, 1.0)
        return list(result.values())

    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """Of each group's service load."""
        return tuple(self._lasts(g) for g in groups)
