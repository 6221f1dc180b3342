"""A work stands once among the references."""

from __future__ import annotations

import re

from ragwort.designs import all_designs
from ragwort.report.references import each_work_once

BOOK = "Author A. A Book. Town: House; 1988."


def test_chapters_of_one_book_come_together() -> None:
    """In the order of the book; what has none is left as it is."""
    article = "Author B. An article. A Journal 1990; 9: 1-2."
    found = each_work_once([f"{BOOK} Chapter 8.", article, f"{BOOK} Chapter 2.", article, f"{BOOK} Chapter 10."])
    assert found == [f"{BOOK} Chapters 2, 8 and 10.", article]


def test_sections_stand_after_chapters_and_ranges_stay() -> None:
    """One of a kind is singular."""
    assert each_work_once([f"{BOOK} Chapters 2 to 4.", f"{BOOK} Section 13.1."]) == [
        f"{BOOK} Chapters 2 to 4; section 13.1."
    ]
    assert each_work_once([f"{BOOK} Section 3.6."]) == [f"{BOOK} Section 3.6."]
    assert each_work_once([f"{BOOK} Sections 2.11 and 7.", f"{BOOK} Section 2.2."]) == [
        f"{BOOK} Sections 2.2, 2.11 and 7."
    ]


def test_no_number_of_any_design_is_lost() -> None:
    """Together they name what they name alone, each work once."""
    references = [each for design in all_designs() for each in design.references]
    found = each_work_once(references)
    numbers = set(re.findall(r"\d[\d.]*\d|\d", " ".join(found)))
    assert set(re.findall(r"\d[\d.]*\d|\d", " ".join(references))) == numbers
    works = [re.split(r" (?:Chapter|Section)", each)[0] for each in found]
    assert len(works) == len(set(works)) < len(set(references))
