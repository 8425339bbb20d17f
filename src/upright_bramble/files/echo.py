"""What the user described, said back: every input with its value, and whether it is the usual one (nobody
said otherwise)."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator, Sequence
from typing import Any

from upright_bramble.analysis.neglect import QUANTITY
from upright_bramble.beam import Action, Beam, Column, Detailing, Profile, Rates, Support
from upright_bramble.codes import get_code
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, significant
from upright_bramble.files.fields import default_of

Item = tuple[str, str, str, bool]
"""Topic, name, value, and whether it is the usual one."""


class _Words:
    """Amounts in the units of the beam's file."""

    def __init__(self, system: UnitSystem) -> None:
        self.system = system

    def __call__(self, value: float, quantity: str, digits: int = 4) -> str:
        text = significant(value / self.system.factor(quantity), digits)
        text = text.rstrip("0").rstrip(".") if "." in text else text
        return f"{text} {self.system.unit(quantity)}"


def echo(beam: Beam) -> list[Item]:
    """In the order of the beam file."""
    w = _Words(SYSTEMS[beam.units])
    return [
        *_rules(beam),
        *_materials(beam, w),
        *_line(beam, w),
        *_loads(beam, w),
        *_service(beam, w),
        *_detailing(beam, w),
    ]


_KEYS = {
    ("rules", "code"): ("code",), ("rules", "annex"): ("annex",), ("rules",
    "combinations"): ("combinations.rule",),
    ("materials", "concrete"): ("concrete.grade", "concrete.strength"), ("materials",
    "largest aggregate"): ("concrete.aggregate",),
    ("materials", "stress diagram"): ("concrete.diagram",), ("materials", "bars"): ("reinforcement.bars",
    "reinforcement.yield"),
    ("materials", "stirrups"): ("reinforcement.stirrups", "reinforcement.yield"),
    ("materials", "cover to the stirrup"): tuple(f"cover.{key}" for key in ("top", "bottom", "sides",
    "exposure", "fire")),
    ("service", "total deflection"): ("service.deflection.total",),
    ("service", ("deflection after the "
        "finishes")): ("service.deflection.after_finishes", "service.deflection.finishes_at"),
    ("service", ("deflection after the "
        "partitions")): ("service.deflection.after_partitions", "service.deflection.partitions_at"),
    ("service", ("deflection by variable "
        "actions")): ("service.deflection.live",), ("service", "crack width"): ("service.crack_width",),
    ("service", "exposure"): ("cover.exposure",), ("service", "precamber"): ("service.deflection.precamber",),
    ("service", "reference length of a cantilever"): ("service.deflection.cantilever",),
    ("service", ("stiffness of the "
        "line")): ("service.stiffness",), ("service", "humidity"): ("service.humidity",),
    ("service", "age at first loading"): ("service.age_at_loading",), ("service",
    "cement"): ("service.cement",),
}  # fmt: skip
"""Keys of the beam file that a line of the echo stands for, where they are not its own name."""


def echoed(beam: Beam) -> list[tuple[str, str, str, bool, str]]:
    """The echo with the file of shared rules that each value came from ('' for the beam file and what is left
    out)."""
    return [(*item, _source(beam, item[0], item[1])) for item in echo(beam)]


def _source(beam: Beam, topic: str, name: str) -> str:
    if not beam.origins:
        return ""
    keys: tuple[str, ...] = _KEYS.get((topic, name), ())
    if topic == "rules" and name in beam.code_values:
        keys = (f"code_values.{name}",)
    elif topic == "line" and name.startswith("profile "):
        keys = (f"profiles.{name.removeprefix('profile ')}",)
    elif topic == "rates":
        keys = (f"detailing.rates.{name}",)
    elif topic == "steel wanted":
        keys = (f"detailing.{_DETAILING.get(name, name.replace(' ', '_'))}",)
    elif name.startswith("combination of one's own"):
        keys = ("combinations.add",)
    return ", ".join(dict.fromkeys(beam.origins[key] for key in keys if key in beam.origins))


def _rules(beam: Beam) -> Iterator[Item]:
    yield "rules", "code", beam.code, False
    if beam.annex:
        yield "rules", "annex", beam.annex, False
    for key, value in beam.code_values.items():
        yield "rules", key, f"{value:g} (yours, not the code's)", False
    yield "rules", "combinations", beam.combining.rule or "the code's first rule", not beam.combining.rule
    for own in beam.combining.added:
        factors = ", ".join(f"{f:g} {key}" for key, f in own.factors.items())
        yield "rules", f"combination of one's own, {own.level}", f"{own.name}: {factors}", False
    yield "rules", "arrangements", beam.arrangements, beam.arrangements == default_of("arrangements")
    r = beam.redistribution
    names = ", ".join(beam.supports[s].name for s in r.supports)
    far = (
        "none"
        if not r.supports
        else f"{100 * (1 - r.delta):.3g} % at {names}"
        if r.delta is not None
        else f"maximum, at {names}"
    )
    yield "rules", "redistribution", far, not r.supports
    for name, limit in beam.neglect.items():
        yield (
            "rules",
            f"neglected {name}",
            f"up to {_Words(SYSTEMS[beam.units])(limit, QUANTITY[name])} along a span",
            False,
        )
    yield "rules", "accepted ratio", f"{beam.accept:g}", beam.accept == default_of("accept")
    yield (
        "rules",
        "torque",
        "from compatibility" if beam.compatible_torsion else "needed for equilibrium",
        not beam.compatible_torsion,
    )


