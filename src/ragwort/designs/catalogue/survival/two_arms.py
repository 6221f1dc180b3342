"""Times until an event in two arms."""

from __future__ import annotations

import math
from typing import Any

from typing_extensions import override

from ragwort.base.lazily import np
from ragwort.designs import evidence
from ragwort.designs.agreement import stated
from ragwort.designs.assumption import ALPHA, DIRECTION, DROPOUT, POWER, SIDES, TOTAL, Assumption, rounded
from ragwort.designs.catalogue.survival.assumptions import ARM1, ARM2, METHOD, SCHEDULE
from ragwort.designs.catalogue.survival.plan import (
    SurvivalPlan,
    events_found,
    shortest_follow_up,
    smallest_events,
    survival_in,
)
from ragwort.designs.design import Derived, Further, Values, Way, elementwise, register
from ragwort.designs.formula import Claim, Expression, Frac, Root, power_of_z, powers_of_equivalence, row
from ragwort.designs.looks import LOOKS, WithLooks
from ragwort.designs.looks.reestimating import HAZARD_OF_ALL
from ragwort.designs.margins import MARGIN_WAYS
from ragwort.designs.phrases import Aside, Saying, is_down, looking_for, or_more
from ragwort.designs.plan import Plan
from ragwort.designs.protocol import BETWEEN, InProtocol
from ragwort.designs.ratio_margins import RATIO_MARGINS, RatioEquivalence, WithRatioMargins
from ragwort.designs.refusals import RequestError
from ragwort.designs.sampling import BALANCE, RATIO, TwoGroups, group_sizes
from ragwort.designs.sizes import AnyTotal, ByEvents, ByRatio, Sizes
from ragwort.designs.works import FREEDMAN, LACHIN, SCHOENFELD
from ragwort.stats.noncentral import Number

COUNTED_TWICE = (
    "Dropout and the hazard of loss both allow for people who are lost: those in both are counted twice. Give one of "
    "them only, or dropout for those lost before follow-up begins."
)
_TIMES = frozenset({"accrual", "follow_up", "loss"})
_FIRST_ARM = frozenset({"median1", "survival1", "time", "hazard1"})


