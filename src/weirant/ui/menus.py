"""Every action of the window with its key and its hint."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6 import sip
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

from weirant.language import tr
from weirant.ui import memory
from weirant.ui.plain_text import plain_button, plain_tip

if TYPE_CHECKING:
    from weirant.ui.window import Window

Entry = tuple[str, str | QKeySequence.StandardKey, Callable[[], object], str]
_KEY = QKeySequence.StandardKey
WITHOUT_JOB = (
    tr("&New job"), tr("&Open …"), tr("New &window"), tr("Open the &demo job"), tr("Open the demo with its &roofs"), tr("&Quit"), tr("&Settings …"), tr("&Larger letters"),
    tr("S&maller letters"), tr("Us&ual letters"), tr("Full s&creen"), tr("&Daylight or dim"), tr("Text at 100 %"), tr("Text at 125 %"), tr("Text at 150 %"),
)  # fmt: skip


def make_menus(window: Window) -> list[QAction]:
    """Fill the menu bar; gives every action, for the searchable list."""
    bar, files, document = window.menuBar(), window.files, window.document
    assert bar is not None
    menus: dict[str, list[Entry | None]] = {
        tr("&Job"): [
            (tr("&New job"), _KEY.New, window.new_job, tr("Start from the question where the water stands")),
            (tr("&Open …"), _KEY.Open, files.ask_open, tr("Open a job file")),
            (tr("New &window"), "Ctrl+Shift+N", window.new_window, tr("Another window, for another job")),
            (tr("Open the &demo job"), "Ctrl+D", window.open_demo, tr("A lawn-bowls club under a wooded slope")),
            (tr("Open the demo with its &roofs"), "", partial(window.open_demo, True), tr("The same club with two roofs, a box at the low spot, and a pump in place of the brook")),
            None,
            (tr("&Save"), _KEY.Save, files.save, tr("Save the job")),
            (tr("Save &as …"), _KEY.SaveAs, files.ask_save, tr("Save the job under another name")),
            None,
            (tr("Read &points …"), "Ctrl+Shift+P", window.points.ask_read, tr("Points with levels from CSV, LandXML or GeoJSON")),
            (tr("&Write points …"), "", window.points.ask_write, tr("Points with levels as CSV or LandXML")),
            (tr("Own pr&oducts …"), "", window.papers.ask_read_products, tr("Your own pipes, stones or fabrics from CSV; they travel with the job")),
            (tr("Shots from an &instrument …"), "Ctrl+I", window.listen, tr("A level or a satellite rover on a serial line, or one to practise with")),
            (tr("&Rain of the place …"), "Ctrl+Shift+R", partial(window.open, "rainfall"), tr("The rainfall table, typed, from CSV or from a practice service, and storms made from it")),
            None,
            (tr("C&lose the job"), "Ctrl+W", window.new_job, tr("Back to the question where the water stands")),
            (tr("&Quit"), "Ctrl+Q", window.close, tr("Close the window")),
        ],
        tr("&Edit"): [
            (tr("&Keep the fix on trial"), "Ctrl+Return", document.keep_trial, tr("Take the fix that is shown")),
            (tr("Find the best &grade"), "Ctrl+G", window.find_best_grade, tr("The least dig that satisfies every demand, for all runs at once")),
            (tr("Take out &made-up levels"), "", window.drop_made_up, tr("The levels made up from the first answers go; what was shot stays")),
            (tr("&Stretches of the run …"), "Ctrl+Shift+T", partial(window.open, "stretches"), tr("Where along the run in hand pipe or trench section changes")),
            (tr("&Boxes, clean-outs, vents …"), "Ctrl+Shift+X", partial(window.open, "fittings"), tr("What is set into the runs, with its rim, its size and its sump")),
            (tr("&Corners, typed …"), "Ctrl+Shift+K", partial(window.open, "corners"), tr("Corners of the thing or the run in hand by place, or by length and bearing")),
            (tr("&Roofs, paving, pumps …"), "Ctrl+Shift+W", partial(window.open, "sources"), tr("What sheds rain or brings water, and the pipe it is led into")),
            (tr("Lay a pipe &beside it"), "", window.lay_beside, tr("A second pipe in the trench of the run in hand, solid, with an outlet of its own")),
            (tr("&Part the run here"), "", window.part_run, tr("Two runs of the run in hand, at the station that is stood at")),
            (tr("&Turn the run round"), "", window.turn_run, tr("The low end of the run in hand becomes its top end")),
            (tr("Copy the p&icture"), "Ctrl+Shift+I", window.copy_picture, tr("The view on the stage as a picture on the clipboard")),
            (tr("Picture as a fi&le …"), "", window.write_picture, tr("The view on the stage as SVG or PNG, at the largest usual scale that a sheet holds")),
            (tr("&Settings …"), "Ctrl+,", window.settings, tr("The look, the letters, the contractor, what is opened at the start")),
            (tr("Put the fix &back"), "Ctrl+Backspace", document.put_back, tr("Leave the fix that is shown")),
        ],
        tr("&View"): [
            (tr("Switch &units"), "Ctrl+U", window.switch_units, tr("Feet and inches, or metres")),
            (tr("&Daylight or dim"), "Ctrl+L", window.switch_theme, tr("Change between the two looks")),
            (tr("Text at 100 %"), "Ctrl+Alt+1", partial(window.set_scale, 1.0), tr("Size of the letters")),
            (tr("Text at 125 %"), "Ctrl+Alt+2", partial(window.set_scale, 1.25), tr("Size of the letters")),
            (tr("Text at 150 %"), "Ctrl+Alt+3", partial(window.set_scale, 1.5), tr("Size of the letters")),
            (tr("&Larger letters"), "Ctrl++", partial(window.letters, 1), tr("Letters a step larger")),
            (tr("S&maller letters"), "Ctrl+-", partial(window.letters, -1), tr("Letters a step smaller")),
            (tr("Us&ual letters"), "Ctrl+0", partial(window.letters, 0), tr("Letters of the usual size")),
            (tr("Full s&creen"), "F11", window.full_screen, tr("The whole screen, or a window again")),
            (tr("The views of the step in &turn"), "Ctrl+T", window.next_look, tr("Set the next view of the step on the stage")),
            (tr("&Fold the card, or open it"), "F4", window.fold_card, tr("The card of the thing in hand, to its name and back")),
            (tr("Findings wide or &narrow"), "F9", window.narrow_findings, tr("The findings as a column, or as their marks with counts")),
            (tr("Next &run in hand"), "Ctrl+R", partial(window.next_run, 1), tr("Take the next run in hand")),
            (tr("The &whole way in the profile"), "Ctrl+Shift+L", window.whole_way, tr("The long profile from the top of the run in hand to where its water leaves, and back")),
            (tr("&Another way in the profile"), "Ctrl+Alt+L", window.next_way, tr("The long profile along the next of the ways over the run in hand")),
            (tr("If its exit were &plugged …"), "Ctrl+Alt+X", window.plug_exit, tr("Where the water of the run in hand would go, and where it would stand")),
            (tr("Station &up the line"), "Alt+Right", partial(window.move_station, 1), tr("Stand one step further up")),
            (tr("Station &down the line"), "Alt+Left", partial(window.move_station, -1), tr("Stand one step further down")),
        ],
        tr("&Papers"): [
            (tr("Print the o&wner's sheet …"), "Ctrl+P", window.print_owner_sheet, tr("One page for the owner, looked at before it is printed")),
            (tr("Print the cu&t sheet …"), "Ctrl+Alt+P", window.print_cut_sheet, tr("The pages of the run in hand for the crew, looked at before they are printed")),
            (tr("Print the o&rder list …"), "Ctrl+Alt+O", window.print_order_list, tr("What is bought, in what is sold, with a box to tick for each")),
            (tr("Why this wrap, as P&DF …"), "", window.papers.ask_why_sheet, tr("One page for the owner: the soil, what holds it back, and another way beside it")),
            (tr("Owner's sheet as &PDF …"), "Ctrl+Shift+E", window.papers.ask_owner_sheet, tr("One page for the owner")),
            (
                tr("&Cut sheet of the run in hand …"),
                "Ctrl+Shift+C",
                window.papers.ask_cut_sheet,
                tr("Stations, cuts and rod readings for the crew"),
            ),
            (tr("Cut sheets of &every run …"), "Ctrl+Alt+C", window.papers.ask_every_cut_sheet, tr("All runs at once, each as a page and as CSV, into a folder")),
            (tr("Quote, as PDF or wor&kbook …"), "Ctrl+Shift+Q", window.papers.ask_quote, tr("Two pages for the owner, or a workbook, by the price list taken in Ask and order")),
            (tr("Other ways in the quote …"), "", partial(window.open, "ways"), tr("Put the drawing aside as a way to build it, and hold ways side by side by price and verdict")),
            (tr("For other pro&grams …"), "", window.papers.ask_export, tr("DXF, LandXML alignments, grades for a machine, GeoJSON or KML")),
            (tr("How parts are co&unted …"), "", partial(window.open, "part_rules"), tr("How many pins, caps, couplers and the like for each thing on the drawing; parts of your own")),
            (tr("How long the work &took …"), "", partial(window.open, "took"), tr("The hours of each kind of work, out of which the crew's own rates for the next job come")),
        ],
        tr("&Help"): [
            (tr("&Handbook"), "F1", window.help, tr("The page of what you are at: a finding, or the step")),
            (tr("The &tour"), "", window.tour, tr("What is where in the window, in seven stops")),
            (tr("A &worked job"), "", partial(window.show_help, "worked-job"), tr("From the walk to the first rain, step by step")),
            (tr("&Words"), "", partial(window.show_help, "glossary"), tr("The words of the trade, in plain terms")),
            (tr("&Bench: the gravel box …"), "Ctrl+B", window.bench, tr("Pour rain on a box of soil and guess what the drain does")),
            (tr("&All actions and methods …"), "Ctrl+K", window.search, tr("Search every action and every method")),
            (tr("A&bout Weirant"), "", window.about, tr("Version and licence")),
        ],
    }
    actions: list[QAction] = []
    for title, entries in menus.items():
        menu = bar.addMenu(title)
        assert menu is not None
        if title == tr("&Edit"):
            actions += _undo_actions(window, menu)
        for entry in entries:
            if entry is None:
                menu.addSeparator()
            else:
                actions.append(_action(window, menu, entry))
        if title == tr("&Job"):
            _list_recent(window, menu, actions[1])
    return actions


def _list_recent(window: Window, menu: QMenu, after: QAction) -> None:
    """The recent jobs, listed when they are looked for."""
    recent = QMenu(tr("&Recent jobs"), menu)
    menu.insertMenu(after, recent)

    def fill() -> None:
        recent.clear()
        for number, path in enumerate(memory.recent(), 1):
            action = QAction(f"&{number}  {plain_button(path.stem)}", recent)
            action.setToolTip(plain_tip(str(path)))
            action.triggered.connect(partial(window.files.open_file, path))
            recent.addAction(action)
        if recent.isEmpty():
            none = QAction(tr("none yet"), recent)
            none.setEnabled(False)
            recent.addAction(none)

    recent.aboutToShow.connect(fill)


def _undo_actions(window: Window, menu: QMenu) -> list[QAction]:
    """Undo and redo, which name the step they would take back."""
    undo, redo = (
        window.document.stack.createUndoAction(window, tr("&Undo")),
        window.document.stack.createRedoAction(window, tr("&Redo")),
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