def _materials(beam: Beam, w: _Words) -> Iterator[Item]:
    c = beam.concrete
    yield (
        "materials",
        "concrete",
        f"{c.grade}, {w(c.strength, 'stress')}" if c.grade else w(c.strength, "stress"),
        False,
    )
    yield (
        "materials",
        "largest aggregate",
        w(c.aggregate, "section"),
        c.aggregate == default_of("concrete.aggregate"),
    )
    yield (
        "materials",
        "stress diagram",
        c.diagram,
        c.diagram == get_code(beam.code, beam.annex).materials.diagrams[0],
    )
    yield "materials", "bars", f"{beam.bars.grade}, {w(beam.bars.strength, 'stress')}", False
    yield (
        "materials",
        "stirrups",
        f"{beam.stirrups.grade}, {w(beam.stirrups.strength, 'stress')}",
        beam.stirrups == beam.bars,
    )
    sides = ", ".join(f"{k} {w(getattr(beam.cover, k), 'section')}" for k in ("top", "bottom", "sides"))
    yield "materials", "cover to the stirrup", sides, False


def _profile(p: Profile, w: _Words) -> str:
    if p.outline:
        return f"polygon of {len(p.outline)} corners, {w(p.depth, 'section')} deep"
    text = f"{w(p.width, 'section')} wide" + (
        f", {w(p.foot, 'section')} at the foot" if p.foot is not None else ""
    )
    text += f", {w(p.depth, 'section')} deep"
    if p.flange is not None:
        f = p.flange
        text += (
            f", flange {w(f.thickness, 'section')} thick, {w(f.left, 'section')} left and "
            f"{w(f.right, 'section')} right of the web"
        )
        text += ", below" if f.below else ""
        if f.slab_bars is not None:
            text += f", slab bars along the beam {w(f.slab_bars.top, 'steel per length')} at the top"
    return text


def _line(beam: Beam, w: _Words) -> Iterator[Item]:
    profiles = dict.fromkeys(p for s in beam.spans for p in (s.profile, s.becomes) if p is not None)
    for p in profiles:
        yield "line", f"profile {p.name}", _profile(p, w), False
    for i, s in enumerate(beam.spans):
        if s.left is not None and i == 0:
            yield "line", f"support {beam.supports[s.left].name}", _support(beam.supports[s.left], w), False
        shape = s.profile.name if s.becomes is None else f"{s.profile.name} to {s.becomes.name}"
        hinges = f", hinges at {', '.join(w(h, 'span') for h in s.hinges)}" if s.hinges else ""
        kind = ", a cantilever" if s.cantilever else ""
        yield "line", f"span {i + 1}", f"{w(s.length, 'span')} {shape}{kind}{hinges}", False
        if s.right is not None:
            yield "line", f"support {beam.supports[s.right].name}", _support(beam.supports[s.right], w), False


def _support(s: Support, w: _Words) -> str:
    words = [f"{w(s.width, 'section')} wide"]
    words += ["fixed"] * s.fixed + ["a hinge over it"] * s.hinge + ["indirect"] * (not s.direct)
    words += ["does not hold torsion"] * (not s.holds_torsion)
    if s.spring_vertical is not None:
        words.append(f"spring {w(s.spring_vertical, 'translational stiffness')}")
    if s.spring_rotation is not None:
        words.append(f"turning spring {w(s.spring_rotation, 'rotational stiffness')}")
    words += [_column(c, w) for c in s.columns]
    if s.settles:
        words.append(f"settles {w(s.settles, 'section')}")
    return ", ".join(words)


def _column(c: Column, w: _Words) -> str:
    inertia = significant(c.second_moment / w.system.factor("section") ** 4, 4)
    return (
        f"column {w(c.height, 'span')} high, I {inertia} {w.system.unit('section')}⁴, far end "
        f"{'fixed' if c.fixed else 'pinned'}"
    )