@register
class Survival(WithLooks, WithRatioMargins, TwoGroups):
    """Two arms compared on the time until an event."""

    id = "survival"
    title = "Time to event: log-rank test"
    summary = "Does the time to an event, such as a relapse, differ between two arms, with censoring?"
    in_protocol = InProtocol(
        BETWEEN,
        "log-rank test",
        {"schoenfeld": "Schoenfeld's normal approximation", "freedman": "Freedman's normal approximation"},
        cites={"schoenfeld": (SCHOENFELD, LACHIN), "freedman": (FREEDMAN, LACHIN)},
    )
    evidence = evidence.SURVIVAL
    takes = {"measured": ("time",), "compared": ("two",), "same": ("once",), "whole": ("no",)}
    known_as = (
        "log-rank",
        "survival",
        "hazard ratio",
        "time to event",
        "kaplan meier",
        "cox proportional hazards",
        "median survival",
        "censored",
        "time until an event",
    )
    buys = "Those who have not had the event when the study ends count for as long as they were watched."
    smallest = 1
    group_words = ("arm 1", "arm 2")
    group_word = "arm"
    assumptions = (
        *ARM2,
        *ARM1,
        *RATIO_MARGINS,
        DIRECTION,
        ALPHA,
        SIDES,
        METHOD,
        POWER,
        TOTAL,
        *group_sizes(1),
        Assumption(
            "events",
            "Events",
            "count",
            "Sample",
            "How many events the comparison waits for, whoever has them; people and times then have no say.",
            symbol="D",
            low=1,
            high=10_000_000,
        ),
        RATIO,
        BALANCE,
        DROPOUT,
        *SCHEDULE,
        *LOOKS,
    )
    sizes = (*TwoGroups.sizes, Way("events", ("events",)))
    margin_methods = ("schoenfeld",)
    ratio_words = ("λ₂/λ₁", "hazard ratio", "hazard_ratio")
    further = {
        **WithRatioMargins.further,
        "events": Further(smallest_events, events_found),
        "follow_up": Further(
            shortest_follow_up,
            lambda plan: float(survival_in(plan).follow_up),
            lambda plan: "no follow-up after recruiting" if survival_in(plan).follow_up == 0 else "",
        ),
    }
    ways = (
        (
            Way("a hazard ratio", ("hazard_ratio",)),
            Way("a second median", ("median2",)),
            Way("a second share", ("survival2", "time")),
        ),
        (
            Way("a median", ("median1",)),
            Way("a share at a time", ("survival1", "time")),
            Way("a hazard", ("hazard1",)),
        ),
        MARGIN_WAYS,
    )
    stands_alone = frozenset({"time"})
    elementwise = elementwise("hazard_ratio", "median1", "hazard1", "accrual", "follow_up", "loss")
    starting = {"hazard_ratio": 0.7, "median1": 12.0, "accrual": 12.0, "follow_up": 12.0}
    derived = (
        Derived("Effect", "hazard_ratio", "hazard ratio"),
        Derived("Structure", "recruited_per_time", "to recruit per unit of time"),
    )
    blinded = HAZARD_OF_ALL
    data_assumptions = (
        "Participants are independent, and each is in one arm.",
        "Hazards are proportional; event times are exponential.",
        "Censoring is non-informative.",
    )
    approximation = (
        "The calculation is a normal approximation, good from about 20 events on with equal arms; with unequal "
        "ones the truth lies "
        "between Schoenfeld and Freedman."
    )

    @override
    def idle_for(self, values: Values, find: str) -> frozenset[str]:
        """With events alone, people, times and the first arm's hazard have no say.

        People are watched for as long as it takes: of how many is what a number of events does not tell.
        """
        idle = super().idle_for(values, find)
        if find == "follow_up":
            return idle | {"events"}
        if not _by_events(values, find):
            return idle
        first_arm = _FIRST_ARM if "hazard_ratio" in values or find == "effect" else frozenset()
        return idle | _TIMES | first_arm | {"dropout"}

    @override
    def counted(self, values: Values, find: str) -> str:
        return "events" if _by_events(values, find) else ""

    @override
    def unused_names(self, find: str) -> frozenset[str]:
        """Where events are found, no size is given; a time can be of the first arm alone."""
        unused = super().unused_names(find) - self.stands_alone
        return unused | {"n", "n1", "n2"} if find == "events" else unused

    def comparison(self, values: Values, find: str) -> Plan:
        """See `Design.comparison`. Raises `RequestError`."""
        return self.ratio_plan(self._times(values, find), values, find)

    @override
    def zero_effect(self, values: Values) -> dict[str, Any]:
        return {"hazard_ratio": 1.0}

    def _times(self, values: Values, find: str) -> SurvivalPlan:
        by_events = _by_events(values, find)
        own = {"method": values["method"], "by_events": by_events}
        basis = self.basis(values, find)
        if by_events:
            return SurvivalPlan(**basis, **own, hazard1=1.0, accrual=0.0, follow_up=0.0, loss=0.0)
        follow_up = 0.0 if find == "follow_up" else values["follow_up"]
        if find != "follow_up" and np.any(np.asarray(values["accrual"] + follow_up) <= 0):
            raise RequestError("follow_up", "Accrual period and follow-up are both 0: nobody is followed up at all.")
        times = {"accrual": values["accrual"], "follow_up": follow_up, "loss": values["loss"]}
        return SurvivalPlan(**basis, **own, hazard1=_hazard(values, "1"), **times)

    @override
    def counting(self, values: Values) -> ByRatio | AnyTotal | ByEvents:  # type: ignore[override]  # events, too
        return ByEvents(values["ratio"]) if values.get("_by_events") else super().counting(values)

    @override
    def basis(self, values: Values, find: str) -> Any:
        """Events count up where they are what is counted."""
        return super().basis({**values, "_by_events": _by_events(values, find)}, find)

    @override
    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        if isinstance(plan.counting, ByEvents):
            return plan.counting.ways(np.array([values.get("events", 1)]))
        return super().given_sizes(values, plan)

    @override
    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        found = super().sizes_as_values(groups, plan)
        assert isinstance(plan, SurvivalPlan | RatioEquivalence)
        events = survival_in(plan).events(np.array(groups, dtype=float)[:, None])
        return {**found, "events": max(round(float(np.ravel(events)[0])), 1)}

    def stated_effect(self, values: Values) -> Number:
        """See `Design.stated_effect`. Raises `RequestError`."""
        if "median2" not in values and "survival2" not in values:
            return np.log(values.get("hazard_ratio", 1.0))
        ratio = _hazard(values, "2") / _hazard(values, "1")
        return np.log(stated(values, "hazard_ratio", ratio, "the two arms make it"))

    @override
    def in_other_words(self, values: Values) -> dict[str, Any]:
        """Hazards, medians and shares at a time as each other."""
        known = super().in_other_words(values)
        hazards = {arm: _known_hazard(known, arm) for arm in "12"}
        if hazards["2"] is None and hazards["1"] is not None and "hazard_ratio" in known:
            hazards["2"] = hazards["1"] * known["hazard_ratio"]
        if hazards["1"] is not None and hazards["2"] is not None:
            known.setdefault("hazard_ratio", rounded(hazards["2"] / hazards["1"]))
        known.setdefault("time", 12.0)
        for arm, hazard in hazards.items():
            if hazard is not None:
                known.setdefault(f"median{arm}", rounded(math.log(2) / hazard))
                known.setdefault(f"survival{arm}", rounded(math.exp(-hazard * known["time"])))
                known.setdefault(f"hazard{arm}", rounded(hazard))
        return known

    @override
    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """On top of the first arm."""
        kept = {name: values[name] for name in _FIRST_ARM if name in values}
        return self.restate({**kept, "hazard_ratio": effect}, way)

    @override
    def saying(self, values: Values, find: str) -> Saying:
        more = or_more(find, find == "effect" and is_down(values, find, "hazard_ratio"))
        effect = f"a hazard ratio of {{hazard_ratio}}{more}, {{groups.2}} to {{groups.1}}"
        against, told = _second_arm(values) if find != "effect" else ("", "")
        effect = against or effect
        first = {
            "median1": "median {median1} with {groups.1}",
            "survival1": "{survival1} event-free at {time} with {groups.1}",
            "hazard1": "hazard {hazard1} with {groups.1}",
        }
        arm1 = [words for name, words in first.items() if name in values and name != told]
        watching = "" if find == "follow_up" else ", follow-up {follow_up}"
        times = f"accrual {{accrual}}{watching}"
        aside: tuple[Aside, ...] = ()
        if _by_events(values, find):
            sizes = "{events} events"
        else:
            sizes = self.size_words(values, find)
            aside = (((), "; ".join([*arm1[:1], times])),)
        if self.hypothesis(values) != "difference":
            return self.ratio_saying(values, find, sizes, aside)
        looking = looking_for(values, "earlier events with {groups.2}", "later events with {groups.2}")
        return Saying(sizes, effect, "a {sides} {method}", looking, aside=aside)

    @override
    def of_recruited(self, values: Values, recruited: int) -> dict[str, Any]:
        """How many per unit of time, while people are recruited at all."""
        evenly = not _by_events(values, "") and bool(values.get("accrual"))
        return {"recruited_per_time": recruited / float(values["accrual"])} if evenly else {}

    @override
    def remarks_on(self, values: Values) -> list[str]:
        """Both take people away."""
        twice = bool(values.get("loss")) and bool(values.get("dropout"))
        return [COUNTED_TWICE] if twice else []

    @override
    def claim(self, values: Values) -> Claim:
        where = "λ₁ is the hazard with {groups.1}, λ₂ the hazard with {groups.2}."
        return self.ratio_claim(values, where)

    @override
    def formulas(self, values: Values) -> tuple[Expression, ...]:
        seen = row("Pⱼ = ", Frac("λⱼ", "hⱼ"), " (1 − ", Frac("exp(−hⱼF) − exp(−hⱼ(A + F))", "hⱼ A"), "),   hⱼ = λⱼ + η")
        events = () if _by_events(values, "") else (seen, "D = n₁P₁ + n₂P₂")
        if self.hypothesis(values) == "equivalence":
            error = Frac("N", Root("D n₁n₂"))
            return *events, "Δ = ln HR", *powers_of_equivalence(error, known=True)
        if self.hypothesis(values) != "difference":
            away = row("δ = (ln HR − Δ₀) ", Frac(Root("D n₁n₂"), "N"))
            return *events, away, *self.edge_named(values), power_of_z(values["sides"])
        if values["method"] == "schoenfeld":
            away = row("δ = ln HR ", Frac(Root("D n₁n₂"), "N"))
        else:
            away = row("δ = ", Root("r D"), " ", Frac("HR − 1", "1 + r HR"), ",   r = n₂/n₁")
        return *events, away, power_of_z(values["sides"])

    @override
    def method_text(self, values: Values) -> str:
        by = "Schoenfeld" if values["method"] == "schoenfeld" else "Freedman"
        counted = "" if _by_events(values, "") else " expected from exponential event times and uniform accrual"
        return (
            f"for the log-rank test as a normal approximation ({by}), from the number of events{counted}."
            f"{self.both_words(values)}"
        )


