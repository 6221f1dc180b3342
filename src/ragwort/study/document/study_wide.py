"""What a study has beside its aims: resources, the alpha that they share, report, protocol, who signed it off."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, JsonValue

from ragwort.study.document.part import MOST_PEOPLE, Line, Part, Text, Typed


class Resources(Typed):
    """What the study has beside its limit on participants: money, time, clusters. What is empty sets no limit."""

    clusters: int | None = Field(None, ge=2, le=MOST_PEOPLE, description="How many clusters are available at most.")
    costs: tuple[Annotated[float, Field(ge=0)], ...] = Field(
        (), max_length=100, description="What a participant costs: one number, or one for each group."
    )
    cluster_cost: float | None = Field(None, ge=0, description="What a cluster costs beside its participants.")
    budget: float | None = Field(None, gt=0)
    currency: Line = ""
    centres: int | None = Field(None, ge=1, le=MOST_PEOPLE, description="How many recruit; one if empty.")
    per_month: float | None = Field(None, gt=0, description="How many each centre recruits in a month.")
    months: float | None = Field(None, gt=0, description="How long can be recruited at most.")


class Family(Typed):
    """How the confirmatory aims share the study's chance of a false finding. Without a plan each has its own."""

    plan: Line = Field("", description="split, weights, holm, hochberg, order or fallback; empty for none.")
    alpha: float = Field(0.05, gt=0, lt=1)
    weights: dict[Line, float] = Field(default_factory=dict, description="By aim: its share; 1 if not named.")
    correlation: float = Field(0.0, ge=0, lt=1, description="Between the test statistics of any two aims.")
    matrix: tuple[tuple[float, ...], ...] = Field(
        (), max_length=100, description="Correlations pair by pair: of the second aim with the first, and so on."
    )


class Writing(Part):
    """What the report holds. What is empty is as usual: every section, in the usual order, on A4."""

    paper: Line = Field("", description="A4 or Letter.")
    order: tuple[Line, ...] = Field((), max_length=100, description="Names of sections, in their order.")
    hidden: tuple[Line, ...] = Field((), max_length=100, description="Names of sections that are left out.")
    added: tuple[Line, ...] = Field((), max_length=100, description="Names of further sections that are asked for.")
    texts: dict[Line, Text] = Field(default_factory=dict, description="Own texts: before overview, after overview …")


class Protocol(Typed):
    """What a protocol says beside its numbers, as the user states it; empty where nothing is stated."""

    kind: Line = Field("", description="randomised, cluster-randomised, observational, animal or diagnostic.")
    analysis_set: Line = ""
    missing: Line = Field("", description="How missing data are handled.")
    interim: Line = Field("", description="Interim analyses: none planned.")
    committee: Line = Field("", description="Who alone sees the results of interim analyses.")
    multiplicity: Line = ""
    author: Line = ""
    version: Line = ""
    date: Line = ""
    screened: float | None = Field(None, ge=0, description="Per centre and month.")
    eligible: float | None = Field(None, ge=0, description="Of those screened.")
    consenting: float | None = Field(None, ge=0, description="Of those eligible.")


class SignedAim(Part):
    """An aim as it was signed off."""

    id: Line
    name: Line = ""
    design: Line = ""
    find: Line = "n"
    role: Line = ""
    values: dict[Line, JsonValue] = Field(default_factory=dict)
    recruited: int | None = None


class Signed(Part):
    """The version of a study that was signed off."""

    by: Line = ""
    date: Line = ""
    version: Line = ""
    aims: tuple[SignedAim, ...] = ()
    digest: Line = Field("", description="Tells whether what was signed was edited afterwards.")
