"""Every action of the window with its key and its hint."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6 import sip
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from weirant.ui import memory
from weirant.ui.plain_text import plain_tip

if TYPE_CHECKING:
    from weirant.ui.window import Window

Entry = tuple[str, str | QKeySequence.StandardKey, Callable[[], object], str]
_KEY = QKeySequence.StandardKey
WITHOUT_JOB = (
    "&New job", "&Open …", "New &window", "Open the &demo job", "&Quit", "&Settings …", "&Larger letters", "S&maller letters", "Us&ual letters", "Full s&creen",
    "&Daylight or dim", "Text at 100 %", "Text at 125 %", "Text at 150 %",
)  # fmt: skip


def make_menus(window: Window) -> list[QAction]:
    """Fill the menu bar; gives every action, for the searchable list."""
    bar, files, document = window.menuBar(), window.files, window.document
    assert bar is not None
    menus: dict[str, list[Entry | None]] = {
        "&Job": [
            ("&New job", _KEY.New, window.new_job, "Start from the question where the water stands"),
            ("&Open …", _KEY.Open, files.ask_open, "Open a job file"),
            ("New &window", "Ctrl+Shift+N", window.new_window, "Another window, for another job"),
            ("Open the &demo job", "Ctrl+D", window.open_demo, "A lawn-bowls club under a wooded slope"),
            None,
            ("&Save", _KEY.Save, files.save, "Save the job"),
            ("Save &as …", _KEY.SaveAs, files.ask_save, "Save the job under another name"),
            None,
            ("Print the o&wner's sheet …", "Ctrl+P", window.print_owner_sheet, "One page for the owner, looked at before it is printed"),
            ("Print the cu&t sheet …", "Ctrl+Alt+P", window.print_cut_sheet, "The pages of the run in hand for the crew, looked at before they are printed"),
            ("Print the o&rder list …", "Ctrl+Alt+O", window.print_order_list, "What is bought, in what is sold, with a box to tick for each"),
            ("Owner's sheet as &PDF …", "Ctrl+Shift+E", window.papers.ask_owner_sheet, "One page for the owner"),
            (
                "&Cut sheet of the run in hand …",
                "Ctrl+Shift+C",
                window.papers.ask_cut_sheet,
                "Stations, cuts and rod readings for the crew",
            ),
            ("Cut sheets of &every run …", "Ctrl+Alt+C", window.papers.ask_every_cut_sheet, "All runs at once, each as a page and as CSV, into a folder"),
            ("Read &points …", "Ctrl+Shift+P", window.points.ask_read, "Points with levels from CSV, LandXML or GeoJSON"),
            ("&Write points …", "", window.points.ask_write, "Points with levels as CSV or LandXML"),
            ("Own pr&oducts …", "", window.papers.ask_read_products, "Your own pipes, stones or fabrics from CSV; they travel with the job"),
            ("Shots from an &instrument …", "Ctrl+I", window.listen, "A level or a satellite rover on a serial line, or one to practise with"),
            ("&Rain of the place …", "Ctrl+Shift+R", window.rainfall, "The rainfall table, typed, from CSV or from a practice service, and storms made from it"),
            None,
            ("C&lose the job", "Ctrl+W", window.new_job, "Back to the question where the water stands"),
            ("&Quit", "Ctrl+Q", window.close, "Close the window"),
        ],
        "&Edit": [
            ("&Keep the fix on trial", "Ctrl+Return", document.keep_trial, "Take the fix that is shown"),
            ("Find the best &grade", "Ctrl+G", window.find_best_grade, "The least dig that satisfies every demand, for all runs at once"),
            ("Take out &made-up levels", "", window.drop_made_up, "The levels made up from the first answers go; what was shot stays"),
            ("&Stretches of the run …", "Ctrl+Shift+T", window.stretches, "Where along the run in hand pipe or trench section changes"),
            ("&Boxes, clean-outs, vents …", "Ctrl+Shift+X", window.fittings, "What is set into the runs, with its rim, its size and its sump"),
            ("&Corners, typed …", "Ctrl+Shift+K", window.corners, "Corners of the thing or the run in hand by place, or by length and bearing"),
            ("&Roofs, paving, pumps …", "Ctrl+Shift+W", window.sources, "What sheds rain or brings water, and the pipe it is led into"),
            ("Lay a pipe &beside it", "", window.lay_beside, "A second pipe in the trench of the run in hand, solid, with an outlet of its own"),
            ("&Part the run here", "", window.part_run, "Two runs of the run in hand, at the station that is stood at"),
            ("&Turn the run round", "", window.turn_run, "The low end of the run in hand becomes its top end"),
            ("Copy the p&icture", "Ctrl+Shift+I", window.copy_picture, "The view on the stage as a picture on the clipboard"),
            ("&Settings …", "Ctrl+,", window.settings, "The look, the letters, the contractor, what is opened at the start"),
            ("Put the fix &back", "Ctrl+Backspace", document.put_back, "Leave the fix that is shown"),
        ],
        "&View": [
            ("Switch &units", "Ctrl+U", window.switch_units, "Feet and inches, or metres"),
            ("&Daylight or dim", "Ctrl+L", window.switch_theme, "Change between the two looks"),
            ("Text at 100 %", "Ctrl+Alt+1", partial(window.set_scale, 1.0), "Size of the letters"),
            ("Text at 125 %", "Ctrl+Alt+2", partial(window.set_scale, 1.25), "Size of the letters"),
            ("Text at 150 %", "Ctrl+Alt+3", partial(window.set_scale, 1.5), "Size of the letters"),
            ("&Larger letters", "Ctrl++", partial(window.letters, 1), "Letters a step larger"),
            ("S&maller letters", "Ctrl+-", partial(window.letters, -1), "Letters a step smaller"),
            ("Us&ual letters", "Ctrl+0", partial(window.letters, 0), "Letters of the usual size"),
            ("Full s&creen", "F11", window.full_screen, "The whole screen, or a window again"),
            ("The views of the step in &turn", "Ctrl+T", window.next_look, "Set the next view of the step on the stage"),
            ("&Fold the card, or open it", "F4", window.fold_card, "The card of the thing in hand, to its name and back"),
            ("Findings wide or &narrow", "F9", window.narrow_findings, "The findings as a column, or as their marks with counts"),
            ("Next &run in hand", "Ctrl+R", partial(window.next_run, 1), "Take the next run in hand"),
            ("The &whole way in the profile", "Ctrl+Shift+L", window.whole_way, "The long profile from the top of the run in hand to where its water leaves, and back"),
            ("&Another way in the profile", "Ctrl+Alt+L", window.next_way, "The long profile along the next of the ways over the run in hand"),
            ("Station &up the line", "Alt+Right", partial(window.move_station, 1), "Stand one step further up"),
            ("Station &down the line", "Alt+Left", partial(window.move_station, -1), "Stand one step further down"),
        ],
        "&Help": [
            ("&Handbook", "F1", window.help, "The page of what you are at: a finding, or the step"),
            ("The &tour", "", window.tour, "What is where in the window, in seven stops"),
            ("A &worked job", "", partial(window.show_help, "worked-job"), "From the walk to the first rain, step by step"),
            ("&Words", "", partial(window.show_help, "glossary"), "The words of the trade, in plain terms"),
            ("&Bench: the gravel box …", "Ctrl+B", window.bench, "Pour rain on a box of soil and guess what the drain does"),
            ("&All actions and methods …", "Ctrl+K", window.search, "Search every action and every method"),
            ("A&bout Weirant", "", window.about, "Version and licence"),
        ],
    }
    actions: list[QAction] = []
    for title, entries in menus.items():
        menu = bar.addMenu(title)
        assert menu is not None
        if title == "&Edit":
            actions += _undo_actions(window, menu)
        for entry in entries:
            if entry is None:
                menu.addSeparator()
            else:
                actions.append(_action(window, menu, entry))
        if title == "&Job":
            _list_recent(window, menu, actions[1])
    return actions


def _list_recent(window: Window, menu: QMenu, after: QAction) -> None:
    """The recent jobs, listed when they are looked for."""
    recent = QMenu("&Recent jobs", menu)
    menu.insertMenu(after, recent)

    def fill() -> None:
        recent.clear()
        for number, path in enumerate(memory.recent(), 1):
            action = QAction(f"&{number}  {path.stem}".replace("&&", "&"), recent)
            action.setToolTip(plain_tip(str(path)))
            action.triggered.connect(partial(window.files.open_file, path))
            recent.addAction(action)
        if recent.isEmpty():
            none = QAction("none yet", recent)
            none.setEnabled(False)
            recent.addAction(none)

    recent.aboutToShow.connect(fill)


def _undo_actions(window: Window, menu: QMenu) -> list[QAction]:
    """Undo and redo, which name the step they would take back."""
    undo, redo = (
        window.document.stack.createUndoAction(window, "&Undo"),
        window.document.stack.createRedoAction(window, "&Redo"),
    )
    assert undo is not None and redo is not None
    for action in (undo, redo):
        sip.transferto(action, window)  # made by Qt for the window, which deletes them; Python must not do so again
        action.setProperty("needs job", "undo")
    undo.setShortcut(_KEY.Undo)
    redo.setShortcuts([QKeySequence(_KEY.Redo), QKeySequence("Ctrl+Y"), QKeySequence("Ctrl+Shift+Z")])
    menu.addActions([undo, redo])
    return [undo, redo]


def _action(window: Window, menu: QMenu, entry: Entry) -> QAction:
    text, key, slot, tip = entry
    action = QAction(text, window)
    action.setShortcut(QKeySequence(key))
    action.setToolTip(tip)
    action.setStatusTip(tip)
    action.setProperty("needs job", text not in WITHOUT_JOB and menu.title() != "&Help")
    action.triggered.connect(lambda _=False: slot())
    menu.addAction(action)
    return action
