"""Actions, their combinations and the levels that are verified. Arrays run over stations; N, mm, MPa,
days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol


@dataclass(frozen=True)
class Group:
    """Variable actions that lead and accompany together; those that act as one do on all spans or on none,
    `either_way`: also with the opposite sign."""

    key: str
    kind: str
    category: str | None
    psi: tuple[float, float, float] | None = None
    acts_as_one: bool = False
    either_way: bool = False


@dataclass(frozen=True)
class Combination:
    """Factors of one combination: on all permanent actions, and on each group in turn."""

    level: str
    name: str
    permanent: float
    variable: tuple[float, ...]


class ActionsPart(Protocol):
    """Actions, their combinations and the levels that are verified."""

    @property
    @abstractmethod
    def levels(self) -> tuple[str, ...]:
        """'strength' first, then the service levels."""
        ...

    @property
    @abstractmethod
    def lasting_level(self) -> str:
        """The service level of long-term deflection and cracking."""
        ...

    @property
    @abstractmethod
    def rare_level(self) -> str:
        """The service level that says whether a section ever cracks."""
        ...

    @property
    @abstractmethod
    def categories(self) -> Sequence[str]: ...

    @abstractmethod
    def default_category(self) -> str | None:
        """For imposed actions that name none; None: they must."""
        ...

    @property
    @abstractmethod
    def kinds(self) -> Sequence[str]:
        """Kinds of action beside 'permanent' and 'settlement'."""
        ...

    @abstractmethod
    def accompanying(self) -> Mapping[str, tuple[float, float, float]]:
        """Factors psi_0, psi_1, psi_2 by category of imposed actions and by kind of others."""
        ...

    @property
    @abstractmethod
    def rules(self) -> Sequence[str]:
        """Rules of combination, the usual one first."""
        ...

    @property
    def permanent_by_span(self) -> str:
        """Name of the part of permanent actions that is absent from spans without variable actions, which
        combinations then have as a group of the kind 'permanent'; '': permanent actions are alike in all
        spans."""
        return ""

    @abstractmethod
    def combinations(self, groups: Sequence[Group], rule: str = "") -> list[Combination]: ...

    @abstractmethod
    def sustained_shares(self, groups: Sequence[Group]) -> tuple[float, ...]:
        """What of each group's full service load lasts."""
        ...
