"""Deflection. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.section.arrays import Array


@dataclass(frozen=True)
class Slender:
    """A span as its quick check sees it: `length`, effective depth `d`, depth `h`; how its ends go on
    ('simple', 'end', 'interior', 'cantilever'); tension steel asked for, compression steel there and what the
    moment asks of it, over b d; tension steel there over what is asked; the compressed width over that of the
    web."""

    length: float
    d: float
    h: float
    ends: str
    rho: float
    rho_compression: float
    rho_compression_required: float
    provided: float
    wide: float


class Ask(Protocol):
    """Deflection lines (rows, n) of a level in a stage; `lasting`: the part of each row's load that lasts. Of
    the level 'permanent': the permanent actions that are there before an age (days). `symbol`: under which
    derivations tell them."""

    def __call__(
        self, level: str, stage: str, *, lasting: bool = False, before: float = ..., symbol: str = ""
    ) -> Array: ...


@dataclass(frozen=True)
class Deflections:
    """Lines (rows, n), downward positive: at `striking`, under permanent actions; `immediate` under the load
    that the code judges long term; `long_term`; what comes after the finishes; by the variable actions alone
    (`live`) and after the partitions, where these are limited."""

    striking: Array
    immediate: Array
    long_term: Array
    after_finishes: Array
    live: Array | None = None
    after_partitions: Array | None = None


class DeflectionPart(Protocol):
    """Deflection. An answer given here is that of a code without such a rule."""

    @abstractmethod
    def usual_limits(self, kinds: frozenset[str]) -> Mapping[str, float]:
        """Divisors of the span for 'total', 'after_finishes', 'live', as far as the code has them for
        variable actions of these kinds."""
        ...

    @property
    def total_is_advice(self) -> bool:
        """Whether the usual limit of the total deflection is a target and no rule."""
        return False

    @property
    def shown(self) -> tuple[str, str] | None:
        """Level and stage of the curvature that derivations begin with; None: those of cracking."""
        return None

    @abstractmethod
    def span_depth(self, concrete: Concrete, steel: Steel, span: Slender) -> tuple[float, float, str]:
        """Demand, limit and quantity of the quick check of a span beside its calculated deflection."""
        ...

    @abstractmethod
    def lines(self, ask: Ask, wanted: Service, rho_compression: Array) -> Deflections:
        """Lines (rows, n), from lines asked for by level and stage.

        `rho_compression` (n,) is the ratio of compression steel that each span's deflection counts on.
        """
        ...
