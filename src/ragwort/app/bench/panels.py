"""The panels that take the picture's place: one table, each made when it is first asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ragwort.app.bench.bench import Bench
    from ragwort.app.sources.compare_panel import ComparePanel
    from ragwort.app.sources.coverage_panel import CoveragePanel
    from ragwort.app.sources.evidence_panel import EvidencePanel
    from ragwort.app.sources.progress_panel import ProgressPanel
    from ragwort.app.sources.protocol_panel import ProtocolPanel
    from ragwort.app.sources.sharing_panel import SharingPanel
    from ragwort.app.sources.sidepanel import SidePanel
    from ragwort.app.sources.underway_panel import UnderwayPanel
    from ragwort.app.sources.ways_panel import WaysPanel


def _evidence(bench: Bench) -> EvidencePanel:
    from ragwort.app.sources.evidence_panel import EvidencePanel

    return EvidencePanel(bench.session, bench.theme)


def _progress(bench: Bench) -> ProgressPanel:
    from ragwort.app.sources.progress_panel import ProgressPanel

    return ProgressPanel(bench.session, bench.theme)


def _underway(bench: Bench) -> UnderwayPanel:
    from ragwort.app.sources.underway_panel import UnderwayPanel

    return UnderwayPanel(bench.session, bench.theme)


def _ways(bench: Bench) -> WaysPanel:
    from ragwort.app.sources.ways_panel import WaysPanel

    return WaysPanel(bench.session, bench.theme)


def _sharing(bench: Bench) -> SharingPanel:
    from ragwort.app.sources.sharing_panel import SharingPanel

    return SharingPanel(bench.session, bench.theme)


def _protocol(bench: Bench) -> ProtocolPanel:
    from ragwort.app.sources.protocol_panel import ProtocolPanel

    return ProtocolPanel(bench.session, bench.theme)


def _coverage(bench: Bench) -> CoveragePanel:
    from ragwort.app.sources.coverage_panel import CoveragePanel

    panel = CoveragePanel(bench.session, bench.theme)
    panel.field_wanted.connect(bench.go_to)
    return panel


def _compare(bench: Bench) -> ComparePanel:
    from ragwort.app.sources.compare_panel import ComparePanel

    panel = ComparePanel(bench.session, bench.theme)
    panel.export_asked.connect(lambda: bench.comparison_asked.emit(panel.as_csv))
    return panel


PANELS: dict[str, Callable[[Bench], SidePanel]] = {
    "evidence": _evidence,  # the effect from what is known
    "progress": _progress,  # who has an outcome so far
    "underway": _underway,  # what an interim analysis says, and sizes found again without unblinding
    "ways": _ways,  # what would bring the aim under the limit, or what the room below it would buy
    "sharing": _sharing,  # how the aims share the study's error
    "protocol": _protocol,  # what the protocol says beside its numbers, and the plan signed off
    "coverage": _coverage,  # what guidelines ask for, and whether the aim answers it
    "compare": _compare,  # the aim and its scenarios side by side
}