def _loads(beam: Beam, w: _Words) -> Iterator[Item]:
    for name, own in beam.levels:
        yield "alike beams", name, f"{own.mark}  {own.title}", False
        yield from ((topic, f"{name}: {what}", text, usual) for topic, what, text, usual in _loads(own, w))
    if beam.levels:
        return
    for action in beam.actions:
        yield "actions", action.name, "; ".join(_action(action, beam, w)), False
    tabled = any(a.tables for a in beam.actions)  # the combinations are the code's
    for level, lines in beam.given.items() if not tabled else ():
        yield (
            "actions",
            f"forces given, {level.replace('_', '-')}",
            ", ".join(dict.fromkeys(v.label for v in lines))[:120],
            False,
        )


def _action(action: Action, beam: Beam, w: _Words) -> list[str]:
    words = [action.kind + (f", category {action.category}" if action.category else "")]
    if action.acts_from:
        words.append(f"there from day {action.acts_from:g} on")
    if action.self_weight:
        part = "of the web below the flange" if action.web_only else "of the full profile"
        words.append(f"self weight {part}, {w(action.self_weight, 'density')}")
    alike: dict[tuple[object, ...], list[int]] = {}
    for load in action.loads:
        entire = load.start <= 1e-6 and abs(load.end - beam.spans[load.span].length) < 1e-3
        key = (
            load.shape,
            load.first,
            load.last,
            None if entire else load.start,
            None if entire else load.end,
            load.hung,
        )
        alike.setdefault(key, []).append(load.span)
    words += [_load(key, spans, w) for key, spans in alike.items()]
    words += [f"forces from {', '.join(action.tables)}"] * bool(action.tables) + [
        "either way"
    ] * action.either_way
    return words


def _load(key: tuple[object, ...], spans: Sequence[int], w: _Words) -> str:
    shape, first, last, start, end, hung = key
    assert isinstance(first, float)
    assert isinstance(last, float)
    quantity = {
        "line": "line load",
        "point": "force",
        "couple": "moment",
        "torque": "moment",
        "twist": "torque per length",
    }[str(shape)]
    text = w(first, quantity) + (f" to {w(last, quantity)}" if last != first else "")
    text += {"couple": " couple", "torque": " torque", "twist": " torque"}.get(str(shape), "")
    if isinstance(start, float):
        text += (
            f" at {w(start, 'span')}"
            if shape in ("point", "couple", "torque")
            else f" from {w(start, 'span')} to {w(float(str(end)), 'span')}"
        )
    return text + (" hung" if hung else "") + f" on {_numbers(spans)}"


def _numbers(spans: Sequence[int]) -> str:
    """'span 2', 'spans 1 to 4', 'spans 1, 3'."""
    n = sorted({s + 1 for s in spans})
    if len(n) == 1:
        return f"span {n[0]}"
    return (
        f"spans {n[0]} to {n[-1]}"
        if n == list(range(n[0], n[-1] + 1)) and len(n) > 2
        else "spans " + ", ".join(map(str, n))
    )


def _limit(limit: tuple[float | None, float | None] | None, w: _Words) -> str:
    if limit is None:
        return "none"
    return f"span/{limit[0]:g}" if limit[0] else w(limit[1] or 0.0, "section")


def _service(beam: Beam, w: _Words) -> Iterator[Item]:
    s = beam.service
    yield "service", "total deflection", _limit(s.total, w), False
    yield (
        "service",
        "deflection after the finishes",
        f"{_limit(s.after_finishes, w)}, built at {s.finishes_at:g} days",
        False,
    )
    if s.after_partitions is not None:
        yield (
            "service",
            "deflection after the partitions",
            f"{_limit(s.after_partitions, w)}, built at {s.partitions_at:g} days",
            False,
        )
    yield "service", "deflection by variable actions", _limit(s.live, w), s.live is None
    yield (
        "service",
        "crack width",
        "the code's" if s.crack_width is None else w(s.crack_width, "section"),
        s.crack_width is None,
    )
    yield "service", "exposure", s.exposure or "not given", s.exposure is None
    if any(s.precamber):
        yield "service", "precamber", ", ".join(w(v, "section") for v in s.precamber), False
    if s.cantilever != default_of("service.deflection.cantilever"):
        yield "service", "reference length of a cantilever", f"{s.cantilever:g} times its own", False
    yield "service", "stiffness of the line", s.stiffness, s.stiffness == default_of("service.stiffness")
    for name, key, unit in (
        ("humidity", "humidity", "%"),
        ("age at first loading", "age_at_loading", "days"),
        ("cement", "cement", ""),
    ):
        value = getattr(s, key)
        yield (
            "service",
            name,
            f"{value:g} {unit}".strip() if isinstance(value, float) else str(value),
            value == default_of(f"service.{key}"),
        )


