"""The request and the answer as JSON objects: the contract that window, command line and files share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from difflib import get_close_matches
from typing import Any

from ragwort.base.lazily import np
from ragwort.base.wording import one_of
from ragwort.designs import looks
from ragwort.designs.beyond import beyond_asked
from ragwort.designs.design import Design, Way, design_named
from ragwort.designs.kinds import EquivalencePlan
from ragwort.designs.plan import Plan
from ragwort.designs.precision import Interval
from ragwort.designs.refusals import NotAttainable, RequestError, plain_number, said
from ragwort.designs.sizes import Sizes
from ragwort.designs.solve import (
    Answer,
    find_alpha,
    find_effect,
    find_sizes,
)

_SMALL, _LARGE = 1e-30, 1e30  # their powers, as formulas take them, can still be held
_REPRODUCED = 1e-6  # of the power that was asked for
_REQUEST_KEYS = ("design", "find", "assumptions")


def answer_request(request: Any) -> dict[str, Any]:
    """One request as parsed from JSON -> one answer, or `{"error": {"field", "message"}}`."""
    try:
        design, find, assumptions = _parts(request)
        return as_json(settle(design, find, assumptions))
    except RequestError as error:
        return {"error": {"field": error.field, "message": error.message}}


def _parts(request: Any) -> tuple[Design, str, Mapping[str, Any]]:
    if not isinstance(request, Mapping):
        raise RequestError("request", "A request is an object with design, find and assumptions.")
    for key in request:
        if key not in _REQUEST_KEYS:
            raise RequestError(str(key), f"A request has {one_of(_REQUEST_KEYS)}; there is no {said(key)}.")
    if "design" not in request:
        raise RequestError("design", "The request names no design.")
    design = design_named(request["design"])
    find = request.get("find")
    if not isinstance(find, str) or find not in design.finds:
        raise RequestError("find", f"find must be {one_of(design.finds)}, not {said(find)}.")
    assumptions = request.get("assumptions", {})
    if not isinstance(assumptions, Mapping):
        raise RequestError("assumptions", "assumptions must be an object of names and values.")
    return design, find, assumptions


def settle(design: Design, find: str, assumptions: Mapping[str, Any]) -> Answer:
    """Find the unknown of `design` under `assumptions`. Raises `RequestError`."""
    values, notes = values_in_force(design, find, assumptions)
    try:
        with np.errstate(all="ignore"):
            plan = design.plan(values, find)
            sizes, plan = _solve(design, find, values, plan)
            answer = _answer(design, find, values, plan, sizes, notes)
    except ArithmeticError as error:
        if _are_extreme(values):
            raise _too_extreme(design) from error
        raise  # a fault of ours
    if find == "effect" and (named := next((name for name in design.answered_as if name in assumptions), "")):
        answer = replace(answer, answer=answer.effect[named])
    if find == "effect" and answer.power > plan.target + _REPRODUCED and _are_extreme(values):
        raise _too_extreme(design)
    if not _finite([answer.answer, answer.power, *answer.effect.values(), *answer.details.values()]):
        if _are_extreme(values):
            raise _too_extreme(design)
        raise FloatingPointError(f"an answer of {design.id} is not finite")
    return answer


def values_in_force(design: Design, find: str, assumptions: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """The values that have a say when `find` is asked for, checked and completed, and notes on those that have none.

    Raises `RequestError`.
    """
    assumptions, stated_notes = design.restated(assumptions)
    given = _checked(design, assumptions)
    design.refuse_idle(given, find)
    values, notes = _without_the_unknown(design, find, given)
    values, idle_notes = _without_the_idle(design, find, values)
    notes += idle_notes
    values = {**design.implied(values), **values}
    values, more = _stated_once(design, find, values)
    values = _with_defaults(design, values)
    if design.tested and find not in ("alpha", "power") and values["power"] <= values["alpha"]:
        raise RequestError(
            "power",
            f"Power must be above alpha ({plain_number(values['alpha'])}) and below 1, "
            f"not {plain_number(values['power'])}.",
        )
    return values, [*stated_notes, *notes, *more]


def _too_extreme(design: Design) -> RequestError:
    return RequestError(design.primary, "These values are too far apart to compute with: use less extreme ones.")


def _are_extreme(value: Any) -> bool:
    """Whether some number among values is so large or so small that arithmetic on it may leave what can be held."""
    if isinstance(value, Mapping):
        return any(map(_are_extreme, value.values()))
    if isinstance(value, list | tuple):
        return any(map(_are_extreme, value))
    if isinstance(value, bool) or not isinstance(value, int | float) or value == 0:
        return False
    return not _SMALL < abs(value) < _LARGE


def _finite(numbers: list[Any]) -> bool:
    return all(np.all(np.isfinite(number)) for number in numbers if number is not None and not isinstance(number, list))


def _checked(design: Design, assumptions: Mapping[str, Any]) -> dict[str, Any]:
    known = {assumption.name: assumption for assumption in design.assumptions}
    for name in assumptions:
        if name not in known:
            raise RequestError(str(name), _unknown_name(design, str(name), list(known)))
    return {name: known[name].check(value) for name, value in assumptions.items()}


def _unknown_name(design: Design, name: str, known: list[str]) -> str:
    if no_looks := looks.refusal(design, name):
        return no_looks
    near = get_close_matches(name, known, n=1, cutoff=0.5)
    hint = f"Did you mean {near[0]!r}?" if near else f"It has {one_of(known)}."
    return f"{design.id} has no assumption {said(name)}. {hint}"


def _without_the_unknown(design: Design, find: str, given: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """What is given too much is left out, with a note."""
    extra = [name for name in given if name in design.unused_names(find)]
    notes = [f"{name} was given but is not used when {find} is found." for name in extra]
    return {name: value for name, value in given.items() if name not in extra}, notes


def _without_the_idle(design: Design, find: str, given: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """What has no say under the choices made is left out, with a note."""
    idle = design.idle_for(given, find)
    extra = [name for name in given if name in idle and not design.assumption(name).chosen]
    notes = [f"{name} was given but has no say under the choices made." for name in extra]
    return {name: value for name, value in given.items() if name not in extra}, notes


def _stated_once(design: Design, find: str, values: dict[str, Any]) -> tuple[dict[str, Any], list[str]]:
    """The values without what is stated by halves beside a whole statement, and notes on what was left out.

    Raises `RequestError` for what is not stated at all, or by halves only.
    """
    unused, unknown = design.unused_names(find), design.unknown_of(find)
    extra: dict[str, str] = {}
    lacking: list[RequestError] = []
    idle = design.idle_for(values, find)
    for ways in (*design.ways, design.sizes):
        if all(idle.issuperset(way.names) for way in ways):
            continue
        found = any(unknown in way.names for way in ways)
        if not found and not unused.issuperset(name for way in ways for name in way.names):
            try:
                extra |= _require_one(design, tuple(way for way in ways if not idle & set(way.names)), values)
            except RequestError as error:
                lacking.append(error)
    for assumption in design.assumptions:
        if assumption.required and assumption.name not in {*values, *unused, *idle}:
            lacking.append(RequestError(assumption.name, f"{assumption.label} is missing."))
    if lacking:
        raise RequestError(lacking[0].field, " ".join(error.message for error in lacking))
    notes = [f"{name} was given but is not used: {instead} is." for name, instead in extra.items()]
    return {name: value for name, value in values.items() if name not in extra}, notes


def _require_one(design: Design, ways: tuple[Way, ...], values: dict[str, Any]) -> dict[str, str]:
    """One of the ways must be given in full; a name with a default counts as given.

    Returns what is given beside it by halves, with what is used instead.
    """

    def missing(way: Way) -> list[str]:
        return [name for name in way.names if name not in values and design.assumption(name).default is None]

    complete = [way for way in ways if not missing(way)]
    if complete:
        stated = {name for way in complete for name in way.names} | design.stands_alone
        return {name: complete[0].label for way in ways for name in way.names if name in values and name not in stated}
    begun = next((way for way in ways if any(name in values for name in way.names)), None)
    first = missing(begun or ways[0])[0]
    if begun is not None:
        given = " and ".join(name for name in begun.names if name in values)
        raise RequestError(first, f"{given} is given without {first}.")
    needed = [[name for name in way.names if design.assumption(name).default is None] for way in ways]
    choices = one_of([" and ".join(names) for names in needed])
    several = f" It can be stated as {choices}." if len(needed) > 1 else ""
    raise RequestError(first, f"{design.assumption(first).label} is missing.{several}")


def _with_defaults(design: Design, values: dict[str, Any]) -> dict[str, Any]:
    defaults = {a.name: a.default for a in design.assumptions if a.default is not None}
    return {**defaults, **values}


def _solve(design: Design, find: str, values: dict[str, Any], plan: Plan) -> tuple[Sizes, Plan]:
    if find == "n":
        return _searched(plan, lambda sought: (find_sizes(sought, design.unknown_of("effect", values)), plan))
    ways = design.given_sizes(values, plan)
    sizes, solved = _solve_at(design, find, values, plan, plan.better(ways))
    # The split with the larger power is one thing at the values typed, and may be another at what is found.
    better = solved.better(ways)
    same = np.array_equal(better, sizes)
    return (sizes, solved) if same else _solve_at(design, find, values, plan, better)


def _solve_at(design: Design, find: str, values: dict[str, Any], plan: Plan, sizes: Sizes) -> tuple[Sizes, Plan]:
    if find in ("alpha", "power"):
        return _solved_at(design, find, values, plan, sizes)
    return _searched(plan, lambda sought: _solved_at(design, find, values, sought, sizes))


def _searched(plan: Plan, solve: Callable[[Plan], tuple[Sizes, Plan]]) -> tuple[Sizes, Plan]:
    """What is found by the plan that is searched, as the plan that was asked for."""
    sought = plan.searched_as
    if sought is plan:
        return solve(plan)
    try:
        sizes, solved = solve(sought)
    except NotAttainable:
        return solve(plan)  # which says so of the power that was asked for
    return sizes, plan if solved is plan else solved.as_asked(plan)


def _solved_at(design: Design, find: str, values: dict[str, Any], plan: Plan, sizes: Sizes) -> tuple[Sizes, Plan]:
    if find in design.further:
        return design.further[find].solve(plan, sizes)
    if find == "effect":
        both = plan.sides == "two" or isinstance(plan, EquivalencePlan)
        up = values["direction"] == "up" if both else plan.sides == "greater"
        return sizes, plan.replace(effect=find_effect(plan, sizes, up, design.unknown_of("effect", values)))
    if find == "alpha":
        return sizes, plan.replace(alpha=find_alpha(plan, sizes))
    return sizes, plan


def _answer(design: Design, find: str, values: dict[str, Any], plan: Plan, sizes: Sizes, notes: list[str]) -> Answer:
    groups = plan.counting.in_groups(sizes[:, 0])
    whole = bool(np.all(sizes[:, 0] == groups))
    power = float(plan.power(sizes)[0])
    if plan.points_away:
        notes = [*notes, "The effect points against the one-sided test, so power is below alpha."]
    notes = [*notes, *beyond_asked(design, find, plan, sizes, power)]
    searched, more_notes = plan.searched() if find == "n" else ({}, [])
    total = plan.counting.in_all(sizes[:, 0])
    lost, clusters = design.enrolment(values), plan.clusters_at(sizes)
    enrol = () if plan.counted else lost.people(groups, clusters)
    recruited = plan.recruited(lost, sizes) if lost.needed else {}
    effect = {name: float(value) for name, value in plan.effect_with(sizes).items()}
    solved = {find: design.further[find].found(plan)} if find in design.further else {}
    known = {"n": total, "power": power, "effect": next(iter(effect.values())), "alpha": float(plan.alpha)}
    fewer = design.remarks_on_enrolled(values, sum(enrol) or total)
    return Answer(
        design=design.id,
        find=find,
        answer={**known, **solved}[find],
        groups=tuple(groups),
        power=power,
        plan=plan,
        effect=effect,
        details={**plan.details(sizes), **design.of_recruited(values, sum(enrol) or total)},
        notes=tuple([*notes, *more_notes, *plan.notes(sizes), *design.remarks_on({**values, **solved}), *fewer]),
        n_more={**searched, **plan.further_sizes(sizes), **recruited},
        planned=() if whole else tuple(float(size) for size in sizes[:, 0]),
        enrol=enrol,
    )


def as_json(answer: Answer) -> dict[str, Any]:
    """The answer as the contract prints it: plain numbers, lists and strings, all finite."""
    n: dict[str, Any] = {"total": answer.total, "groups": list(answer.groups), **answer.n_more}
    if answer.counted:  # how many people that takes is not said
        n = {answer.counted: answer.total, **{name: n[name] for name in ("looks",) if name in n}}
    if answer.enrol:
        n["enrol"] = list(answer.enrol)
    interval = answer.interval
    expected = {} if interval is None else {"expected_interval": _interval_json(interval)}
    return {
        "design": answer.design,
        "find": answer.find,
        "answer": answer.answer,
        "n": n,
        **({"power": answer.power} if answer.plan.has_power else {}),
        "effect": answer.effect,
        **expected,
        "details": {name: plain(value) for name, value in answer.details.items()},
        "notes": list(answer.notes),
    }


def _interval_json(interval: Interval) -> dict[str, Any]:
    """Limits of the interval that goes with the test, on the scale of what is estimated."""
    low, high, half = float(interval.low), float(interval.high), float(interval.half_width)
    return {"of": interval.of, "level": float(interval.level), "lower": low, "upper": high, "half_width": half}


def plain(value: Any) -> Any:
    """A number as JSON prints it: whole numbers without a decimal point."""
    if isinstance(value, np.ndarray):
        value = float(value.reshape(-1)[0])
    if isinstance(value, float) and value.is_integer() and abs(value) < 2**53:
        return int(value)
    return value
