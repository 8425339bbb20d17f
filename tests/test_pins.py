"""What was judged once and read by a person stays as it was: every check of beams with every asymmetry, as designed and with worse bars."""

from dataclasses import fields

import pytest

import pinned_changes
import pinned_designs
import pinned_proposals
import pinned_sections
import upright_bramble as ub
from pinned_beams import BEAMS, described, judged, pinned, stored_layout
from told import comes_out
from upright_bramble.files.layout_file import read_layout
from upright_bramble.pipeline import code_of
from upright_bramble.verify import workings


def _parsed(line: str) -> tuple[tuple[str, ...], tuple[float, ...], tuple[str, ...]]:
    """Name, numbers, verdict of a line."""
    words = line.split()
    if words[1] == "by":
        return tuple(words[:3]), (), tuple(words[3:])
    numbers = [w for w in words[2:] if w[-1].isdigit()]
    return tuple(words[:2]), tuple(float(w) for w in numbers), tuple(words[2 + len(numbers) :])


@pytest.mark.parametrize("name", BEAMS)
def test_every_check_is_as_it_was_pinned(name):
    """Demand, resistance and place to four digits, and the verdict."""
    before = {
        key: (numbers, verdict)
        for key, numbers, verdict in map(_parsed, pinned(name).read_text("utf-8").splitlines())
    }
    after = {key: (numbers, verdict) for key, numbers, verdict in map(_parsed, judged(name))}
    assert set(after) == set(before)
    for key, (numbers, verdict) in after.items():
        assert verdict == before[key][1], key
        assert numbers == pytest.approx(before[key][0], rel=2e-4, abs=1e-3), key


@pytest.mark.slow
@pytest.mark.parametrize("name", BEAMS)
def test_the_design_is_as_it_was_pinned(name):
    """The bars that a design chooses."""
    given = described(name)
    designed, stored = ub.design(given).layout, read_layout(stored_layout(name), given)
    for own, theirs in (
        (designed.bars, stored.bars),
        (designed.stirrups, stored.stirrups),
        (designed.sides, stored.sides),
    ):
        assert [e.mark for e in own] == [e.mark for e in theirs]
        for a, b in zip(own, theirs, strict=True):
            assert _entry(a) == pytest.approx(_entry(b), abs=0.5), a.mark


def _entry(entry) -> dict:
    """Every number of an entry; its words as numbers of their own."""
    result = {}
    for field in fields(entry):
        value = getattr(entry, field.name)
        for k, v in enumerate(value if isinstance(value, tuple) else (value,)):
            result[f"{field.name}-{k}" if isinstance(v, int | float) else f"{field.name}-{k}-{v}"] = (
                float(v) if isinstance(v, int | float) else 0.0
            )
    return result


GIVEN = {  # kinds one of whose numbers is given or counted: it stands behind the derivation as it is
    "anchorage.end", "bend.support", "confinement.bars", "cover.bars", "cracking.bottom", "cracking.top", "cut-off.bottom", "deflection.after-finishes",
    "deflection.averaged", "deflection.precamber", "deflection.span-depth", "deflection.total", "deflection.upward", "fit.rows", "flange.steel",
    "flange.steel-tension", "hanging.stirrups", "inside.bars", "integrity.end-bottom", "integrity.end-top", "redistribution.spans",
    "service-stress.bottom", "service-stress.top", "skin.spacing", "spacing.compressed-legs", "tension-flange.top", "torsion.crushing",
    "torsion.side-spacing",
}  # fmt: skip


@pytest.mark.parametrize("name", BEAMS)
def test_a_derivation_ends_in_the_numbers_of_its_check(name):
    """What a check compares comes out of the formulas told before it; else it would be added as it is. Each formula comes out of
    the numbers put into it."""
    given = described(name)
    result = ub.check(given, read_layout(stored_layout(name), given))
    for check, working in zip(result.checks, workings(result), strict=True):
        symbols = {line.symbol for line in working.lines}
        assert check.kind.id in GIVEN or not symbols & {"demand", "limit"}, check.id
        wrong = [line for line in working.lines if comes_out(line) is False]
        assert not wrong, (check.id, wrong)


@pytest.mark.slow
@pytest.mark.parametrize("name", BEAMS)
def test_what_becomes_of_changed_bars_is_as_it_was(name):
    """The worst of every kind of check that comes out otherwise, with what is noted and said."""
    assert pinned_changes.changed(name) == pinned_designs.stored(pinned_changes.PINS)[name]


SLOW = {  # half a second or more each
    "en-own", "en-rows", "csa-taper", "is-double", "si-point", "is-three", "en-held-rows", "si-taper", "us-held-hook", "si-columns", "is-twist", "en-held-sides", "us-strong", "us-hooks-heavier", "si-wide", "si-thick", "en-stress", "en-stock", "en-lean", "en-tips", "en-step-heavier",
    "en-haunch-heavier", "csa-flanged",
}  # fmt: skip


@pytest.mark.parametrize(
    "name", [pytest.param(v, marks=pytest.mark.slow if v in SLOW else ()) for v in pinned_designs.NAMES]
)
def test_wishes_are_designed_for_as_they_were(name):
    """Every entry of the layout, what governs, mass and cost."""
    assert pinned_designs.words(name) == pinned_designs.stored()[name]


@pytest.mark.parametrize("name", pinned_proposals.ALL)
def test_what_is_proposed_first_is_as_it_was(name):
    """Every entry, and what came next and why; at once, and as if a verification had asked for more."""
    assert pinned_proposals.proposed(name) == pinned_designs.stored(pinned_proposals.PINS)[name]


@pytest.mark.parametrize("name", sorted(set(pinned_designs.DESIGNS) - {"en-rows", "en-own"}))
def test_what_an_arrangement_is_said_to_cost_is_what_its_bars_cost(name):
    """The estimate that decides, of whole runs, beside the bars that come of it, one by one. (Of two beams some
    runs have no second arrangement, and only those beside the best tell what they cost.)"""
    given, made = pinned_proposals.made(name, None)
    rates, sizes = given.detailing.rates, code_of(given).sizes
    runs = {(r.face, r.first_span): r.cost - r.extra_cost for r in made.runners}
    less = 0.05 if given.detailing.lean else 1.0  # what the rest counts where the least steel is wanted
    volume = sum(b.count * sizes[b.size].area * (b.end - b.start + sum(b.legs)) for b in made.layout.bars)
    steel = 7850e-9 * volume * rates.steel
    fixing = rates.bar * sum(b.count for b in made.layout.bars) * less
    marks = rates.mark * len({b.mark for b in made.layout.bars}) * less
    variety = rates.variety * len({b.size for b in made.layout.bars}) * len(runs)  # told of every run
    assert sum(runs.values()) == pytest.approx(steel + fixing + marks + variety, rel=0.13)


def test_every_value_of_a_section_is_as_it_was_pinned():
    """Required and provided, resistances, service, interaction and curvature, of five sections by each code."""
    before, after = (
        lines for lines in (pinned_sections.PINS.read_text("utf-8").splitlines(), pinned_sections.values())
    )
    assert len(before) == len(after)
    for a, b in zip(before, after, strict=True):
        for one, other in zip(a.split("|"), b.split("|"), strict=True):
            numbers = [[float(w) for w in text.split()] for text in (one, other)] if _numeric(one) else None
            assert (
                (numbers[1] == pytest.approx(numbers[0], rel=2e-4, abs=1e-9)) if numbers else one == other
            ), (a, b)


def _numeric(text: str) -> bool:
    try:
        return bool([float(w) for w in text.split()])
    except ValueError:
        return False
