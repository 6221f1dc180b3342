"""Formulas as plain data: what a report typesets in whatever way its file can."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias


@dataclass(frozen=True)
class Frac:
    """One thing over another."""

    top: Expression
    bottom: Expression


@dataclass(frozen=True)
class Root:
    """The square root of something."""

    inside: Expression


@dataclass(frozen=True)
class Sub:
    """Something with an index below."""

    base: Expression
    below: Expression


@dataclass(frozen=True)
class Sup:
    """Something to a power."""

    base: Expression
    above: Expression


Expression: TypeAlias = "str | Frac | Root | Sub | Sup | tuple[Expression, ...]"


def row(*parts: Expression) -> Expression:
    """Parts beside each other."""
    return tuple(parts)


def linear(expression: Expression) -> str:
    """The formula on one line of text: `δ = (μ₂ − μ₁) / √(σ²/n₁ + σ²/n₂)`."""
    if isinstance(expression, str):
        return expression
    if isinstance(expression, tuple):
        return "".join(map(linear, expression))
    if isinstance(expression, Frac):
        return f"{_closed(expression.top)}/{_closed(expression.bottom)}"
    if isinstance(expression, Root):
        return f"√{_closed(expression.inside)}"
    if isinstance(expression, Sub):
        return f"{linear(expression.base)}[{linear(expression.below)}]"
    return f"{linear(expression.base)}^{_closed(expression.above)}"


def _closed(expression: Expression) -> str:
    """In brackets where it is more than one thing."""
    text = linear(expression)
    if isinstance(expression, Root | Sub):
        return text
    single = len(text) <= 1 or (isinstance(expression, str) and not set(text) & set(" −+·/"))
    return text if single else f"({text})"


# --- what many designs have in common ---

_TAIL = {"two": "1−α/2", "greater": "1−α", "less": "1−α"}


def variance_of_mean(number: int) -> Expression:
    """A group's variance over its size."""
    index = "₀₁₂₃"[number]
    return Frac(f"σ{index}²", f"n{index}")


def power_of_t(sides: str) -> Expression:
    """Noncentral t: Johnson, Kotz and Balakrishnan, *Continuous Univariate Distributions* 2 (1995), chapter 31."""
    limit = Sub("t", f"{_TAIL[sides]}, ν")
    above, below = row("P(t′(ν, δ) > ", limit, ")"), row("P(t′(ν, δ) < −", limit, ")")
    return row("1 − β = ", *_by_side(sides, above, below))


def power_of_two_t(sides: str) -> Expression:
    """A t statistic whose standard error is √V₀ without an effect and √V₁ with it; δ is in units of √V₁."""
    limit, scale = Sub("t", f"{_TAIL[sides]}, ν"), Root(Frac("V₀", "V₁"))
    above, below = row("P(t′(ν, δ) > ", limit, " ", scale, ")"), row("P(t′(ν, δ) < −", limit, " ", scale, ")")
    return row("1 − β = ", *_by_side(sides, above, below))


def power_of_z(sides: str) -> Expression:
    """A statistic that is normal, with the same spread without and with an effect."""
    limit = Sub("z", _TAIL[sides])
    return row("1 − β = ", *_by_side(sides, row("Φ(δ − ", limit, ")"), row("Φ(−δ − ", limit, ")")))


EDGE = "Δ₀ is the edge of the null hypothesis"


def powers_of_equivalence(error: Expression, known: bool) -> tuple[Expression, ...]:
    """Two one-sided tests that both reject, of an effect with this standard error and margins M₁ and M₂.

    Phillips, Journal of Pharmacokinetics and Biopharmaceutics 18 (1990), pages 137-144.
    """
    above, below, limit = Frac("M₂ − Δ", "SE"), Frac("M₁ − Δ", "SE"), Sub("z" if known else "t", "1−α")
    named = row("SE = ", error)
    if known:
        return named, row(
            "1 − β = Φ(", above, " − ", limit, ") − Φ(", below, " + ", limit, "), and 0 if that is below 0"
        )
    inside = row("1 − β = E[Φ(", above, " − ", limit, "S) − Φ(", below, " + ", limit, "S)]")
    return named, inside, "νS² is χ² with ν degrees of freedom; E goes over the S at which the bracket is positive"


def power_of_f() -> Expression:
    """Noncentral F: the same book, chapter 30."""
    return row("1 − β = P(F′(ν₁, ν₂, λ) > ", Sub("F", "1−α, ν₁, ν₂"), ")")


def power_of_chi_square() -> Expression:
    """Noncentral chi-square: the same book, chapter 29."""
    return row("1 − β = P(χ²′(ν, λ) > ", Sub("χ²", "1−α, ν"), ")")


def power_of_two_variances(sides: str, effect: str = "Δ") -> Expression:
    """A normal statistic whose variance is V₀ without an effect and V₁ with it."""
    limit = Sub("z", _TAIL[sides])

    def tail(sign: str) -> Expression:
        return row("Φ(", Frac(row(f"{sign}{effect} − ", limit, Root("V₀")), Root("V₁")), ")")

    return row("1 − β = ", *_by_side(sides, tail(""), tail("−")))


def _by_side(sides: str, above: Expression, below: Expression) -> tuple[Expression, ...]:
    return {"two": (above, " + ", below), "greater": (above,), "less": (below,)}[sides]


@dataclass(frozen=True)
class Claim:
    """What is tested, in symbols, and what the symbols stand for.

    `where` holds sentences with a `{token}` for each name, as a design's own sentence has them.
    """

    null: str  # H₀
    alternative: str  # H₁
    where: tuple[str, ...] = ()


_RELATIONS = {"two": ("=", "≠"), "greater": ("≤", ">"), "less": ("≥", "<")}


def claim(parameter: str, reference: str, sides: str, *where: str) -> Claim:
    """One quantity against its value under the null hypothesis, to either side or to one."""
    null, other = _RELATIONS[sides]
    return Claim(f"{parameter} {null} {reference}", f"{parameter} {other} {reference}", tuple(where))


def _numbered(of: str) -> str:
    """`group j, on average over the measurements`."""
    word, comma, rest = of.partition(",")
    return f"{word} j{comma}{rest}"


def alike(symbol: str, of: str, count: int) -> Claim:
    """Several means, all of them alike or not."""
    if count == 2:
        null = f"{symbol}₁ = {symbol}₂"
    else:
        last = "".join(chr(0x2080 + int(digit)) for digit in str(count))
        null = f"{symbol}₁ = {symbol}₂ = {symbol}₃" if count == 3 else f"{symbol}₁ = {symbol}₂ = … = {symbol}{last}"
    return Claim(null, "not all of these are equal", (f"{symbol}ⱼ is the mean of {_numbered(of)}.",))
