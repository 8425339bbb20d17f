"""Every formula told is the formula used: the text of each clause, worked out with the numbers put in, gives what its function gives."""

from __future__ import annotations

import doctest
import importlib
import inspect
import math
import pkgutil
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from upright_bramble.codes.aci318.expressions import INCH_POUND, METRIC
from upright_bramble.working import formula as notation
from upright_bramble.working import lines_of, number, recording

NO_CLAUSES = ("code", "symbols", "expressions", "own_rules")
MODULES = [
    f"{package}.{module.name}"
    for package in ("en1992", "aci318")
    for module in pkgutil.iter_modules(importlib.import_module(f"upright_bramble.codes.{package}").__path__)
    if module.name not in NO_CLAUSES
]
RANGES = {  # of arguments, in N and mm; the rest are near 1
    "f_ck": (20, 90), "f_c": (20, 60), "f_y": (300, 600), "f_yk": (400, 600), "f_ywk": (400, 600), "f_yd": (300, 500), "f_ywd": (300, 500),
    "f_yt": (280, 420), "f_cd": (10, 40), "f_ctd": (0.8, 2.5), "f_ctm": (1.5, 5), "f_ct_eff": (1.5, 5), "f_bd": (1, 5), "sigma_sd": (100, 435),
    "sigma_s": (50, 400), "f_s": (100, 400), "h": (300, 1200), "d": (250, 1100), "b_w": (200, 600), "b": (300, 600), "b_t": (200, 900),
    "z": (200, 900), "v_ed": (1e4, 9e5), "v_u": (1e4, 9e5), "v_c": (1e4, 9e5), "v_s": (1e4, 9e5), "t_ed": (1e6, 1e8), "t_u": (1e6, 1e8),
    "cot": (1, 2.5), "asw_s": (0.2, 3), "av_s": (0.2, 3), "at_s": (0.1, 2), "a_sl": (200, 6000), "a_s": (200, 6000), "a_sw": (100, 3000),
    "phi": (8, 40), "d_b": (9.5, 57), "x": (50, 200), "c": (20, 60), "c_c": (20, 60), "spacing": (40, 400), "rho": (0.002, 0.04),
    "alpha_e": (5, 20), "m": (1e7, 9e8), "m_cr": (1e7, 3e8), "m_a": (1e7, 9e8), "i": (1e8, 1e10), "i_g": (4e9, 9e9), "i_cr": (1e9, 3.9e9),
    "s": (1e4, 1e6), "eps_cs": (1e-4, 7e-4), "e_cm": (25e3, 40e3), "e_s": (2e5, 2.0001e5), "l_b_rqd": (200, 2000), "m_n": (1e7, 9e8), "l_a": (0, 300), "l_d": (200, 3000),
    "percent": (5, 100), "humidity": (30, 90), "h_0": (100, 900), "t_0": (3, 60), "t": (90, 9000), "t_s": (3, 10), "a_ct": (1e4, 4e5),
    "d_g": (10, 32), "d_agg": (10, 32), "b_i": (100, 3000), "l_0": (1e3, 9e3), "l_n": (2e3, 9e3), "half_gap": (200, 3000), "h_f": (80, 300),
    "reaction": (-1e4, 9e5), "width": (100, 600), "m_span": (1e7, 9e8), "m_face": (1e7, 9e8), "m_fixed": (1e7, 9e8), "area": (1e5, 4e5),
    "perimeter": (1e3, 4e3), "a_k": (3e4, 2e5), "u_k": (800, 3000), "t_ef": (60, 150), "a_v": (100, 900), "d_f": (1e4, 5e5), "d_x": (500, 3000),
    "a_l": (100, 900), "f_bt": (1e4, 3e5), "a_b": (20, 100), "strain": (1e-4, 9e-3), "eps_t": (0.003, 0.02), "eps_ty": (0.002, 0.0021),
    "s_r_max": (100, 400), "months": (0, 80), "rho_compression": (0.0, 0.02), "length": (2000, 9000), "provided": (1, 2), "maximum": (1.5, 100), "highest": (1.5, 100),
    "wide": (1, 5), "span": (3000, 9000), "delta": (0.7, 1), "p_cp": (1000, 3000), "a_cp": (5e4, 4e5), "a_o": (4e4, 2e5), "a_oh": (4e4, 2e5),
    "p_h": (800, 2500), "n_u": (-1e4, 1e5), "a_g": (1e5, 4e5), "c_b": (20, 80), "k_tr": (0, 40), "a_tr": (100, 500), "a_c": (1e5, 5e5),
    "axis": (30, 80), "stress": (160, 400), "k_3": (2, 3.5), "k_4": (0.3, 0.5), "n": (1, 4), "share": (0.01, 0.06), "floor": (1e-3, 2e-3),
    "factor": (0.05, 0.8), "minimum": (1, 1.2), "lowest": (1, 1.2), "sum_ast": (100, 500), "pull": (1e4, 9e5), "force": (1e4, 9e5), "minutes": (30, 90),
}  # fmt: skip
CHOICES = {
    "good": [True, False], "twice": [True, False], "right_angle": [True, False], "cement": ["N", "S", "R"], "aggregate": ["quartzite"], "k": [0.4, 1.0, 1.3, 1.5], "tied": [0.0, 1.0],
    "kind": ["bend", "hook"], "both": [True, False], "exposure": ["weather", "inside", "earth"], "ends": ["simple", "end", "interior", "cantilever"],
    "cantilever": [False, True], "height": [30.0, 240.0, 260.0, 500.0], "fresh_below": [100.0, 299.0, 301.0], "sum_ast_min": [50.0], "class_b": [True, False], "psi_t": [1.0, 1.3], "psi_e": [1.0, 1.5], "graded": [True, False], "cot_alpha": [0.0], "a1": [0.7, 1.0],
}  # fmt: skip
# told in words: tables and expressions of several lines
WORDS = {
    "maximum_bar_diameter", "maximum_bar_spacing:EN 1992-1-1", "shrinkage_strain", "span_depth_factor", "creep_coefficient", "time_factor", "early_time_factor", "outer_area", "outer_perimeter",
    "minimum_cover", "minimum_depth", "durability_cover", "fire_axis_distance", "compression_splice",
    "effective_overhang:ACI 318-19",  "strength_growth", "adjusted_loading_age", "nonlinear_creep",
    "drying_shrinkage_nominal", "size_coefficient", "autogenous_shrinkage", "structural_class", "indicative_strength", "hook_place_factor", "held_bars",
    "deflection_divisor", "crack_width:ACI 224R",
}  # fmt: skip


