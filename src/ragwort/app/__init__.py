"""The window: Qt only. Holds no formula; everything shown comes from `study`, `figures` and `report`.

    shell/     the main window around the pages: menus and commands, the aims, settings, how the program starts and ends
    bench/     the page Bench: sentence, ledger, picture, the strip of words, the shelf
    choose/    the page Choose
    report/    the page Report
    sources/   what takes the picture's place: evidence, a pilot file, how far along
    session/   the open study: history, selection, answers, dialogs; one signal tells all views
    kit/       widgets, theme and threads, which know no study

An edit travels: widget -> `Session.do(edit)` -> new study -> `Session.changed` -> every view redraws itself from
the session. Views never call each other; a page imports no other page.
"""

from ragwort.app.kit.overrides import raise_whole_exceptions

raise_whole_exceptions()  # before any class of a widget is made
