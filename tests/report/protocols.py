"""Every statement that a design can make, to be read: `python -m tests.report.protocols` writes `protocols.md`."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from ragwort.demo import sampler_study
from ragwort.designs import all_designs
from ragwort.report.sections.statements import statement_of
from ragwort.study import edits
from ragwort.study.document.aim import Aim, Entry
from tests.study.readings import asked, margins, stated, with_looks

PROTOCOLS = Path(__file__).parent / "protocols.md"


def losing(aim: Aim) -> Aim:
    """The aim with a tenth of its participants lost."""
    return aim.changed(entries={**aim.entries, "dropout": Entry(value=0.1)})


def every() -> Iterator[tuple[str, str, Aim]]:
    """Every design and every aim of the demo, in every unknown, on one side and both, in every way to state it."""
    for aim in sampler_study().aims:
        yield from ((f"Demo: {aim.name}", words, each) for words, each in asked(aim))
    for design in all_designs():
        start = edits.new_aim(design, "Aim")
        in_other_words = ((f"stated as {words}", each) for words, each in stated(design))
        kinds = [*asked(start), *margins(start), *with_looks(start), *in_other_words]
        if any(assumption.name == "dropout" for assumption in design.assumptions):
            kinds.append(("with dropout", losing(start)))
        yield from ((design.id, words, each) for words, each in kinds)


def protocols() -> Iterator[str]:
    """The file, line by line."""
    yield "# Every statement, to be read as a committee does"
    yield ""
    yield "Written by `python -m tests.report.protocols`; a test compares it with what is written now."
    chapter, seen = "", set[str]()
    for title, words, aim in every():
        if title != chapter:
            yield from ("", f"## {title}", "")
            chapter, seen = title, set()
        text = statement_of(aim, "paragraph")
        if text not in seen:
            yield f"- {words}: {statement_of(aim, 'short')}"
            yield f"  - {text}"
        seen.add(text)


if __name__ == "__main__":
    PROTOCOLS.write_text("\n".join(protocols()) + "\n")
