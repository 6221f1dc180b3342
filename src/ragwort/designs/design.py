"""The declaration of a design."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, ClassVar, Literal

from ragwort.base.wording import uncapital
from ragwort.designs.assumption import Assumption, Group
from ragwort.designs.evidence import Route
from ragwort.designs.formula import Claim, Expression
from ragwort.designs.holding import Held
from ragwort.designs.illustration import PairsSeen
from ragwort.designs.phrases import Naming, Saying, sentence_for
from ragwort.designs.plan import Basis, Plan
from ragwort.designs.protocol import InProtocol
from ragwort.designs.refusals import RequestError, said
from ragwort.designs.sizes import Counting, Enrolment, Sizes
from ragwort.designs.stated import Statement, restated
from ragwort.designs.ways_out import WayOut, usual
from ragwort.stats.noncentral import Number

Values = Mapping[str, Any]
Rows = Literal["participant", "pair", "visit", "member"]
UNKNOWNS = ("n", "power", "effect", "alpha")  # of every design


@dataclass(frozen=True)
class Way:
    """One way to state something that can be stated in several: a difference, or the two means."""

    label: str  # as the ledger offers it
    names: tuple[str, ...]
    without: tuple[str, ...] = ()  # what has no say where things are stated this way


@dataclass(frozen=True)
class Offer:
    """Values with a name, to be put in with one click."""

    label: str
    values: Callable[[Values], Mapping[str, Any]]  # what is given -> what is put in; nothing where it does not apply


@dataclass(frozen=True)
class Derived:
    """Something the design works out, shown in quiet type at the end of a ledger group."""

    group: Group
    name: str  # in the answer's effect or details
    label: str


@dataclass(frozen=True)
class Blinded:
    """What can be learnt of all participants together, whose group nobody knows, and what follows for the sizes."""

    label: str  # `SD of all outcomes together`
    kind: str  # as of an assumption: measured, share, rate
    values: Callable[[Values, float, int, bool], dict[str, Any]]  # in force; what was seen, of how many; adjusted
    adjusts: str = ""  # what can be taken out of it beforehand, as it is offered
    beside: str = ""  # another assumption that can be learnt with it, such as the dispersion of counts
    beside_label: str = ""


@dataclass(frozen=True)
class Further:
    """An unknown that a design has beside n, power, effect and alpha."""

    solve: Callable[[Any, Sizes], tuple[Sizes, Any]]  # plan and sizes -> both with it filled in; `NotAttainable`
    found: Callable[[Any], float | int]  # its value in a plan
    end: Callable[[Any], str] = lambda _: ""  # the end of what is possible, in words, where a plan has it


class Design:
    """What the product knows about one kind of comparison. Subclass, declare, `@register`."""

    id: ClassVar[str]
    title: ClassVar[str]
    summary: ClassVar[str]  # one line: what it is for
    in_protocol: ClassVar[InProtocol]  # the comparison and its test, as a protocol says them
    evidence: ClassVar[tuple[Route, ...]] = ()  # where its effect may come from, a rule of thumb last
    takes: ClassVar[Mapping[str, tuple[str, ...]]]  # the answers of each question of `choosing` that it is for
    claims: ClassVar[tuple[str, ...]] = ("difference",)  # what can be shown, as `choosing` asks it
    known_as: ClassVar[tuple[str, ...]]  # common names of the test and of studies that use it
    buys: ClassVar[str]  # what it has over its neighbours, in one line
    assumptions: ClassVar[tuple[Assumption, ...]]
    ways: ClassVar[tuple[tuple[Way, ...], ...]] = ()  # what can be stated in several ways, the usual one first
    statements: ClassVar[tuple[Statement, ...]] = ()  # other quantities in which it is stated, which requests may have
    answered_as: ClassVar[tuple[str, ...]] = ()  # of those, effects that are answered where a request names them
    stands_alone: ClassVar[frozenset[str]] = frozenset()  # has a say even where its way is given by halves
    sizes: ClassVar[tuple[Way, ...]]  # ways to give the sample size
    elementwise: ClassVar[frozenset[str]] = frozenset({"alpha", "power"})  # numbers of which `plan` takes arrays, too
    further: ClassVar[Mapping[str, Further]] = {}  # unknowns beside `UNKNOWNS`, by the assumption they are
    starting: ClassVar[dict[str, Any]]  # what a new aim of this design starts from, beside the defaults
    offers: ClassVar[Mapping[str, tuple[Offer, ...]]] = {}  # by the assumption at which they are offered
    illustrations: ClassVar[Mapping[str, Callable[[Any], PairsSeen]]] = {}  # plans seen, beside an assumption's help
    derived: ClassVar[tuple[Derived, ...]] = ()
    tested: ClassVar[bool] = True  # whether something is tested, at an alpha; else an interval is the end of it
    people: ClassVar[tuple[str, str]] = ("participant", "participants")  # stand-ins for one and several
    group_word: ClassVar[str] = "group"  # what sizes are "per"
    holds: ClassVar[tuple[Held, ...]] = ()  # of the effect, while one of the two numbers that state it moves
    rows: ClassVar[Rows] = "participant"  # what a row of a collection sheet is
    clusters: ClassVar[str] = ""  # stand-in for what participants come in, where they come in clusters
    group_words: ClassVar[tuple[str, ...]] = ()  # stand-in names of the groups, in order
    data_assumptions: ClassVar[tuple[str, ...]]  # what must hold of the data
    approximation: ClassVar[str]  # how far the formula is exact, and where it is not: of every method that it has
    accuracies: ClassVar[Mapping[Any, str]] = {}  # the same of each method alone, by the value of `accuracy_by`
    accuracy_by: ClassVar[str] = "method"
    blinded: ClassVar[Blinded | None] = None  # what can be learnt of a running study without unblinding it
    by_counts: ClassVar[frozenset[str]] = frozenset()  # methods that reject at whole counts: `n_rule` is theirs alone

    @property
    def references(self) -> tuple[str, ...]:
        """The works that the design rests on, as a list of references has them."""
        return tuple(work.full for work in self.in_protocol.works)

    @property
    def finds(self) -> tuple[str, ...]:
        """What can be found."""
        return (*UNKNOWNS, *self.further)

    @property
    def has_times(self) -> bool:
        """Whether it asks for times, which have a unit."""
        return any(each.timed for each in self.assumptions)

    @property
    def about_defaults(self) -> tuple[str, ...]:
        """What is taken where nothing is given, as far as it depends on something else."""
        return ()

    @property
    def short_title(self) -> str:
        """The title without its test, as running text says it: `Paired means`."""
        return self.title.partition(":")[0]

    @property
    def primary(self) -> str:
        """The name of the primary effect, which `find: "effect"` finds."""
        return self.assumptions[0].name

    def assumption(self, name: str) -> Assumption:
        """The assumption of this name. Raises `KeyError`."""
        return self._named[name]

    @cached_property
    def _named(self) -> dict[str, Assumption]:
        return {assumption.name: assumption for assumption in self.assumptions}

    def primary_in(self, values: Values) -> str:
        """The name of the primary effect under the choices made: that of the first way that has a say."""
        idle = self.idle_names(values)
        ways = (way for ways in self.ways if any(self.primary in way.names for way in ways) for way in ways)
        return next((way.names[0] for way in ways if not idle & set(way.names)), self.primary)

    def unknown_of(self, find: str, values: Values | None = None) -> str:
        """The assumption that carries the flower when `find` is asked for, under the choices made."""
        if find != "effect":
            return find
        return (
            self.primary if values is None or self.primary not in self.idle_names(values) else self.primary_in(values)
        )

    def unused_names(self, find: str) -> frozenset[str]:
        """The assumptions that have no say when `find` is asked for: the unknown, in every way to state it."""
        sizes = frozenset(name for way in self.sizes for name in way.names)
        by_find = {"n": sizes, "effect": self.effect_names()}
        unused = by_find.get(find, frozenset({find}))
        return unused if find == "effect" else unused | {"direction"}

    def starting_for(self, claim: str) -> dict[str, Any]:
        """The values that a new aim with this claim starts from, beside the defaults."""
        return dict(self.starting)

    def idle_names(self, values: Values) -> frozenset[str]:
        """The assumptions that have no say under the choices made: margins where no hypothesis has one."""
        return frozenset()

    def idle_for(self, values: Values, find: str) -> frozenset[str]:
        """The same when `find` is asked for."""
        smooth = bool(self.by_counts) and values.get("method") not in self.by_counts
        return self.idle_names(values) | ({"n_rule"} if smooth else set())

    def refuse_idle(self, given: Values, find: str) -> None:
        """Refuse what is given and has no say under the choices made. Raises `RequestError` at its field."""

    def found_instead(self, values: Values) -> str:
        """What is found from then on where the value that was found is typed."""
        return "power"

    def finds_with(self, values: Values) -> tuple[str, ...]:
        """What can be found under the choices made."""
        return self.finds

    def is_optional(self, name: str) -> bool:
        """Whether an assumption may be left out altogether."""
        assumption = self.assumption(name)
        stated = {each for ways in (*self.ways, self.sizes) for way in ways for each in way.names}
        return assumption.default is None and not assumption.required and not assumption.chosen and name not in stated

    def effect_names(self) -> frozenset[str]:
        """Every name that can state the primary effect."""
        return frozenset({self.primary, *(name for way in self.effect_ways() for name in way.names)})

    def justified_names(self) -> frozenset[str]:
        """Of which a committee asks why they are what they are: effects, margins, the intracluster correlation."""
        return self.effect_names() | {each.name for each in self.assumptions if each.justified}

    def effect_ways(self) -> tuple[Way, ...]:
        """The ways to state the primary effect; none where there is only itself."""
        return next((ways for ways in self.ways if any(self.primary in way.names for way in ways)), ())

    def accuracy(self, values: Values) -> str:
        """How far the formula is exact under the choices made: `approximation`, without methods that are not used."""
        return self.accuracies.get(values.get(self.accuracy_by), self.approximation)

    def default_choice(self, name: str, values: Values) -> Any:
        """What a choice is when nothing is chosen: its default, unless the design works it out from the rest."""
        return self.assumption(name).default

    def counted(self, values: Values, find: str) -> str:
        """What sizes count where that is not people: `events`."""
        return ""

    def parts(self, values: Values, total: int) -> tuple[str, tuple[int, ...]]:
        """Of a total, how many are expected in each part that has a name: the kind of names, and the counts."""
        return "", ()

    def expected_in_words(self, values: Values) -> str:
        """The planned effect in the units of the outcome, with names in braces, where the effect itself has none."""
        return ""

    def of_recruited(self, values: Values, recruited: int) -> dict[str, Any]:
        """Further details that follow from how many are recruited, dropout included."""
        return {}

    def enrolment(self, values: Values) -> Enrolment:
        """What is lost between recruitment and analysis."""
        return Enrolment(values.get("dropout") or 0.0)

    def remarks_on(self, values: Values) -> list[str]:
        """What must be said of values that do not go well together."""
        return []

    def remarks_on_enrolled(self, values: Values, enrolled: int) -> list[str]:
        """What must be said of so many to recruit."""
        return []

    def restated(self, given: Values) -> tuple[dict[str, Any], list[str]]:
        """What is stated in other quantities, in the design's own, and notes on that. Raises `RequestError`."""
        return restated(self.statements, given)

    def implied(self, values: Values) -> dict[str, Any]:
        """What follows from other values where it is not given itself."""
        return {}

    def plan(self, values: Values, find: str) -> Plan:
        """The settled comparison as it is planned, interim analyses included. See `comparison`."""
        return self.comparison(values, find)

    def comparison(self, values: Values, find: str) -> Plan:
        """The settled comparison. `values` are checked one by one; raises `RequestError` on contradictions."""
        raise NotImplementedError

    def basis(self, values: Values, find: str) -> Basis:
        """What every plan is made of; a test without an assumption `sides` looks upwards."""
        effect = 0.0 if find == "effect" else self.stated_effect(values)
        sides, counting = values.get("sides", "greater"), self.counting(values)
        return Basis(alpha=values["alpha"], target=values["power"], sides=sides, effect=effect, counting=counting)

    def stated_effect(self, values: Values) -> Number:
        """The primary effect, zero at the null hypothesis. Raises `RequestError` where statements disagree."""
        return values[self.primary]

    def counting(self, values: Values) -> Counting:
        """How the sample size counts up."""
        raise NotImplementedError

    def borrowed(self, values: Values) -> dict[str, Any]:
        """What the values of another design say in this design's own assumptions, beyond those of the same name."""
        return {}

    def given_sizes(self, values: Values, plan: Plan) -> list[Sizes]:
        """The ways to split the sample size that was given (each groups x 1), best first where powers tie."""
        raise NotImplementedError

    def sizes_as_values(self, groups: tuple[int, ...], plan: Plan) -> dict[str, int]:
        """Group sizes in every way of `sizes`."""
        raise NotImplementedError

    def restate(self, values: Values, way: Way) -> dict[str, Any]:
        """The values of `way` that say the same as `values`; those that cannot be worked out are left out."""
        known = self.in_other_words(values)
        return {name: known[name] for name in way.names if name in known}

    def in_other_words(self, values: Values) -> dict[str, Any]:
        """The values, and what they say in other ways as far as it can be worked out."""
        return dict(values)

    def effect_as(self, way: Way, effect: float, values: Values) -> dict[str, Any]:
        """A found effect in the way in which it is stated; `values` are those that were stated before."""
        try:
            drawn = self.drawn_to(effect, {name: self.assumption(name).check(value) for name, value in values.items()})
        except (RequestError, KeyError):
            drawn = {}  # they could not be read: they hold no pattern
        if drawn.keys() >= set(way.names):
            return {name: drawn[name] for name in way.names}
        context = {name: value for name, value in values.items() if name not in self.effect_names()}
        return self.restate({**context, self.primary: effect}, way)

    def drawn_to(self, effect: float, values: Values) -> dict[str, Any]:
        """What was stated in place of the primary effect, its pattern kept, so that it makes `effect`; or nothing."""
        return {}

    def ways_out(self, values: Values, effect: float) -> list[WayOut]:
        """What would bring the sample size down; `values` are those in force. A design adds its own."""
        return usual(values, effect)

    def names(self, values: Values) -> tuple[Naming, ...]:
        """What a study can name of what the design is made of; stand-ins until it does."""
        return (Naming("groups", "Groups", self.group_words),) if self.group_words else ()

    def looks_saying(self, values: Values) -> str:
        """The interim analyses, as part of the sentence; empty where none are planned."""
        return ""

    def saying(self, values: Values, find: str) -> Saying:
        """The parts of the design's sentence. `values` are those in force, choices included."""
        raise NotImplementedError

    def sentence(self, values: Values, find: str, finished: bool = False, planned_on: str = "") -> str:
        """The design in one sentence that answers the question, with a `{token}` for each value (see `saying`)."""
        planned_on = "" if find == "effect" else planned_on
        said = replace(self.saying(values, find), planned_on=planned_on, looks=self.looks_saying(values))
        return sentence_for(said, find, finished, self.enrolment(values).needed)

    def claim(self, values: Values) -> Claim:
        """What is tested, in symbols. `values` are those in force, choices included."""
        raise NotImplementedError

    def formulas(self, values: Values) -> tuple[Expression, ...]:
        """The formulas that power is computed by, in the symbols of `claim`."""
        raise NotImplementedError

    def method_text(self, values: Values) -> str:
        """The test and the formula in words that go on after “Power was computed”: `for the F test of …`."""
        raise NotImplementedError


def in_running_text(label: str) -> str:
    """A label inside a sentence: `Standard deviation` loses its capital, `SD of group 1` keeps it."""
    return uncapital(label) if label[1:2].islower() or label[1:2] == " " else label


def elementwise(*names: str) -> frozenset[str]:
    """What `Design.elementwise` declares: these numbers, and those of which every plan takes arrays."""
    return Design.elementwise | frozenset(names)


_registry: dict[str, Design] = {}


def register(design: type[Design]) -> type[Design]:
    """Class decorator: makes the design known everywhere."""
    _registry[design.id] = design()
    return design


def all_designs() -> list[Design]:
    """Every design, in the order of declaration."""
    return list(_registry.values())


def design_named(name: Any) -> Design:
    """The design with this id. Raises `RequestError` that names the nearest one."""
    if isinstance(name, str) and name in _registry:
        return _registry[name]
    from difflib import get_close_matches

    near = get_close_matches(str(name), _registry, n=1)
    hint = f" Did you mean {near[0]!r}?" if near else f" Known: {', '.join(_registry)}."
    raise RequestError("design", f"There is no design {said(name)}.{hint}")
