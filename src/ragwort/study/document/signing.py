"""A version of a study that was signed off: what it planned, and in words what has changed since."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from ragwort.designs import Answer, design_named
from ragwort.designs.design import in_running_text
from ragwort.study.document.aim import Aim
from ragwort.study.document.model import Study
from ragwort.study.document.study_wide import Signed, SignedAim
from ragwort.study.results.outcome import outcome_of, to_enrol, trouble_of
from ragwort.study.words.naming import label_of
from ragwort.study.words.numbers import count_text, value_text, with_unit


def signed_off(study: Study, by: str, date: str) -> Study:
    """The study with its present plan signed off by somebody on a day."""
    aims = tuple(_signed_aim(aim.as_planned()) for aim in study.aims)
    signed = Signed(by=by, date=date, version=study.protocol.version, aims=aims)
    return study.changed(signed=signed.changed(digest=_digest(signed)))


def _signed_aim(aim: Aim) -> SignedAim:
    outcome = None if trouble_of(aim) else outcome_of(aim)
    found = outcome if isinstance(outcome, Answer) else None
    return SignedAim(
        id=aim.id,
        name=aim.name,
        design=aim.design,
        find=aim.find,
        role=aim.role,
        values={name: value for name, value in aim.values().items() if name not in _unused(aim)},
        recruited=None if found is None else to_enrol(found),
    )


def _unused(aim: Aim) -> frozenset[str]:
    return frozenset() if trouble_of(aim) else design_named(aim.design).unused_names(aim.find)


def _digest(signed: Signed) -> str:
    content = signed.changed(digest="").model_dump(mode="json")
    return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()


def was_edited(study: Study) -> bool:
    """Whether what was signed off is not what the file says of it: somebody edited the file by hand."""
    return study.signed is not None and study.signed.digest != _digest(study.signed)


EDITED = "The version that was signed off has been changed in the file by hand: it is not what was signed."


def signature(signed: Signed) -> str:
    """`Version 1.0, signed off by A. Marsh on 2 March 2026`."""
    version = f"Version {signed.version}" if signed.version else "A version"
    return f"{version}, signed off by {signed.by} on {signed.date}"


def amendments(study: Study) -> list[str]:
    """What has changed since the version that was signed off, aim by aim, in words; empty where nothing has."""
    if study.signed is None:
        return []
    before = {aim.id: aim for aim in study.signed.aims}
    now = {aim.id: aim.as_planned() for aim in study.aims}
    found = [f"{aim.name}: added" for aim_id, aim in now.items() if aim_id not in before]
    found += [f"{aim.name}: removed" for aim_id, aim in before.items() if aim_id not in now]
    for aim_id, aim in now.items():
        changed = _changes(before[aim_id], aim) if aim_id in before else []
        found += [f"{aim.name}: {'; '.join(changed)}"] if changed else []
    return found


def _changes(before: SignedAim, aim: Aim) -> list[str]:
    if before.design != aim.design:
        return [f"the design is another ({_title(before.design)} → {_title(aim.design)})"]
    found = [f"name {before.name} → {aim.name}"] if before.name != aim.name else []
    if before.role != aim.role:
        found.append(f"role {before.role or 'primary'} → {aim.role or 'primary'}")
    if before.find != aim.find:
        found.append(f"what is found {before.find} → {aim.find}")
    if not trouble_of(aim):
        found += _values(before, aim)
    return [*found, *_recruited(before, aim)]


def _title(design: str) -> str:
    try:
        return design_named(design).title
    except KeyError:
        return design


def _values(before: SignedAim, aim: Aim) -> list[str]:
    values = {name: value for name, value in aim.values().items() if name not in _unused(aim)}
    return [
        f"{in_running_text(label_of(each, aim))} {_text(each, before.values.get(each.name), '')} → "
        f"{_text(each, values.get(each.name), aim.words.unit)}"
        for each in design_named(aim.design).assumptions
        if before.values.get(each.name) != values.get(each.name)
    ]


def _text(assumption: Any, value: Any, unit: str) -> str:
    if value is None:
        return "none"
    return with_unit(assumption, value, unit) if unit else value_text(assumption, value)


def _recruited(before: SignedAim, aim: Aim) -> list[str]:
    now = _signed_aim(aim).recruited
    if now == before.recruited:
        return []
    was, is_now = ("no answer" if each is None else count_text(each) for each in (before.recruited, now))
    return [f"{was} → {is_now} to be recruited"]
