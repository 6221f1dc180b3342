"""What there is to say of a sheet: its rows, its columns, its allocation."""

from __future__ import annotations

from ragwort.sheet.parts import Sheet
from ragwort.study.words.numbers import count_text


def remark(sheet: Sheet) -> str:
    """How many rows there are, and where the list is."""
    said = f"{count_text(len(sheet.rows))} rows, as many as are to be recruited."
    if not sheet.list:
        return said
    shown = any(column.name == "allocation" for column in sheet.columns)
    where = "The sheet shows the allocation" if shown else "The allocation is in a list of its own"
    return f"{said} {where}{'.' if shown else ', so that who assesses can stay blind.'}"


def columns_table(sheet: Sheet) -> tuple[tuple[str, ...], tuple[tuple[str, ...], ...]]:
    """The columns as a table: the name, and what is allowed where it is not filled in already."""
    rows = tuple((column.name, "filled in" if column.given else column.allowed()) for column in sheet.columns)
    return ("column", "allowed"), rows


def allocation_words(sheet: Sheet) -> str:
    """Counts by arm, in all and by stratum, and the longest run."""
    found = sheet.properties
    if found is None:
        return ""
    parts = [f"{_counts(sheet, found.by_arm)}."]
    for stratum, counts in found.by_stratum[:12]:
        name = sheet.strata.get(stratum, "")
        if name:
            parts.append(f"{name}: {_counts(sheet, counts)}.")
    if len(found.by_stratum) > 12:
        parts.append(f"{len(found.by_stratum) - 12} more strata are in the list.")
    return "\n".join([*parts, f"The longest run of one arm is {found.longest_run}."])


def _counts(sheet: Sheet, counts: tuple[int, ...]) -> str:
    return ", ".join(f"{count_text(count)} {arm}" for arm, count in zip(sheet.arms, counts, strict=True))
