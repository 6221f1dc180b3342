"""What is written for a committee: no word of the window, no imperative, figures as a textbook prints them."""

from __future__ import annotations

import re

import pytest

from ragwort.demo import sampler_study, second_sampler_study
from ragwort.designs import Answer, all_designs
from ragwort.report import report_bytes, report_of
from ragwort.report.sections.protocol import one_sentence, paragraph
from ragwort.report.sections.statements import LENGTHS, statement_of
from ragwort.report.tree import Code, Document, Heading, Paragraph, Table
from ragwort.study import edits
from ragwort.study.document.model import Study
from ragwort.study.results.outcome import outcome_of
from ragwort.study.results.sensitivity import alternatives
from ragwort.study.words.protocol import taken_in
from tests.report.protocols import PROTOCOLS, every, losing, protocols

STRUCK = {
    "an imperative": r"(?:^|[.:>] )(?:Recruit|Enrol|Have|Measure|Wait) ",
    "a space before the percent sign": r"\d[ \u00a0\u202f]%",
    "a bare effect size": r"\b[dfhwqr] (?:−|-)?\d*\.\d",
    "a word of the program's controls": r"To be shown|Total counts up|Sample size taken|What it rests on|Other guesses|"
    r"Differs in|Sample size rule",
    "a plain word for a term": r"false finding|rightly not|\bscatter|\ba yes\b|yes only|pairs that disagree|can be had|"
    r"counts? as an effect|rises evenly|chance of the larger|off at once|buy less|answer moves|In truth|made[- ]up|"
    r"watched for|yes or no|test of poor fit",
    "a note to the author": r"in your own words|Checked is only|type your own",
    "a telegram": r"It was assumed:|This holds if|dropout allowed for|decides in which way",
    "digits glued to a unit": r"\d(?:ms|kg|mg|points|staff|months)\b",
    "a token": r"[{}]|\bNone\b|\bnan\b|(?<!;)  (?! )",
    "two figures glued": r"(?<!\w)an? an? |, ,|\(\)|\( ",
}


def struck(text: str) -> list[str]:
    """What a reviewer would strike out, each with the words around it."""
    found = []
    for what, pattern in STRUCK.items():
        for match in re.finditer(pattern, text):
            found.append(f"{what}: …{text[max(0, match.start() - 30) : match.end() + 20]}…")
    return found


def test_every_statement_is_written_for_a_committee() -> None:
    """Of every design, in every unknown, way, hypothesis and side, with and without dropout."""
    seen = 0
    for title, words, aim in every():
        for length in LENGTHS:
            text = statement_of(aim, length)
            if text.startswith("There is no answer yet."):
                continue
            assert not struck(text), (title, words, length, struck(text))
            assert text[0].isupper() or text[0].isdigit()
            assert text.endswith(".") and not re.search(r"\.\.|\. [a-z]", text.replace("et al. ", "")), text
            seen += 1
    assert seen > 1500


def test_the_statements_are_those_that_were_read() -> None:
    """`python -m tests.report.protocols` writes them anew; then they are to be read again."""
    assert PROTOCOLS.read_text() == "\n".join(protocols()) + "\n"


def words_of(document: Document) -> str:
    """All that is printed but for the request, which is to be computed again."""
    parts: list[str] = []
    for block in document.blocks:
        if isinstance(block, Code):
            continue
        for value in vars(block).values():
            parts += _texts(value)
    return "\n".join(parts)


def _texts(value: object) -> list[str]:
    if isinstance(value, str):
        return [value]
    return [text for each in value for text in _texts(each)] if isinstance(value, tuple) else []


@pytest.mark.parametrize("study", [sampler_study(), second_sampler_study()], ids=["first", "second"])
def test_a_whole_report_is_written_for_a_committee(study: Study) -> None:
    """With every section that can be had."""
    for name in ("errors", "pictures", "guidelines"):
        study = edits.show_section(study, name, True).study
    text = words_of(report_of(study))
    assert len(text) > 20_000
    found = [each for each in struck(text) if not each.startswith("a token")]
    assert not found


def test_of_each_kind_of_file_the_text_is_the_same() -> None:
    """Nothing is escaped that needs no escaping: no stroke before a figure."""
    text = report_bytes(sampler_study(), "md").decode()
    assert not re.search(r"\\\d", text)
    assert "80.1%" in text


