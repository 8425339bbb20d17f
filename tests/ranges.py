"""Arguments of clause functions drawn from the ranges that their docstrings give."""

from __future__ import annotations

import doctest
import functools
import importlib
import inspect
import math
import pkgutil
import random
import re
from dataclasses import dataclass

import numpy as np

import upright_bramble.codes as codes

PACKAGES = ("en1992", "aci318", "csa_a23", "is456", "bs8110")
LINE = re.compile(r"^    (\w+(?:, \w+)*) : (.+)$", re.MULTILINE)
KIND = re.compile(
    r"(?:whole )?(number|numbers)(?: or arrays?| an?\b[\w ]*| of [\w ]+)?(?:, (?P<unit>[a-zA-Z0-9/ ]+?))?(?: \((?P<symbol>[^)]*)\))?"
)
SCALES = {  # where a number of a unit is usually found
    "mm": (5.0, 3000.0), "mm2": (50.0, 5e5), "mm3": (1e5, 1e8), "mm4": (1e8, 1e11), "mm2/mm": (0.05, 6.0), "MPa": (0.5, 500.0),
    "N": (1e3, 2e6), "N mm": (1e6, 2e9), "1/mm": (1e-8, 1e-5), "": (0.01, 20.0), "days": (1.0, 20000.0), "N/mm": (1.0, 200.0),
    "kg/m3": (1500.0, 2600.0), "m2": (1.0, 500.0), "hours": (0.5, 4.0), "min": (15.0, 240.0), "C": (-10.0, 40.0), "%": (0.0, 100.0),
    "kN/m3": (14.0, 26.0),
}  # fmt: skip

# told in words: tables and expressions of several lines
WORDS = {
    "maximum_bar_diameter", "maximum_bar_spacing:EN 1992-1-1", "shrinkage_strain", "span_depth_factor", "creep_coefficient", "time_factor", "early_time_factor", "outer_area", "outer_perimeter",
    "minimum_cover", "minimum_depth", "durability_cover", "fire_axis_distance", "compression_splice",
    "effective_overhang:ACI 318-19",  "strength_growth", "adjusted_loading_age", "nonlinear_creep",
    "drying_shrinkage_nominal", "size_coefficient", "autogenous_shrinkage", "structural_class", "indicative_strength", "hook_place_factor", "held_bars",
    "deflection_divisor", "crack_width:ACI 224R", "z_limit", "bend_diameter", "tie_bend_diameter", "cotangent", "effective_span", "bond_stress",
    "lap_factor", "fire_cover", "fire_width", "table_distance", "hook_allowance", "bend_allowance", "limiting_ratio", "concrete_stress:IS 456",
    "maximum_stress", "simplified_moment", "simplified_moments_permitted", "basic_ratio", "deflection_limit", "concrete_stress:Figure 2.1",
}  # fmt: skip


@dataclass(frozen=True)
class Argument:
    name: str
    unit: str
    range: str

    def sample(self, rng: random.Random, known: dict[str, object]) -> float:
        """A number inside the range; of a range without an end, of usual size."""
        low, high = SCALES[self.unit]
        text = self.range
        if text.startswith("one of "):
            return float(rng.choice(text.removeprefix("one of ").split(", ")))
        if text == "0 or more":
            return 0.0 if rng.random() < 0.1 else _between(rng, low, high)
        if text == "either sign":
            return _between(rng, low, high) * rng.choice((-1.0, 1.0))
        if text.endswith(" or more"):
            least = _number(text.removesuffix(" or more"), known)
            return least if rng.random() < 0.1 else least + _between(rng, low, high)
        if text == "above 0":
            return _between(rng, low, high)
        if text.startswith("above 0, below "):
            return _number(text.removeprefix("above 0, below "), known) * rng.uniform(0.02, 0.98)
        first, last = (_number(v, known) for v in re.split(r"(?: up)? to ", text.removeprefix("above ")))
        share = rng.choice((0.0, 1.0, rng.random(), rng.random(), rng.random()))
        if text.startswith("above "):
            share = max(share, 0.02)
        return first + share * (last - first)


def _between(rng: random.Random, low: float, high: float) -> float:
    if low <= 0.0:
        return rng.uniform(low, high)
    return math.exp(rng.uniform(math.log(low), math.log(high)))


def _number(text: str, known: dict[str, object]) -> float:
    factor, _, name = text.rpartition(" ")
    try:
        return float(text)
    except ValueError:
        return float(factor or 1.0) * float(np.max(np.asarray(known[name], dtype=float)))


def clause_functions():
    for package in PACKAGES:
        home = importlib.import_module(f"{codes.__name__}.{package}")
        for info in pkgutil.iter_modules(home.__path__):
            module = importlib.import_module(f"{home.__name__}.{info.name}")
            for name, f in vars(module).items():
                if (
                    inspect.isfunction(f)
                    and f.__module__ == module.__name__
                    and not name.startswith("_")
                    and ">>>" in (f.__doc__ or "")
                ):
                    yield f"{package}.{info.name}.{name}", f


def in_words(function) -> bool:
    return (
        function.__name__ in WORDS
        or f"{function.__name__}:{function.clause.standard}" in WORDS
        or f"{function.__name__}:{function.clause.clause}" in WORDS
    )


@functools.cache
def arguments(function) -> list[Argument]:
    """Those that are numbers, with what their docstring says of them."""
    result = []
    for match in LINE.finditer(function.__doc__):
        text, _, where = match[2].partition("; ")
        kind = KIND.fullmatch(text)
        if kind is None:
            continue
        result += [Argument(name, kind["unit"] or "", where) for name in match[1].split(", ")]
    return result


@functools.cache
def example(function) -> dict[str, object]:
    """The arguments of its worked number."""
    seen: list[dict[str, object]] = []
    bound = inspect.signature(function)

    def spy(*args, **kwargs):
        given = bound.bind(*args, **kwargs)
        given.apply_defaults()
        seen.append(dict(given.arguments))
        return function(*args, **kwargs)

    scope = {**inspect.unwrap(function).__globals__, function.__name__: spy}
    for line in doctest.DocTestParser().get_examples(function.__doc__):
        exec(line.source, scope)
    assert seen, "the example calls its function"
    return seen[0]


def like(usual, sample):
    """A sample of the kind that the example has: several, a whole number, or none as there."""
    if isinstance(usual, list | tuple):
        return [sample() for _ in usual]
    if usual is None:
        return None
    return round(sample()) if isinstance(usual, int) and not isinstance(usual, bool) else sample()


@functools.cache
def _in_order(function) -> list[Argument]:
    """Its arguments, each after those that its range names."""
    todo = arguments(function)
    result: list[Argument] = []
    while len(result) < len(todo):
        known = {a.name for a in result}
        waiting = {a.name for a in todo} - known
        result += [
            a
            for a in todo
            if a.name not in known and not (set(re.findall(r"\w+", a.range)) & (waiting - {a.name}))
        ]
    return result


def sampled(function, rng: random.Random) -> dict[str, object]:
    """The arguments of its worked number, those that are numbers drawn anew; what is true or false by chance."""
    usual = example(function)
    given = {k: rng.random() < 0.5 if isinstance(v, bool) else v for k, v in usual.items()}
    for argument in _in_order(function):
        given[argument.name] = like(usual[argument.name], lambda a=argument: a.sample(rng, given))
    return given