def _second_arm(values: Values) -> tuple[str, str]:
    """What the second arm has, against the first where that is stated alike; and what is said of the first with it."""
    if "median2" in values:
        against = " against {median1} with {groups.1}" if "median1" in values else ""
        return f"a median of {{median2}} with {{groups.2}}{against}", "median1"
    if "survival2" in values:
        when = " at {time}" if "time" in values else ""
        against = " against {survival1} with {groups.1}" if "survival1" in values else ""
        return f"{{survival2}} event-free{when} with {{groups.2}}{against}", "survival1"
    return "", ""


def _by_events(values: Values, find: str) -> bool:
    """Whether events are counted, not people."""
    return find == "events" or ("events" in values and find not in ("n", "follow_up"))


def _known_hazard(values: Values, arm: str) -> Number | None:
    """An arm's hazard; None where nothing says it."""
    if f"hazard{arm}" in values:
        return values[f"hazard{arm}"]
    if f"median{arm}" in values:
        return math.log(2) / values[f"median{arm}"]
    if f"survival{arm}" in values and "time" in values:
        return -np.log(values[f"survival{arm}"]) / values["time"]
    return None


def _hazard(values: Values, arm: str) -> Number:
    """An arm's hazard. Raises `RequestError`."""
    if f"survival{arm}" in values and "time" not in values:
        raise RequestError("time", f"survival{arm} is the share at a time: time is missing.")
    hazard = _known_hazard(values, arm)
    if hazard is None:
        raise RequestError(
            f"median{arm}", f"Nothing says how soon events come in arm {arm}: give a median or a hazard."
        )
    return hazard
