"""What a protocol says beside its numbers: typed, chosen, signed off."""

from __future__ import annotations

from ragwort.designs.assumption import Assumption
from ragwort.study.document import signing
from ragwort.study.document.history import Edit
from ragwort.study.document.model import Study
from ragwort.study.document.part import LONGEST_LINE, MOST_PEOPLE
from ragwort.study.edits.common import given, no_edit_of_what_is_gone
from ragwort.study.words.numbers import NumberError
from ragwort.study.words.protocol import FLOW, flow_fault

_STAGE = Assumption("stage", "The number a month", "number", "Sample", "", low=0, high=MOST_PEOPLE)


def state(study: Study, name: str, text: str) -> Edit:
    """Take typed text as a statement of the protocol; a stage of recruitment must be a number that fits the others.

    What cannot be read is kept as it is. Raises `TypeError` on a name that a protocol does not have.
    """
    if name in {each.name for each in FLOW}:
        return _state_stage(study, name, text)
    protocol = study.protocol.changed(**{name: text[:LONGEST_LINE]})
    return Edit("stating what the protocol says", study.changed(protocol=protocol))


def _state_stage(study: Study, name: str, text: str) -> Edit:
    def read(typed: str) -> dict[str, float | None]:
        value = given(_STAGE, typed)
        fault = flow_fault(study, name, value) if value is not None else ""
        if fault:
            raise NumberError(fault)
        return {name: value}

    return Edit("stating whom is recruited from", study.changed(protocol=study.protocol.typed(name, text, read)))


@no_edit_of_what_is_gone
def state_time_point(study: Study, aim_id: str, text: str) -> Edit:
    """When an aim's outcome is taken."""
    aim = study.aim(aim_id).changed(time_point=text[:LONGEST_LINE])
    return Edit("stating when the outcome is taken", study.with_aim(aim))


def sign_off(study: Study, by: str, date: str) -> Edit:
    """Sign the present plan off: what changes afterwards is an amendment."""
    return Edit("signing the plan off", signing.signed_off(study, " ".join(by.split()), " ".join(date.split())))
