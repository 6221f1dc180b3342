"""A total is given only where one recruitment can serve: same unit, same arms and ratio, or any sample."""

from __future__ import annotations

from ragwort.demo import sampler_study
from ragwort.designs import Answer, design_named
from ragwort.report.sections.content import report_of
from ragwort.report.tree import Paragraph, Table
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry, Words
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.overview import Needs, needs_of
from ragwort.study.results.serving import Allocation, how_allocated, ignore_clusters
from ragwort.study.sharing.together import power_with
from ragwort.study.words.found import power_text


def _aim(design: str, name: str = "", **values: object) -> Aim:
    aim = edits.new_aim(design_named(design), name or design)
    entries = {each: Entry(value=value) for each, value in values.items()}
    return aim.changed(entries={**aim.entries, **entries}, words=Words(one="nurse", many="nurses"))


def _needs(*aims: Aim, serving: str = "") -> Needs:
    found = needs_of(Study(aims=aims, serving=serving), lambda aim, scenario: outcome_of(aim, scenario))
    assert found is not None
    return found


def test_aims_of_two_groups_and_of_one_sample_share_a_recruitment() -> None:
    assert _needs(_aim("two-means"), _aim("two-proportions"), _aim("correlation"), _aim("one-mean")).single


def test_other_arms_another_ratio_or_clusters_do_not() -> None:
    two = _aim("two-means")
    assert not _needs(two, _aim("anova-one-way")).single
    assert not _needs(two, _aim("two-means", "uneven", ratio=2.0)).single
    assert not _needs(two, _aim("cluster-means")).single
    assert not _needs(two, _aim("paired-means").changed(words=Words(one="pair", many="pairs"))).single


def test_an_odd_person_more_in_a_group_is_no_other_ratio() -> None:
    """63 and 64 people are one to one."""
    assert _needs(_aim("two-means"), _aim("two-means", "any", balance="any", difference=4.9)).single


def test_exploratory_aims_set_nothing() -> None:
    assert _needs(_aim("two-means"), _aim("anova-one-way").changed(role="exploratory")).single


def test_the_user_can_say_it_where_the_unit_is_the_same() -> None:
    apart = _needs(_aim("two-means"), _aim("anova-one-way"))
    assert (apart.single, apart.can_be_said) == (False, True)
    assert _needs(_aim("two-means"), _aim("anova-one-way"), serving="together").single
    pairs = _aim("paired-means").changed(words=Words(one="pair", many="pairs"))
    assert not _needs(_aim("two-means"), pairs).can_be_said
    assert not _needs(_aim("two-means"), pairs, serving="together").single
    study = Study(aims=(_aim("two-means"), _aim("anova-one-way")))
    assert edits.say_serving(edits.say_serving(study, True).study, False).study == study


def test_any_sample_goes_with_any_arms() -> None:
    assert Allocation("staff", "", ()).goes_with(Allocation("staff", "", (1.0, 2.0)))
    assert not Allocation("staff", "", ()).goes_with(Allocation("staff", "wards", ()))


def _overview(study: Study) -> str:
    return " ".join(block.text for block in report_of(study).blocks if isinstance(block, Paragraph))


def test_the_report_says_that_there_is_no_total() -> None:
    text = _overview(sampler_study())
    assert "The aims use different designs; no single total applies." in text
    assert "The largest number to be recruited is 228 staff (Alertness after six weeks)" in text
    assert "Some aims allocate wards; 11 others ignore them" in text


def test_the_report_gives_the_total_of_one_recruitment() -> None:
    study = sampler_study()
    text = _overview(study.changed(aims=study.aims[:2]))
    assert "228 staff will be recruited. The same recruitment serves all aims; Alertness after six weeks" in text
    assert "ignore them" not in text


def test_a_study_of_people_only_ignores_nothing() -> None:
    aims = (_aim("two-means"), _aim("correlation"))
    answered = [(aim, found) for aim in aims if isinstance(found := outcome_of(aim), Answer)]
    assert ignore_clusters(answered) == ("", [])