def test_who_is_analysed_and_who_is_recruited_are_told_apart() -> None:
    """The number analysed never stands beside the word recruited."""
    for aim in (losing(edits.new_aim(design, "Aim")) for design in all_designs()):
        answer = outcome_of(aim)
        if not isinstance(answer, Answer) or not answer.enrol or answer.counted:
            continue
        total, recruited = sum(answer.groups), sum(answer.enrol)
        text = paragraph(aim, answer).replace("\u00a0", " ")
        assert re.search(rf"Allowing for 10% dropout, {recruited} \w+.* will be recruited", text)
        assert f"{total} participants will be recruited" not in text
        assert f"{recruited} to be recruited" in one_sentence(aim, answer)


def test_what_other_values_would_need_is_worked_out_anew() -> None:
    """Each end of a plausible range by itself; the largest leads, and is what the paragraph warns of."""
    aim = sampler_study().aims[0]
    found = alternatives(aim)
    assert [answer.total for _, answer in found] == sorted((a.total for _, a in found), reverse=True)
    by_words = {words: answer for words, answer in found}
    typed = edits.type_value(sampler_study(), aim.id, "sd", "28").study.aims[0]
    assert by_words["a standard deviation of 28\u00a0ms"] == outcome_of(typed)
    assert "With a difference of 8 ms, 143 per group would be needed." in statement_of(aim, "paragraph")
    assert not alternatives(edits.move_flower(sampler_study(), aim.id, "power").study.aims[0])


def test_the_demo_fits_on_nine_pages_and_one_aim_on_three() -> None:
    """What a protocol needs comes first, all else in appendices with letters."""
    import io

    from pypdf import PdfReader

    assert len(PdfReader(io.BytesIO(report_bytes(sampler_study(), "pdf"))).pages) <= 9
    one = sampler_study().changed(aims=sampler_study().aims[:1])
    assert len(PdfReader(io.BytesIO(report_bytes(one, "pdf"))).pages) <= 3
    heads = [b.text for b in report_of(one).blocks if isinstance(b, Heading) and b.level == 2]
    assert heads == [
        "Sample size",
        "Appendix A. Calculation",
        "Appendix B. Figures",
        "Appendix C. Further tables",
        "Appendix D. Reproduction",
        "References",
    ]
    left = edits.show_section(one, "figure", False).study
    heads = [b.text for b in report_of(left).blocks if isinstance(b, Heading) and b.level == 2]
    assert "Appendix B. Further tables" in heads


def test_of_non_inferiority_the_power_on_the_wrong_side_is_said() -> None:
    """A third of the margin worse than no difference, at the same sizes, as if that had been typed."""
    aim = second_sampler_study().aims[0]
    text = statement_of(aim, "paragraph")
    assert "by more than 6 ms (non-inferiority margin), assuming" in text
    said = re.search(r"If the true difference were 2 ms, .* power would be ([\d.]+%)\.", text)
    assert said is not None
    typed = edits.move_flower(second_sampler_study(), aim.id, "power").study
    typed = edits.type_value(edits.type_value(typed, aim.id, "n", "506").study, aim.id, "difference", "2").study
    answer = outcome_of(typed.aims[0])
    assert isinstance(answer, Answer)
    assert f"{100 * answer.power:.1f}%" == said[1]
    seen = {
        title
        for title, words, each in every()
        if words.startswith("non-inferiority")
        and words.endswith("find n")
        and "third of the margin" in statement_of(each, "paragraph")
    }
    assert seen >= {"two-means", "one-mean", "paired-means", "crossover-means", "two-proportions", "one-proportion"}


def test_missing_sources_are_named() -> None:
    """Those that a committee asks for first, first."""
    errors = next(aim for aim in sampler_study().aims if aim.id == "errors")
    bare = errors.changed(entries={n: e.model_copy(update={"source": ""}) for n, e in errors.entries.items()})
    study = Study(aims=(bare,))
    said = " ".join(block.text for block in report_of(study).blocks if isinstance(block, Paragraph))
    assert "No source is stated for the intracluster correlation" in said


def test_the_kind_of_study_says_what_is_done_with_participants() -> None:
    """People are recruited or included, animals used: in the overview, the paragraph, the tables, the statements."""
    for kind, taken in (("randomised", "recruited"), ("observational", "included"), ("animal", "used")):
        study = edits.state(sampler_study(), "kind", kind).study
        texts = [block.text for block in report_of(study).blocks if isinstance(block, Paragraph)]
        heads = [head for block in report_of(study).blocks if isinstance(block, Table) for head in block.head]
        assert f"To be {taken}" in heads
        assert any(f"144 staff (72 per group) will be {taken}" in text.replace("\u00a0", " ") for text in texts)
        aim = study.aims[0]
        assert f"144 to be {taken}" in statement_of(aim, "short", taken=taken_in(study))
        if taken != "recruited":
            assert not any("recruited" in text for text in (*texts, *heads))
