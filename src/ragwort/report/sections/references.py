"""The list of references: the works that the document cites, and no others."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ragwort.designs.works import works_in
from ragwort.report.tree import Block, Bullets, FigureBlock, Paragraph, Table


def references_of(blocks: Iterable[Block]) -> list[str]:
    """Each work that some text of the blocks cites, once, by author."""
    return [work.text for work in works_in("\n".join(text for block in blocks for text in _texts(block)))]


def _texts(block: Block) -> Iterator[str]:
    if isinstance(block, Paragraph):
        yield block.text
    elif isinstance(block, FigureBlock):
        yield block.caption
    elif isinstance(block, Bullets):
        yield from block.items
    elif isinstance(block, Table):
        yield block.caption
        for row in block.rows:
            yield from row