def _recruitments(*aims: Aim) -> list[tuple[int, str, list[str]]]:
    found = _needs(*aims).recruitments
    return [(each.count, how_allocated(each), [aim.name for aim, _ in each.aims]) for each in found]


def test_aims_are_parted_into_what_one_recruitment_serves() -> None:
    """Any sample goes with the first arms of its people; clusters, other arms and pairs are each their own."""
    pairs = _aim("paired-means", "pairs").changed(words=Words(one="pair", many="pairs"))
    found = _recruitments(
        _aim("two-means", "two"), _aim("correlation", "r"), _aim("anova-one-way", "three"), _aim("cluster-means"), pairs
    )
    assert [each[1:] for each in found] == [
        ("2 groups", ["two", "r"]),
        ("3 groups", ["three"]),
        ("clusters to 2 arms", ["cluster-means"]),
        ("one sample", ["pairs"]),
    ]
    assert _recruitments(_aim("two-means", "uneven", ratio=1.5))[0][1] == "2 groups, 1 : 1.5"


def test_the_primary_aim_sets_the_size() -> None:
    """Once roles are told, a larger secondary aim sets nothing; that it falls short is said, with its power."""
    small, large = _aim("two-means", "small", difference=10), _aim("two-means", "large").changed(role="secondary")
    needs = _needs(large, small)
    assert (needs.aim_name, needs.count) == ("small", needs.recruitments[0].count)
    assert [aim.name for aim, _ in needs.recruitments[0].short] == ["large"]
    text = _overview(Study(aims=(large, small)))
    assert "large would need" in text
    answer = outcome_of(large)
    assert isinstance(answer, Answer)
    assert power_text(power_with(answer, large, needs.count)) in text
    alone = _needs(large.changed(role=""), small)
    assert (alone.aim_name, alone.recruitments[0].short) == ("large", ())


def test_the_report_tells_the_recruitments_apart() -> None:
    tables = [block for block in report_of(sampler_study()).blocks if isinstance(block, Table)]
    table = next(each for each in tables if each.caption == "Separate recruitments")
    assert [row[:2] for row in table.rows] == [
        ("228 staff", "2 groups"),
        ("100 pairs of shifts", "one sample"),
        ("195 staff", "3 groups"),
        ("144 staff", "4 cells"),
        ("200 staff", "wards to 2 arms"),
    ]
    assert "1.69 times as many" in _overview(sampler_study())


def test_the_user_says_which_aims_the_same_people_serve() -> None:
    """Two recruitments become one, a third joins them; aims of another unit never do; all of it can be let go."""
    three, four, clusters = (
        _aim("anova-one-way", "three"),
        _aim("anova-factorial", "four"),
        _aim("cluster-means", "ward"),
    )
    pairs = _aim("paired-means", "pairs").changed(words=Words(one="pair", many="pairs"))
    study = Study(aims=(_aim("two-means", "two"), three, four, clusters, pairs))

    def parted(of: Study) -> list[list[str]]:
        needs = needs_of(of, lambda aim, scenario: outcome_of(aim, scenario))
        assert needs is not None
        assert all(one.allocation.unit == other.allocation.unit for one, other in needs.sayable)
        return [[aim.name for aim, _ in each.aims] for each in needs.recruitments]

    assert parted(study) == [["two"], ["three"], ["four"], ["ward"], ["pairs"]]
    some = edits.say_serving(study, True, [three.id, four.id]).study
    assert parted(some) == [["two"], ["three", "four"], ["ward"], ["pairs"]]
    more = edits.say_serving(some, True, [four.id, clusters.id]).study
    assert more.served_together == ((three.id, four.id, clusters.id),)
    assert parted(more) == [["two"], ["three", "four", "ward"], ["pairs"]]
    assert parted(edits.say_serving(study, True, [three.id, pairs.id]).study) == parted(study)
    assert edits.say_serving(more, False).study == study
    without = more.changed(aims=tuple(aim for aim in more.aims if aim.id != four.id))
    assert parted(without) == [["two"], ["three", "ward"], ["pairs"]]
