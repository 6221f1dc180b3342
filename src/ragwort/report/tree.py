"""What a document is made of. Plain data; text is plain text, never markup."""

from __future__ import annotations

from dataclasses import dataclass

from ragwort.designs.formula import Expression
from ragwort.figures.pictures import Picture


@dataclass(frozen=True)
class Heading:
    """A heading; level 1 is the document's title, 2 an aim or chapter, 3 a section."""

    text: str
    level: int
    aim: int = 0  # whose chapter begins here, the first being 1


@dataclass(frozen=True)
class Paragraph:
    """Running text. Styles: `body`, `statement` (the sample-size statement), `quiet`, `problem`."""

    text: str
    style: str = "body"


@dataclass(frozen=True)
class Table:
    """Rows under a heading row; numeric columns are set right."""

    caption: str
    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    right: tuple[int, ...] = ()  # columns set right


@dataclass(frozen=True)
class FigureBlock:
    """A picture with its caption."""

    picture: Picture
    caption: str
    aim: int = 0  # whose it is, the first being 1


@dataclass(frozen=True)
class FormulaBlock:
    """Formulas, one below the other."""

    lines: tuple[Expression, ...]


@dataclass(frozen=True)
class Bullets:
    """A list of short texts."""

    items: tuple[str, ...]


@dataclass(frozen=True)
class Code:
    """Text to be copied letter by letter."""

    text: str


_ACROSS = 80  # letters that stand beside each other on a page of print
_BOLD = 1.15  # how much wider the words of a heading row are
_WIDEST = 40  # characters of a cell that a column is made wide for


def _width(text: str) -> float:
    """In small letters; capitals are wider."""
    return len(text) + 0.4 * sum(letter.isupper() for letter in text)


def shares_of(table: Table) -> list[float]:
    """How wide each column is, of the whole: no word is broken, long texts get what is left."""
    columns = list(zip(table.head, *table.rows, strict=True))
    words = [max((_width(word) for text in column for word in text.split(" ")), default=1) for column in columns]
    texts = [min(_WIDEST, max(map(_width, column))) for column in columns]
    least = [_BOLD * min(word, _WIDEST) + 2 for word in words]
    wanted = [max(low, text + 2) for low, text in zip(least, texts, strict=True)]
    if sum(wanted) > _ACROSS > sum(least):
        spare = (_ACROSS - sum(least)) / (sum(wanted) - sum(least))
        wanted = [low + spare * (want - low) for low, want in zip(least, wanted, strict=True)]
    return [each / sum(wanted) for each in wanted]


Block = Heading | Paragraph | Table | FigureBlock | FormulaBlock | Bullets | Code


@dataclass(frozen=True)
class Document:
    """A report."""

    title: str
    blocks: tuple[Block, ...]

    def pictures(self) -> list[Picture]:
        """Every picture, in order."""
        return [block.picture for block in self.blocks if isinstance(block, FigureBlock)]

    def pictures_of(self, aim: int) -> list[int]:
        """Which pictures, the first being 0, are of an aim, the first being 1."""
        whose = [block.aim for block in self.blocks if isinstance(block, FigureBlock)]
        return [at for at, each in enumerate(whose) if each == aim]