def functions():
    result = []
    for name in MODULES:
        module = importlib.import_module(f"upright_bramble.codes.{name}")
        result += [
            (name, f) for f in vars(module).values() if inspect.isfunction(f) and hasattr(f, "clause") and f.__module__ == module.__name__
        ]
    return result


def arguments(function, rng):
    names = function.__wrapped__.__code__.co_varnames[: function.__wrapped__.__code__.co_argcount]
    result = {}
    for n in names:
        if n == "x" and "aci318" in function.__module__:
            result[n] = rng.choice([INCH_POUND, METRIC])
        elif n in CHOICES:
            result[n] = rng.choice(CHOICES[n])
        else:
            low, high = RANGES.get(n, (0.5, 1.5))
            result[n] = rng.uniform(low, high)
    if {"h", "d"} <= set(result):
        result["d"] = result["h"] * rng.uniform(0.8, 0.95)
    if {"rho", "rho_compression"} <= set(result):
        result["rho_compression"] = result["rho"] * rng.uniform(0.0, 0.6)
    return result


def in_words(function) -> bool:
    return function.__name__ in WORDS or f"{function.__name__}:{function.clause.standard}" in WORDS


@pytest.mark.parametrize("function", [f for _, f in functions() if in_words(f)], ids=lambda f: f.__name__)
def test_what_is_told_in_words_has_its_number(function):
    """Of the function's own example: a line with its symbol and its value; none where it gives more than one number."""
    scope = dict(function.__wrapped__.__globals__)
    with recording() as steps:
        for example in doctest.DocTestParser().get_examples(function.__doc__):
            exec(example.source, scope)
    steps = [s for s in steps if s.of is function.clause]
    assert steps
    lines = lines_of(steps)
    if np.size(steps[-1].result) != 1 or isinstance(steps[-1].result, str | tuple):
        assert not lines
        return
    assert lines[-1].symbol == function.clause.symbol
    assert lines[-1].text or lines[-1].formula
    assert lines[-1].value == pytest.approx(float(np.asarray(steps[-1].result)) / scale(function, steps[-1].arguments), rel=1e-9)


