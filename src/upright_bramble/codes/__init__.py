"""The design codes known, by name. Each is a package here that says in `CODES` which names it answers to, and
in `code.make` how."""

from __future__ import annotations

import functools
import importlib
import pkgutil
from collections.abc import Mapping

from upright_bramble.codes.design_code import DesignCode
from upright_bramble.errors import CodeError


@functools.cache
def _by_name() -> dict[str, str]:
    """Package by name of code, in the order of the packages' `ORDER`."""
    result: list[tuple[int, str, str]] = []
    for package in pkgutil.iter_modules(__path__):
        if package.ispkg:
            module = importlib.import_module(f"{__name__}.{package.name}")
            result += [(module.ORDER, name, package.name) for name in getattr(module, "CODES", ())]
    return {name: package for _, name, package in sorted(result, key=lambda v: v[0])}


def known_codes() -> tuple[str, ...]:
    """Names of the codes, the first one the usual one.

    >>> known_codes()[:3], known_codes()[-3:]
    (('en1992-1-1', 'aci318-19', 'aci318m-19'), ('csa-a23.3-19', 'is456-2000', 'bs8110-97'))
    """
    return tuple(_by_name())


def get_code(name: str, annex: str | None = None, overrides: Mapping[str, float] | None = None) -> DesignCode:
    """A design code with the annex's values and the user's overrides.

    Raises CodeError for a code, annex or value that is not known.

    >>> get_code("en1992-1-1", "uk").title
    'EN 1992-1-1:2004+A1:2014, UK national annex'
    """
    packages = _by_name()
    if name not in packages:
        raise CodeError(f"'{name}' is not a valid code (valid: {', '.join(packages)})")
    return _made(name, annex, tuple(sorted((overrides or {}).items())))


@functools.lru_cache(maxsize=64)
def _made(name: str, annex: str | None, overrides: tuple[tuple[str, float], ...]) -> DesignCode:
    """Put together once: many beams go by one code."""
    code: DesignCode = importlib.import_module(f"{__name__}.{_by_name()[name]}.code").make(
        name, annex, dict(overrides)
    )
    return code


__all__ = ["DesignCode", "get_code", "known_codes"]
