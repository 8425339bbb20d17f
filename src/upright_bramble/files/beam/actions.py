"""Actions with their loads, and how they combine."""

from __future__ import annotations

from upright_bramble import beam as b
from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import along, parse
from upright_bramble.errors import UnitError
from upright_bramble.files import models as m
from upright_bramble.files.beam.line import spans_named
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.yaml_source import Path_, nearest

MAXIMUM_LOADS = 2_500  # on all spans together
MAXIMUM_VARIABLE = 30  # actions that combine independently: combinations grow with the square of their number


def combining_of(r: Reading, code: DesignCode, actions: tuple[b.Action, ...]) -> b.Combining:
    c = r.given.combinations
    if c.rule is not None and c.rule not in code.actions.rules:
        r.wrong(
            ("combinations", "rule"),
            f"'{c.rule}' is not a valid rule of combination (valid: {', '.join(code.actions.rules)})",
        )
    known = {"permanent", "settlement", *(a.category or a.name for a in actions if a.kind != "permanent")}
    for i, own in enumerate(c.add):
        _own_combination(r, code, ("combinations", "add", i), own, known)
    if c.replace:
        for level in dict.fromkeys(o.level for o in c.add):
            chosen = [(i, o) for i, o in enumerate(c.add) if o.level == level]
            if not any(f != 0.0 for _, o in chosen for f in o.factors.values()):
                path = ("combinations", "add", chosen[0][0], "factors")
                r.wrong(path, f"every factor of the level {level} is zero: nothing would be designed for")
    added = tuple(b.UserCombination(o.level, o.name, dict(o.factors)) for o in c.add)
    if c.replace and not added:
        r.wrong(("combinations", "replace"), "'add' has nothing to replace them")
    return b.Combining(c.rule or "", added, c.replace)


def _own_combination(
    r: Reading, code: DesignCode, path: Path_, own: m.OwnCombinationIn, known: set[str]
) -> None:
    """Of a level that there is, with factors of actions that there are."""
    levels = code.actions.levels
    if own.level not in levels:
        r.wrong((*path, "level"), f"'{own.level}' is not a valid level (valid: {', '.join(levels)})")
    if "permanent" not in own.factors:
        text = "'permanent' is missing; give 'permanent: 0' if they are to be left out"
        r.wrong((*path, "factors"), text)
    for key in own.factors:
        if key not in known:
            text = f"no action counts as '{key[:40]}'{nearest(key, sorted(known))}"
            r.wrong((*path, "factors", key), text)


