"""What command lines are made of: the commands and options that there are, with values good, odd and hostile."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import click

from ragwort.cli import cli
from ragwort.demo import sampler_study
from ragwort.demo.pilot import pilot_csv
from ragwort.designs import all_designs
from ragwort.designs.assumption import Assumption
from ragwort.study.document.files import study_text

MANY = "9" * 5000
TEXTS = (
    "", " ", "0", "1", "-1", "2", "1.5", "1e400", "1e-300", "nan", "inf", MANY, "abc", "²", "½", "🌙", "\ufeff1",
    "a\tb", "x" * 3000, "%s", "{number}", "{number:03}", "{centre}-{number:9}", "{}", "{", "{number:99999999999}",
    "--", "-h", "=1+1", "../x", "a\nb", "\x1b[31m", "50%", "1:2", "1:2:3", "8:16:2", "8,10,12", "sex: f, m", "sex: f",
    "a (2): b, c", "Reaction time", "reaction", "3", "difference", "sd", "n", "power", "all", "none", "curve", "map",
    "errors", "drivers", "spread", "split", "steps", "simple", "blocks", "stratified", "clusters", "minimisation",
    "4,6", "4", "sides",
)  # fmt: skip
ENDINGS = ("svg", "pdf", "png", "csv", "xlsx", "ods", "md", "html", "docx", "txt", "ragwort", "odt", "")
FILES = ("good.json", "list.json", "night.ragwort", "rows.csv", "worlds.json", "house.css", "letter.docx")
ODD_FILES = ("none", "empty", "deep.json", "binary", "folder", "pipe", "/dev/zero", "/dev/null", "-", "odd\nname.json")


def prepare(folder: Path) -> None:
    """The files that command lines name."""
    import os

    import docx

    good = {"design": "two-means", "find": "n", "assumptions": {"difference": 12, "sd": 24}}
    (folder / "good.json").write_text(json.dumps(good))
    (folder / "list.json").write_text(json.dumps([good, {"design": "nobody"}, 3]))
    (folder / "night.ragwort").write_text(study_text(sampler_study()))
    (folder / "rows.csv").write_text("difference,sd,sides\n8,20,two\n9,24,greater\nx,,\n")
    (folder / "pilot.csv").write_text(pilot_csv())
    (folder / "worlds.json").write_text(json.dumps([{"lost": 0.1}, {"shape": "lognormal", "size": 2}]))
    (folder / "house.css").write_text("h1 { color: teal }")
    docx.Document().save(str(folder / "letter.docx"))
    (folder / "empty").write_text("")
    (folder / "deep.json").write_text("[" * 5000)
    (folder / "binary").write_bytes(bytes(range(256)) * 40)
    (folder / "folder").mkdir()
    os.mkfifo(folder / "pipe")
    (folder / "odd\nname.json").write_text(json.dumps(good))


class Grammar:
    """Command lines by a seed."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.commands: dict[str, click.Command] = dict(cli.commands)

    def line(self) -> tuple[list[str], str]:
        """Arguments and standard input."""
        name = self.rng.choice([each for each in self.commands if each not in ("demo", "open")])
        command = self.commands[name]
        words = [name]
        for parameter in command.params:
            words += self._parameter(name, parameter)
        if self.rng.random() < 0.03:
            words.insert(self.rng.randrange(len(words)), self.rng.choice(TEXTS))
        return [word.replace("\0", "") for word in words], self._input(name)

    def _parameter(self, command: str, parameter: click.Parameter) -> list[str]:
        if isinstance(parameter, click.Argument):
            few = self.rng.choice((0, 1, 1, 2)) if parameter.nargs == -1 else self.rng.random() < 0.98
            return [self._argument(command, parameter) for _ in range(int(few))]
        assert isinstance(parameter, click.Option)
        wanted = 0.97 if parameter.required or parameter.name == "output" else 0.2
        if self.rng.random() > wanted:
            return []
        flag = self.rng.choice(parameter.opts)
        if parameter.is_flag:
            return [flag]
        if parameter.name == "replicates":
            return [flag, self.rng.choice(("10", "100", "1", "0", "-1", "1e3", MANY))]
        return [flag, self._value(command, parameter)]

    def _argument(self, command: str, parameter: click.Parameter) -> str:
        if parameter.name == "words":
            return self.rng.choice(
                (f"{self.rng.choice(('difference', 'sd', 'n', 'alpha', 'x'))}={self._text()}", self._text())
            )
        if parameter.name == "name":
            return self.rng.choice(([design.id for design in all_designs()], TEXTS)[self.rng.random() < 0.3])
        if parameter.name == "output":
            return self._output(("html",))
        return self._file()

    def _value(self, command: str, option: click.Option) -> str:
        if isinstance(option.type, click.Choice) and self.rng.random() < 0.7:
            return self.rng.choice(list(option.type.choices))
        if option.name in ("output", "allocation", "labels", "data"):
            return self._output(ENDINGS)
        if isinstance(option.type, click.Path) or option.name == "departures":
            return self._file()
        return self._text()

    def _text(self) -> str:
        return self.rng.choice(TEXTS)

    def _file(self) -> str:
        return self.rng.choice(FILES if self.rng.random() < 0.7 else ODD_FILES)

    def _output(self, endings: tuple[str, ...]) -> str:
        place = self.rng.choice(
            ("out", "out", "out", "out", "folder/out", "none/out", "/proc/out", "empty/out", "odd\nout")
        )
        ending = self.rng.choice(endings)
        return f"{place}.{ending}" if ending else place

    def _input(self, command: str) -> str:
        made = self.rng.choice((self._request, self._request, self._list, self._conversion, lambda: self._text()))
        text = made()
        return text if isinstance(text, str) else json.dumps(text)

    def _list(self) -> Any:
        return [self._request() for _ in range(self.rng.randrange(4))]

    def _conversion(self) -> Any:
        names = ("d", "t", "n", "n1", "n2", "r", "f", "odds_ratio", "proportion1", "mean1", "sd")
        given = {self.rng.choice(names): self._number() for _ in range(self.rng.randrange(1, 4))}
        return {"from": given, "to": self.rng.choice(("d", "r", "g", "f", "d_interval", "odds_ratio", "w"))}

    def _request(self) -> Any:
        """A request of any design: its starting values, some of them changed."""
        design = self.rng.choice(all_designs())
        values = dict(design.starting)
        for _ in range(self.rng.randrange(4)):
            assumption = self.rng.choice(design.assumptions)
            values[assumption.name] = self._assumed(assumption)
        find = self.rng.choice(design.finds)
        if find != "n" and self.rng.random() < 0.8:
            values.setdefault("n", self.rng.choice((20, 61, 128, 400)))
        return {"design": design.id, "find": find, "assumptions": values}

    def _assumed(self, assumption: Assumption) -> Any:
        if assumption.chosen and self.rng.random() < 0.8:
            return assumption.value_of(self.rng.choice(assumption.choices))
        return self._number() if self.rng.random() < 0.85 else self.rng.choice((None, "x", [], [1, 2, 3], {}, True))

    def _number(self) -> float | int:
        return self.rng.choice(
            (
                0,
                1,
                2,
                3,
                5,
                12,
                20,
                64,
                100,
                0.05,
                0.1,
                0.2,
                0.3,
                0.5,
                0.8,
                0.9,
                1.5,
                -1,
                -0.3,
                24,
                1e-9,
                1e9,
                1e300,
                1e-300,
            )
        )
