"""Predictors by name, counted for the user: `age, ward (4 levels), age × caffeine`.

A factor with k levels counts k − 1 (its indicator variables), a product the product of its factors' counts: Cohen,
Cohen, West and Aiken, *Applied Multiple Regression/Correlation Analysis* (3rd ed., 2003), sections 8.2 and 9.1.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from ragwort.study.words.numbers import NumberError

_LEVELS = re.compile(r"^(?P<name>.*?)\s*[(\[]\s*(?P<levels>\d+)\s*(levels?)?\s*[)\]]$")


@dataclass(frozen=True)
class Term:
    """One term of a model: a predictor, or a product of several."""

    factors: tuple[str, ...]
    levels: tuple[int, ...]  # of each factor; 0 for a number

    @property
    def name(self) -> str:
        """As it is shown."""
        return " × ".join(self.factors)


def is_named(text: str) -> bool:
    """Whether typed text names terms, and is no number."""
    return bool(re.search(r"[^\W\d_]", text)) and not re.fullmatch(r"[\d.,\s]*e[+-]?\d+", text.strip(), re.IGNORECASE)


def term_names(text: str) -> list[str]:
    """The names of typed terms, without their levels."""
    return [_term(part).name for part in re.split(r"[,;\n]", text) if part.strip()]


def count_terms(text: str, complete: bool = True) -> int:
    """How many columns the named terms take in the model. Raises `NumberError`.

    `complete` asks that the factors of every product are terms of their own too.
    """
    terms = [_term(part) for part in re.split(r"[,;\n]", text) if part.strip()]
    known = {term.factors[0].lower(): term.levels[0] for term in terms if len(term.factors) == 1}
    seen: set[frozenset[str]] = set()
    count = 0
    for term in terms:
        key = frozenset(factor.lower() for factor in term.factors)
        if key in seen:
            raise NumberError(f"{term.name} is named twice: name each term once.")
        seen.add(key)
        missing = [factor for factor in term.factors if factor.lower() not in known]
        if complete and missing and len(term.factors) > 1:
            raise NumberError(f"{term.name} is a product, so {missing[0]} must be a term of its own too: add it.")
        both = zip(term.factors, term.levels, strict=True)
        count += math.prod(max((levels or known.get(factor.lower(), 0)) - 1, 1) for factor, levels in both)
    return count


def _term(text: str) -> Term:
    factors = [_factor(part) for part in re.split(r"\s*[×*]\s*|\s+x\s+", text.strip())]
    return Term(tuple(name for name, _ in factors), tuple(levels for _, levels in factors))


def _factor(text: str) -> tuple[str, int]:
    found = _LEVELS.match(text.strip())
    name, levels = (found["name"].strip(), int(found["levels"])) if found else (text.strip(), 0)
    if not name or (found and levels < 2):
        raise NumberError(f"“{text.strip()[:40]}” is no term: name it as in age, or ward (4 levels), or age × ward.")
    return name, levels