def actions_of(
    r: Reading, code: DesignCode, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> tuple[b.Action, ...]:
    actions: list[b.Action] = []
    seen: set[str] = set()
    for i, a in enumerate(r.given.actions):
        _name(r, code, i, a, seen)
        category = _category(r, code, i, a)
        loads = _all_loads(r, i, a, supports, spans)
        _weight_and_time(r, i, a, spans)
        tables = () if a.table is None else (a.table,) if isinstance(a.table, str) else tuple(a.table)
        actions.append(
            b.Action(
                name=a.name,
                kind=a.kind,
                category=category,
                loads=tuple(loads),
                self_weight=a.density if a.self_weight else 0.0,
                web_only=a.self_weight == "web",
                psi=(a.psi[0], a.psi[1], a.psi[2]) if a.psi else None,
                acts_from=a.acts_from or 0.0,
                either_way=a.either_way,
                tables=tables,
            )
        )
    variable = {
        a.category or a.name: i for i, a in reversed(list(enumerate(actions))) if a.kind != "permanent"
    }
    if len(variable) > MAXIMUM_VARIABLE:
        first = sorted(variable.values())[MAXIMUM_VARIABLE]
        r.wrong(
            ("actions", first),
            f"here the independent variable actions are more than {MAXIMUM_VARIABLE}; join what acts "
            "together",
        )
    return tuple(actions)


def _name(r: Reading, code: DesignCode, i: int, a: m.ActionIn, seen: set[str]) -> None:
    """A name is given once, and is no word by which combinations know other actions: it would be combined as
    one with these, with their factors."""
    if a.name in seen:
        r.wrong(("actions", i, "name"), f"'{a.name}' names two actions; give each its own name")
    seen.add(a.name)
    words = ("permanent", "settlement", *code.actions.categories)
    if a.kind not in ("permanent", "imposed") and a.name in words:
        text = f"'{a.name}' is already the name of other actions in combinations; use another name"
        r.wrong(("actions", i, "name"), text)


def _category(r: Reading, code: DesignCode, i: int, a: m.ActionIn) -> str | None:
    """What an action is combined as: by its kind, imposed ones by their category, others by their own
    factors."""
    kinds, categories = ("permanent", *code.actions.kinds), code.actions.categories
    if a.kind not in kinds:
        r.wrong(("actions", i, "kind"), f"'{a.kind[:40]}' is not a valid kind (valid: {', '.join(kinds)})")
    if (a.kind == "other") != (a.psi is not None):
        text = "the kind 'other' needs 'psi: [psi_0, psi_1, psi_2]', and only it has them"
        r.wrong(("actions", i, "psi"), text)
    if a.kind != "imposed":
        if a.category is not None:
            r.wrong(("actions", i, "category"), "only imposed actions have a category; leave it out")
        return a.category
    category = code.actions.default_category() if a.category is None else a.category
    if category not in categories:
        missing = category is None
        text = "an imposed action needs a 'category'" if missing else f"'{category}' is not a valid category"
        r.wrong(("actions", i, "category"), f"{text} (valid: {', '.join(categories)})")
    return category


def _all_loads(
    r: Reading, i: int, a: m.ActionIn, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> list[b.Load]:
    """Of an action on all its spans, as long as those of the whole file are not too many."""
    loads: list[b.Load] = []
    for j, load in enumerate(a.loads):
        if r.loads > MAXIMUM_LOADS:
            break
        more = _loads(r, load, ("actions", i, "loads", j), supports, spans)
        loads += more
        r.loads += len(more)
        if r.loads > MAXIMUM_LOADS:
            text = f"here the loads of all spans are more than {MAXIMUM_LOADS:,}; join equal ones"
            r.wrong(("actions", i, "loads", j), text)
    return loads


def _weight_and_time(r: Reading, i: int, a: m.ActionIn, spans: tuple[b.Span, ...]) -> None:
    """Self weight, that there is a load at all, and what only permanent or only variable actions have."""
    below = any(s.profile.flange is not None and s.profile.flange.below for s in spans)
    if a.self_weight == "web" and below:
        text = "the flange of an inverted T is no slab: weigh all of it, 'self_weight: true'"
        r.wrong(("actions", i, "self_weight"), text)
    if not a.self_weight and not a.loads and a.table is None:
        text = "has no loads; give 'loads', 'self_weight: true', or a 'table' of its forces"
        r.wrong(("actions", i), text)
    if a.acts_from is not None and a.kind != "permanent":
        text = "only permanent actions have an age from which they act; leave it out"
        r.wrong(("actions", i, "acts_from"), text)
    if a.either_way and a.kind == "permanent":
        r.wrong(("actions", i, "either_way"), "permanent actions act one way; leave it out")


def _loads(
    r: Reading, load: m.LoadIn, path: Path_, supports: tuple[b.Support, ...], spans: tuple[b.Span, ...]
) -> list[b.Load]:
    result: list[b.Load] = []
    for k in spans_named(r, load.on, path, supports, spans):
        length = spans[k].length
        if isinstance(load, m.TorqueIn):
            result += _torque(r, load, path, k, length)
            continue
        if isinstance(load, (m.PointLoadIn, m.CoupleLoadIn)):
            if not -1e-6 <= load.at <= length + 1e-6:
                r.wrong(
                    (*path, "at"),
                    f"{along(load.at)} lies outside span {k + 1}, which is {along(length)} long",
                )
                continue
            value, shape = (
                (load.point, "point") if isinstance(load, m.PointLoadIn) else (load.couple, "couple")
            )
            if shape == "couple" and any(abs(load.at - h) < 1.0 for h in spans[k].hinges):
                r.wrong((*path, "at"), "a couple on a hinge acts on neither side; move it to one")
            at = _snapped(load.at, length)
            hung, off = (load.hung, load.eccentricity) if isinstance(load, m.PointLoadIn) else (False, 0.0)
            result.append(
                b.Load(
                    shape=shape, span=k, first=value, last=value, start=at, end=at, hung=hung, side=_sign(off)
                )
            )
            if off:
                result.append(
                    b.Load(
                        shape="torque",
                        span=k,
                        first=value * off,
                        last=value * off,
                        start=at,
                        end=at,
                        hung=False,
                        side=_sign(off),
                    )
                )
            continue
        start = 0.0 if load.from_ is None else _snapped(load.from_, length)
        end = length if load.to is None else _snapped(load.to, length)
        if isinstance(load, m.AreaLoadIn):
            first = last = load.area * load.loaded_width
        else:
            first, last = load.line if isinstance(load.line, list) else (load.line, load.line)
        if not 0.0 <= start < end <= length:
            text = (
                f"from {along(start)} to {along(end)} extends beyond span {k + 1}, which is "
                f"{along(length)} long"
            )
            r.wrong(path, text)
            continue
        off = load.eccentricity
        result.append(
            b.Load(
                shape="line",
                span=k,
                first=first,
                last=last,
                start=start,
                end=end,
                hung=False,
                side=_sign(off),
            )
        )
        if off:
            result.append(
                b.Load(
                    shape="twist",
                    span=k,
                    first=first * off,
                    last=last * off,
                    start=start,
                    end=end,
                    hung=False,
                    side=_sign(off),
                )
            )
    return result


def _torque(r: Reading, load: m.TorqueIn, path: Path_, k: int, length: float) -> list[b.Load]:
    """A torque at one place, or spread: the same word with another unit."""
    spread = load.at is None
    values = load.torque if isinstance(load.torque, list) and spread else [load.torque]
    numbers = []
    for value in values[:2] or [0.0]:
        try:
            numbers.append(parse(value, "torque per length" if spread else "moment", r.units))
        except UnitError as error:
            r.wrong((*path, "torque"), str(error))
            numbers.append(0.0)
    if len(values) not in (1, 2):
        r.wrong((*path, "torque"), "give one value, or [first, last]")
    if load.at is not None:
        if load.from_ is not None or load.to is not None:
            r.wrong((*path, "at"), "a torque at one place has no 'from' and 'to'")
        if not -1e-6 <= load.at <= length + 1e-6:
            r.wrong(
                (*path, "at"),
                f"{along(load.at)} lies outside span {k + 1}, which is {along(length)} long",
            )
            return []
        at = _snapped(load.at, length)
        return [
            b.Load(
                shape="torque",
                span=k,
                first=numbers[0],
                last=numbers[0],
                start=at,
                end=at,
                hung=False,
                side=_sign(numbers[0]),
            )
        ]
    start, end = (
        0.0 if v is None else _snapped(v, length)
        for v in (load.from_, length if load.to is None else load.to)
    )
    if not 0.0 <= start < end <= length:
        text = (
            f"from {along(start)} to {along(end)} extends beyond span {k + 1}, which is {along(length)} long"
        )
        r.wrong(path, text)
        return []
    return [
        b.Load(
            shape="twist",
            span=k,
            first=numbers[0],
            last=numbers[-1],
            start=start,
            end=end,
            hung=False,
            side=_sign(numbers[0] + numbers[-1]),
        )
    ]


def _snapped(x: float, length: float) -> float:
    """A place along a span, on its end where it is within a hundredth of a millimetre of it."""
    return 0.0 if abs(x) < 0.01 else length if abs(x - length) < 0.01 else x


def _sign(value: float) -> int:
    """-1, 0 or 1."""
    return (value > 0.0) - (value < 0.0)
