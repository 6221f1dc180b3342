"""An institution's CSS for a report in HTML: it dresses the report, and fetches nothing when that is opened."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from ragwort.files import FileError, read_plain, short

LARGEST = 1_000_000  # bytes
_WITHIN = ("data:", "#")  # how an address begins that leads to nowhere else
_ADDRESSES = ("url", "src", "image", "image-set", "-webkit-image-set", "cross-fade", "-webkit-cross-fade")


def house_style(path: Path) -> str:
    """The CSS in a file, which cannot end the style that it stands in. Raises `FileError`."""
    name = short(path.name)
    data = read_plain(path, LARGEST)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileError(f"{name} cannot be used as a template: it is not UTF-8 text.") from None
    if "{" not in text or "</style" in text.lower():
        raise FileError(f"{name} cannot be used as a template: it is no CSS file.")
    try:
        fetched = next(_fetched(text), None)
    except RecursionError:
        raise FileError(f"{name} cannot be used as a template: it is nested too deeply.") from None
    if fetched is not None:
        raise FileError(
            f"{name} cannot be used as a template: it fetches {short(fetched)} when the report is opened. Put what it "
            "needs into the file, pictures and fonts as data: addresses."
        )
    return text


def _fetched(css: str) -> Iterator[str]:
    """What a style sheet would fetch, however its letters are written."""
    import tinycss2

    yield from _in(tinycss2.parse_component_value_list(css, skip_comments=True))


def _in(tokens: Iterable[Any]) -> Iterator[str]:
    for token in tokens:
        if token.type == "at-keyword" and token.lower_value == "import":
            yield "another style sheet (@import)"
        elif token.type == "url" and not _is_within(token.value):
            yield token.value
        elif token.type == "function" and token.lower_name in _ADDRESSES:
            yield from (each.value for each in token.arguments if each.type == "string" and not _is_within(each.value))
        yield from _in(getattr(token, "content", None) or getattr(token, "arguments", None) or ())


def _is_within(address: str) -> bool:
    return address.strip().lower().startswith(_WITHIN)
