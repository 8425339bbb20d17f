"""Every argument of a clause function says where it holds, and there the function gives a number."""

from __future__ import annotations

import inspect
import random
import re

import numpy as np
import pytest

from ranges import LINE, SCALES, arguments, clause_functions, in_words, sampled
from upright_bramble.errors import CodeError

FUNCTIONS = [pytest.param(f, id=name) for name, f in clause_functions()]


@pytest.mark.parametrize("function", FUNCTIONS)
def test_arguments_say_where_they_hold(function):
    documented = {name for match in LINE.finditer(function.__doc__) for name in match[1].split(", ")}
    assert documented == set(inspect.signature(function).parameters)
    for argument in arguments(function):
        assert argument.range, f"{argument.name} has no range"
        assert argument.unit in SCALES


@pytest.mark.parametrize("function", [p for p in FUNCTIONS if p.id.startswith("aci318.")])
def test_numbers_are_put_in_with_the_unit_of_their_argument(function):
    """Where a code is told in inches and pounds, each argument that is put into a formula goes with it."""
    if not hasattr(function, "clause") or in_words(function):
        return
    of = function.clause
    for argument in arguments(function):
        symbol, unit = of.names.get(argument.name, (argument.name, ""))
        if re.search(rf"(?<!\w){re.escape(symbol)}(?!\w)", str(of.formula)):
            assert unit == argument.unit, argument.name


@pytest.mark.parametrize("function", FUNCTIONS)
def test_there_the_function_gives_a_number(function):
    rng = random.Random(function.__name__)
    for _ in range(40):
        given = sampled(function, rng)
        with np.errstate(all="raise", under="ignore"):
            try:
                result = function(**given)
            except CodeError:
                assert "CodeError" in function.__doc__, given
                continue
        for number in result if isinstance(result, tuple) else (result,):
            if not isinstance(number, str):
                assert not np.isnan(np.asarray(number, dtype=float)).any(), given
