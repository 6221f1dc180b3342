"""Formulas as each kind of file has them: MathML, Word's own, Typst's."""

from __future__ import annotations

import re
from html import escape
from typing import Any

from ragwort.designs.formula import Expression, Frac, Root, Sub


def mathml(expression: Expression) -> str:
    """For HTML."""
    return f'<math display="block">{_mathml(expression)}</math>'


def _mathml(expression: Expression) -> str:
    if isinstance(expression, str):
        return f"<mtext>{escape(expression)}</mtext>"
    if isinstance(expression, tuple):
        return f"<mrow>{''.join(map(_mathml, expression))}</mrow>"
    if isinstance(expression, Frac):
        return f"<mfrac>{_mathml(expression.top)}{_mathml(expression.bottom)}</mfrac>"
    if isinstance(expression, Root):
        return f"<msqrt>{_mathml(expression.inside)}</msqrt>"
    if isinstance(expression, Sub):
        return f"<msub>{_mathml(expression.base)}{_mathml(expression.below)}</msub>"
    return f"<msup>{_mathml(expression.base)}{_mathml(expression.above)}</msup>"


def typst(expression: Expression) -> str:
    """For PDF, as source in Typst's mathematical mode."""
    if isinstance(expression, str):
        return _typst_atom(expression)
    if isinstance(expression, tuple):
        return " ".join(map(typst, expression))
    if isinstance(expression, Frac):
        return f"display(frac({typst(expression.top)}, {typst(expression.bottom)}))"
    if isinstance(expression, Root):
        return f"sqrt({typst(expression.inside)})"
    if isinstance(expression, Sub):
        return f"attach({typst(expression.base)}, br: {typst(expression.below)})"
    return f"attach({typst(expression.base)}, tr: {typst(expression.above)})"


_LOW, _HIGH = dict(zip("₀₁₂₃₄₅₆₇₈₉ᵢⱼ", "0123456789ij", strict=True)), {"²": "2"}
_MARKED = re.compile(f"(\\w)([{''.join(_LOW)}]*)([{''.join(_HIGH)}]*)")


def _typst_atom(text: str) -> str:
    """Text whose small raised and lowered figures are real ones, which fonts for mathematics lack as letters."""
    parts, place = [], 0
    for found in _MARKED.finditer(text):
        base, low, high = found.groups()
        if low or high:
            parts.append(_quoted(text[place : found.start()]))
            marks = [f'br: "{_figures(low, _LOW)}"'] if low else []
            marks += [f'tr: "{_figures(high, _HIGH)}"'] if high else []
            parts.append(f"attach({_quoted(base)}, {', '.join(marks)})")
            place = found.end()
    return " ".join([*parts, _quoted(text[place:])])


def _figures(marks: str, plain: dict[str, str]) -> str:
    return "".join(plain[mark] for mark in marks)


def _quoted(text: str) -> str:
    """As Typst's text, wide spaces kept."""
    return " quad ".join(map(_tight, text.split("   ")))


def _tight(text: str) -> str:
    """The spaces at its ends kept."""
    inner = text.strip().replace("\\", "\\\\").replace('"', '\\"')
    before, after = ("thin " if text[:1] == " " else ""), (" thin" if text[-1:] == " " else "")
    return f'{before}"{inner}"{after}' if inner else ("thin" if text else "")


_WORDS = re.compile(r"[A-Za-z]{2,} [a-z]+|[a-z]{4,}")


def omml(expression: Expression) -> Any:
    """For DOCX: a paragraph's element that a word processor can edit."""
    from docx.oxml import OxmlElement

    made = OxmlElement("m:oMathPara")
    whole = OxmlElement("m:oMath")
    made.append(whole)
    _fill(whole, expression)
    return made


def _fill(parent: Any, expression: Expression) -> None:
    if isinstance(expression, str):
        parent.append(_run(expression))
    elif isinstance(expression, tuple):
        for part in expression:
            _fill(parent, part)
    elif isinstance(expression, Frac):
        _element(parent, "m:f", ("m:num", expression.top), ("m:den", expression.bottom))
    elif isinstance(expression, Root):
        _root(parent, expression)
    elif isinstance(expression, Sub):
        _element(parent, "m:sSub", ("m:e", expression.base), ("m:sub", expression.below))
    else:
        _element(parent, "m:sSup", ("m:e", expression.base), ("m:sup", expression.above))


def _element(parent: Any, tag: str, *parts: tuple[str, Expression]) -> None:
    from docx.oxml import OxmlElement

    made = OxmlElement(tag)
    for name, inside in parts:
        part = OxmlElement(name)
        _fill(part, inside)
        made.append(part)
    parent.append(made)


def _root(parent: Any, expression: Root) -> None:
    """A square root: one without a degree."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    made, properties, hidden = OxmlElement("m:rad"), OxmlElement("m:radPr"), OxmlElement("m:degHide")
    hidden.set(qn("m:val"), "1")
    properties.append(hidden)
    made.append(properties)
    made.append(OxmlElement("m:deg"))
    inside = OxmlElement("m:e")
    _fill(inside, expression.inside)
    made.append(inside)
    parent.append(made)


def _run(text: str) -> Any:
    from docx.oxml import OxmlElement

    run, words = OxmlElement("m:r"), OxmlElement("m:t")
    if _WORDS.search(text):  # or a word processor sets it as a product of letters, without spaces
        properties = OxmlElement("m:rPr")
        properties.append(OxmlElement("m:nor"))
        run.append(properties)
    words.text = text
    words.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
    run.append(words)
    return run