def _usual(d: Detailing, key: str, beam: Beam) -> bool:
    """Whether a wish is what it is when left out."""
    value = getattr(d, key.rsplit(".", maxsplit=1)[-1])
    value = list(value) if isinstance(value, tuple) else value
    return bool(value == (SYSTEMS[beam.units].step if key == "step" else default_of(f"detailing.{key}")))


_DETAILING = {
    "layers": "layers",
    "reserve": "reserve",
    "stock length": "stock_length",
    "step of lengths and spacings": "step",
    "one size a face": "one_size",
    "minimum number of bars that run through": "least_bars",
    "maximum number of bars at a section": "most_bars",
    "highest stress in service": "service_stress",
    "laps": "laps",
    "spacings of stirrups": "spacings",
    "zones of stirrups in a span": "zones",
    "legs of stirrups": "stirrup_legs",
    "gap for the vibrator": "vibrator_gap",
    "style": "style",
    "hangers": "hangers",
    "side bars": "side_bars",
    "rows of side bars": "side_rows",
    "ends of bars at the beam's ends": "end_shape",
    "shortest piece": "pieces.shortest",
    "longest piece": "pieces.longest",
    "lengths at one place": "pieces.lengths",
    "cut-off of bars": "cut_off",
    "clear distance of bars": "bar_spacing.clear",
    "distance of centres of bars": "bar_spacing.centres",
    "minimum steel of one's own": "minimum_steel",
    "anchorage counts on": "anchorage",
    "laps are checked for": "laps_for",
}
"""Key under `detailing` of each line that is not called as its key is."""


def _detailing(beam: Beam, w: _Words) -> Iterator[Item]:
    d = beam.detailing
    yield "steel wanted", "main bars", ", ".join(d.main_bars), False
    for face, sizes in d.face_bars.items():
        yield "steel wanted", f"{face} bars", ", ".join(sizes), False
    yield "steel wanted", "stirrup bars", ", ".join(d.stirrup_bars), False
    rows: list[tuple[str, str, str]] = [
        ("layers", "layers", f"{d.layers}"),
        ("reserve", "reserve", f"{100 * d.reserve:g} %"),
        ("stock length", "stock_length", w(d.stock_length, "span")),
        (("step of lengths and spacings"), "step", w(d.step, "section")),
        ("one size a face", "one_size", "yes" if d.one_size else "no"),
        ("minimum number of bars that run through", "least_bars", f"{d.least_bars}"),
        (
            ("maximum number of bars at a section"),
            "most_bars",
            "no limit" if d.most_bars is None else f"{d.most_bars}",
        ),
        (
            ("highest stress in service"),
            "service_stress",
            "no limit" if d.service_stress is None else w(d.service_stress, "stress"),
        ),
        ("laps", "laps", d.laps),
        (
            "spacings of stirrups",
            "spacings",
            ", ".join(w(s, "section") for s in d.spacings) or "the usual ones",
        ),
        (
            "zones of stirrups in a span",
            "zones",
            ("3, or 5 at point loads and laps") if d.zones is None else f"{d.zones} at most",
        ),
        ("legs of stirrups", "stirrup_legs", f"{d.stirrup_legs} at least"),
        ("gap for the vibrator", "vibrator_gap", w(d.vibrator_gap, "section")),
        ("style", "style", d.style),
        ("hangers", "hangers", ", ".join(d.hangers) or "as top bars"),
        ("side bars", "side_bars", ", ".join(d.side_bars) or "as main bars"),
        ("rows of side bars", "side_rows", f"{d.side_rows} at least" if d.side_rows else "where required"),
        (
            ("ends of bars at the beam's ends"),
            "end_shape",
            "what fits" if d.end_shape == "fits" else d.end_shape,
        ),
        ("shortest piece", "pieces.shortest", w(d.shortest_piece, "span")),
        ("longest piece", "pieces.longest", w(d.longest_piece, "span")),
        (("lengths at one place"), "pieces.lengths", f"{d.lengths} at most"),
        ("cut-off of bars", "cut_off", d.cut_off),
        ("clear distance of bars", "bar_spacing.clear", w(d.clear, "section") if d.clear else "the code's"),
        (
            ("distance of centres of bars"),
            "bar_spacing.centres",
            "no limit" if d.centres is None else f"{w(d.centres, 'section')} at most",
        ),
        (
            "minimum steel of one's own",
            "minimum_steel",
            f"{d.minimum_steel:g} %" if d.minimum_steel else "none",
        ),
        ("anchorage counts on", "anchorage", d.anchorage),
        ("laps are checked for", "laps_for", d.laps_for),
    ]
    for name, key, text in rows:
        yield "steel wanted", name, text, _usual(d, key, beam)
    for field in dataclasses.fields(Rates):
        value: Any = getattr(d.rates, field.name)
        yield "rates", field.name, f"{value:g}", value == default_of(f"detailing.rates.{field.name}")
