"""A beam file becomes a Beam: names resolved, units gone, every fault found in one go."""

from __future__ import annotations

import difflib

from upright_bramble import beam as b
from upright_bramble.analysis import sized
from upright_bramble.analysis.flanges import with_flanges
from upright_bramble.analysis.line import solve
from upright_bramble.codes import DesignCode, get_code, known_codes
from upright_bramble.errors import CodeError, InputFaults, UnstableLine
from upright_bramble.files.beam.actions import actions_of, combining_of
from upright_bramble.files.beam.forces import forces_by_action, given_forces
from upright_bramble.files.beam.line import line_of, redistribution_of
from upright_bramble.files.beam.profiles import check_sizes, cover_of, guessed_sizes, profile_of
from upright_bramble.files.beam.reading import Reading
from upright_bramble.files.beam.wishes import check_torsion, detailing_of, service_of, waived_topics
from upright_bramble.files.materials import concrete_of, steels_of
from upright_bramble.files.yaml_source import spelled


def assembled(r: Reading) -> b.Beam:
    """The beam, from every part of its file. Raises InputFaults with all faults."""
    g = r.given
    code = code_of(r)
    if code is None:
        raise InputFaults(r.faults)
    concrete = concrete_of(g.concrete, code, r.units, r.wrong)
    bars, stirrups = steels_of(g.reinforcement, code, r.units, r.wrong)
    guessed_sizes(r)
    detailing = detailing_of(r, code)
    r.cover = cover_of(r, code, detailing, concrete)
    profiles = {name: profile_of(r, name, p) for name, p in r.profiles.items()}
    supports, spans = line_of(r, profiles)
    actions = actions_of(r, code, supports, spans) if spans else ()
    combining = combining_of(r, code, actions)
    tabled = any(a.tables for a in actions)
    given: dict[str, tuple[b.ForceLine, ...]] = {}
    if spans and tabled:
        actions, given = forces_by_action(r, code, supports, spans, actions, combining)
    elif spans:
        given = given_forces(r, code, supports, spans)
    redistribution = redistribution_of(r, supports, spans)
    service = service_of(r, code)
    check_sizes(r, profiles, spans, supports, detailing, code)
    waived = waived_topics(r)
    check_torsion(r, code)
    if r.faults:
        raise InputFaults(r.faults)
    beam = b.Beam(
        title=g.beam,
        mark=g.mark,
        code=g.code,
        annex=g.annex,
        code_values=dict(g.code_values),
        units=g.units,
        concrete=concrete,
        bars=bars,
        stirrups=stirrups,
        cover=r.cover,
        supports=supports,
        spans=spans,
        actions=actions,
        service=service,
        detailing=detailing,
        arrangements=g.arrangements,
        combining=combining,
        redistribution=redistribution,
        given=given,
        compatible_torsion=g.torsion != "equilibrium",
        proposed=r.proposed,
        about={key: value for key, value in g.about.model_dump().items() if value},
        remarks=dict(g.remarks),
        waive=waived,
        bracing=0.0 if g.bracing == "continuous" else g.bracing,
        perimeter=None if g.integrity is None else g.integrity == "perimeter",
        lateral=g.lateral,
        origins={spelled(path): name for path, (name, _) in r.source.origins.items()},
        neglect={key: value for key, value in g.neglect.model_dump().items() if value},
        accept=g.accept,
        quantity=g.quantity,
        cautions=tuple(dict.fromkeys(r.cautions)),
    )
    check_stability(r, beam, code)
    auto = {
        n: (p.depth == "auto", p.width == "auto")
        for n, p in g.profiles.items()
        if "auto" in (p.depth, p.width)
    }
    return sized.sized(beam, code, auto) if auto else beam


def check_stability(r: Reading, beam: b.Beam, code: DesignCode) -> None:
    """Whether the supports hold the line. Raises InputFaults where they do not."""
    if beam.given:
        return
    try:
        solve(with_flanges(beam, code), [[p for a in beam.actions for p in beam.loads(a)]], 3e4)
    except UnstableLine as error:
        r.wrong(("line",), str(error))
        raise InputFaults(r.faults) from None


def code_of(r: Reading) -> DesignCode | None:
    """The code of the file. Where it is misspelled, the one that can be meant: the rest is looked through
    by that."""
    g = r.given
    name, annex = g.code, g.annex
    try:
        get_code(name)
    except CodeError as error:
        r.wrong(("code",), str(error))
        close = difflib.get_close_matches(name, known_codes(), n=1, cutoff=0.4)
        if not close:
            return None
        name = close[0]
    try:
        get_code(name, annex)
    except CodeError as error:
        r.wrong(("annex",), str(error))
        annex = None
    try:
        return get_code(name, annex, g.code_values)
    except CodeError as error:
        r.wrong(("code_values",), str(error))
        return get_code(name, annex)
