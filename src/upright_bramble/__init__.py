"""Upright Bramble: multi-span reinforced concrete beams, designed and checked.

>>> import upright_bramble as ub
>>> beam = ub.read("DB3.beam.yaml")            # doctest: +SKIP
>>> result = ub.design(beam)                   # doctest: +SKIP
>>> ub.table(result, "checks")                 # doctest: +SKIP
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from upright_bramble.version import __version__

if TYPE_CHECKING:
    from upright_bramble.api import (
        check,
        design,
        design_many,
        figure,
        forces,
        judge_section,
        read,
        read_layout,
        suggest,
        table,
        why,
    )

__all__ = [
    "__version__",
    "check",
    "design",
    "design_many",
    "figure",
    "forces",
    "judge_section",
    "read",
    "read_layout",
    "suggest",
    "table",
    "why",
]


def __getattr__(name: str) -> Any:
    # the interface imports nothing heavy until it is used: `bramble --help` must be quick
    if name in __all__:
        from upright_bramble import api

        return getattr(api, name)
    raise AttributeError(f"module 'upright_bramble' has no attribute '{name}'")