@pytest.mark.parametrize(
    ("module", "function"), [(m, f) for m, f in functions() if not in_words(f)], ids=lambda v: getattr(v, "__name__", v)
)
def test_the_formula_told_is_the_one_used(module, function):
    rng = random.Random(7)
    for _ in range(40):
        given_ = arguments(function, rng)
        with recording() as steps:
            result = function(**given_)
        line = lines_of(steps)[-1] if lines_of(steps) else None
        assert line is not None
        assert line.formula, (function.__name__, function.clause.formula)
        values = {name: float(v) for name, v in given_.items() if isinstance(v, int | float)}
        assert values or given_
        worked = again(steps)
        assert worked == pytest.approx(line.value, rel=1e-6, abs=1e-9), (function.__name__, line, given_)
        assert line.value == pytest.approx(float(np.asarray(result)) / scale(function, given_), rel=1e-9)


def scale(function, given_) -> float:
    x = given_.get("x")
    return x.units.factors.get(function.clause.unit, 1.0) if x is INCH_POUND else 1.0


def again(steps) -> float:
    """The last formula, worked out from its text with the values of its symbols."""
    from upright_bramble.working import worked_value

    return worked_value(steps)


def test_most_clauses_are_formulas():
    """Of all clause functions no more than a fifth are told in words."""
    all_ = functions()
    assert len(all_) > 120
    assert sum(in_words(f) for _, f in all_) < 0.2 * len(all_)


def test_every_function_of_a_code_is_told():
    """None gives a number that no derivation could tell; what returns several is put together from those that do."""
    several = {"stress_limits", "zero_moment_distances"}
    for name in MODULES:
        module = importlib.import_module(f"upright_bramble.codes.{name}")
        for key, f in vars(module).items():
            if inspect.isfunction(f) and f.__module__ == module.__name__ and not key.startswith("_") and key not in several:
                assert hasattr(f, "clause"), f"{name}.{key}"


@st.composite
def formulas(draw, depth=3):
    """Any formula, no deeper than `depth`."""
    kind = draw(st.sampled_from(["symbol", "number"] if depth == 0 else ["symbol", "number", "sum", "product", "power", "call"]))
    if kind == "symbol":
        return notation.Symbol(draw(st.sampled_from(["a", "f_ck", "V_Rd,c", "phi"])))
    if kind == "number":
        return notation.Number(str(draw(st.integers(1, 99))))
    parts = [draw(formulas(depth - 1)) for _ in range(draw(st.integers(2, 3)))]
    if kind == "sum":
        return notation.Sum(tuple((draw(st.sampled_from("+-")), p) for p in parts))
    if kind == "product":
        return notation.Product(tuple(("*" if k == 0 else draw(st.sampled_from("*/")), p) for k, p in enumerate(parts)))
    if kind == "power":
        return notation.Power(parts[0], notation.Number(str(draw(st.integers(2, 3)))))
    return notation.Call("max", tuple(parts))


@given(formulas())
def test_what_is_written_reads_as_it_was(node):
    values = {"a": 1.7, "f_ck": 3.1, "V_Rd,c": 0.9, "phi": 2.3}
    try:
        expected = notation.evaluate(node, values)
    except (ZeroDivisionError, OverflowError):
        return
    if not math.isfinite(expected):
        return
    assert notation.evaluate(notation.parse(notation.written(node)), values) == pytest.approx(expected, rel=1e-12, abs=1e-300)


@pytest.mark.parametrize("text", ["", "a +", "(a", "a ) b", "max(a; b", "a $ b", "5 (", "a^"])
def test_what_is_no_formula_is_refused(text):
    with pytest.raises(notation.FormulaError):
        notation.parse(text)


@pytest.mark.parametrize(
    ("value", "text"),
    [(0.0, "0"), (1.0, "1"), (0.0035, "0.0035"), (434.7826, "434.8"), (245312.7, "245300"), (-12.3456, "-12.35"), (1.5e12, "1.5e12"),
     (3.2e-7, "3.2e-7"), (99999.6, "100000"), (0.99996, "1")],
)  # fmt: skip
def test_numbers_are_told_to_four_digits(value, text):
    assert float(number(value)) == pytest.approx(float(text))
    assert number(value) == text or "e" in text


def test_print_of_a_formula():
    node = notation.parse("C_Rd,c k (100 rho_l f_ck)^(1/3) b_w d")
    assert notation.printed(node) == "C_Rd,c · k · (100 · ρ_l · f_ck)^(1/3) · b_w · d"
    assert notation.printed(notation.parse("1 - beta (M_cr/M)^2")) == "1 − β · (M_cr/M)²"
    put = notation.substitute(notation.parse("a - b"), {"a": "2", "b": "-3"})
    assert notation.written(put) == "2 - (-3)"
