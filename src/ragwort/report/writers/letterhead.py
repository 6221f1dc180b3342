"""A DOCX document that a report is written on: looked at with care before anything is built from it.

What it would fetch from elsewhere when the report is opened has no place in a report: links to be clicked become plain
words, which is told; anything else is refused. Bounds keep a small archive from unpacking into a monstrous one.
"""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from ragwort.files import FileError, read_plain, short

LARGEST = 32_000_000  # bytes of the file
MOST_UNPACKED = 100_000_000  # bytes of all its parts
MOST_XML = 12_000_000  # bytes of those that are read as XML, each of which takes some thirty bytes of memory
MOST_PARTS = 2_000
_XML = (".xml", ".rels")
_HYPERLINK = "/hyperlink"  # how the type of such a relationship ends
_FETCHING_FIELD = re.compile(r"(?<![A-Z])(DDEAUTO|DDE|INCLUDEPICTURE|INCLUDETEXT|IMPORT|LINK)\b")
_RELATIONSHIPS = "{http://schemas.openxmlformats.org/officeDocument/2006/relationships}"
_WORD = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"


def letterhead_in(path: Path, tell: Callable[[str], None]) -> Any:
    """The document, opened and fit to be written on; `tell` hears what was dropped. Raises `FileError`."""
    name = short(path.name)
    data = read_plain(path, LARGEST)
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            _refuse_monsters(archive, name)
            for part in archive.infolist():
                if part.filename.lower().endswith(_XML):
                    _look_into(archive.read(part), name)
        made = _document(data)
    except FileError:
        raise
    except Exception as error:  # the package raises whatever its parsers do
        raise FileError(f"{name} cannot be used as a template: it is no DOCX document, or is damaged.") from error
    _make_whole(made, name)
    dropped = _without_links(made, name)
    if dropped:
        tell(f"{name}: {dropped} {'link' if dropped == 1 else 'links'} to other places became plain words.")
    return made


def _document(data: bytes) -> Any:
    import docx

    return docx.Document(io.BytesIO(data))


def _refuse_monsters(archive: zipfile.ZipFile, name: str) -> None:
    parts = archive.infolist()
    xml = sum(part.file_size for part in parts if part.filename.lower().endswith(_XML))
    if len(parts) > MOST_PARTS or xml > MOST_XML or sum(part.file_size for part in parts) > MOST_UNPACKED:
        raise FileError(
            f"{name} cannot be used as a template: unpacked it is larger than {MOST_UNPACKED // 10**6} MB, or than "
            f"{MOST_XML // 10**6} MB of text. Keep only what belongs to a letterhead."
        )


def _look_into(xml: bytes, name: str) -> None:
    """A part of a document has no document type (ECMA-376, part 2, 8.1.4): with one, entities come in."""
    from lxml import etree

    root = etree.fromstring(xml, etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False))
    if root.getroottree().docinfo.doctype:
        raise FileError(f"{name} cannot be used as a template: one of its parts declares entities of its own.")
    fields = "".join(root.xpath("//w:instrText/text() | //w:fldSimple/@w:instr", namespaces={"w": _WORD[1:-1]}))
    found = _FETCHING_FIELD.search(fields.upper())
    if found:
        raise FileError(f"{name} cannot be used as a template: it has a field that fetches something ({found[1]}).")


def _make_whole(made: Any, name: str) -> None:
    """A document has a body; the size of its pages is optional, and A4 where it is not said."""
    from docx.shared import Cm

    body = made.element.find(f"{_WORD}body")
    if body is None:
        raise FileError(f"{name} cannot be used as a template: it has no body to write into.")
    section = body.find(f"{_WORD}sectPr")
    if section is not None:
        body.append(section)  # last, where the format has it: what is written goes before it
    body.get_or_add_sectPr()
    page = made.sections[-1]
    page.page_width, page.page_height = page.page_width or Cm(21.0), page.page_height or Cm(29.7)
    for side in ("left_margin", "right_margin", "top_margin", "bottom_margin"):
        if getattr(page, side) is None:
            setattr(page, side, Cm(2.4))


def _without_links(made: Any, name: str) -> int:
    """Takes links to other places out of every part, and tells how many. Raises `FileError` where more is fetched."""
    dropped = 0
    for part in [made.part.package, *made.part.package.iter_parts()]:
        outside = {key: rel for key, rel in part.rels.items() if rel.is_external}
        for rel in outside.values():
            if not rel.reltype.endswith(_HYPERLINK):
                what = short(rel.reltype.rsplit("/", 1)[-1], 30)
                raise FileError(
                    f"{name} cannot be used as a template: it fetches something from elsewhere when it is opened "
                    f"({what}: {short(str(rel.target_ref))}). Take that out, or put it into the document."
                )
        root = getattr(part, "_element", None)
        if outside and root is None:
            raise FileError(f"{name} cannot be used as a template: a part of it that is no text has links.")
        for key in outside:
            _unlink(root, key)
            del part.rels[key]
        dropped += len(outside)
    return dropped


def _unlink(root: Any, key: str) -> None:
    """Elements that name the relationship lose its name: a hyperlink without one is plain words."""
    for element in root.iter("*"):
        for attribute, value in element.attrib.items():
            if value == key and attribute.startswith(_RELATIONSHIPS):
                del element.attrib[attribute]
