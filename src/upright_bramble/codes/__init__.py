"""The design codes known, by name."""

from __future__ import annotations

from collections.abc import Mapping

from upright_bramble.codes.protocol import DesignCode
from upright_bramble.errors import CodeError

_CODES = ("en1992-1-1", "aci318-19", "aci318m-19")


def known_codes() -> tuple[str, ...]:
    return _CODES


def get_code(name: str, annex: str | None = None, overrides: Mapping[str, float] | None = None) -> DesignCode:
    """A design code with the annex's values and the user's overrides.

    Raises CodeError for a code, annex or value that is not known.
    """
    if name == "en1992-1-1":
        from upright_bramble.codes.en1992.code import EN1992

        return EN1992(annex or "recommended", dict(overrides or {}))
    if name in ("aci318-19", "aci318m-19"):
        from upright_bramble.codes.aci318.code import ACI318

        if annex is not None:
            raise CodeError(f"the code {name} has no annexes; leave 'annex' out")
        return ACI318(name == "aci318m-19", dict(overrides or {}))
    raise CodeError(f"the code '{name}' is not known; known: {', '.join(_CODES)}")


__all__ = ["DesignCode", "get_code", "known_codes"]
