"""Opening, saving and leaving jobs: everything between the document and its file."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from weirant.errors import WeirantError
from weirant.formats import job_file
from weirant.formats.job_file import Opened
from weirant.formats.open_mark import OpenMark
from weirant.formats.plain_files import ChangedOnDiskError, digest_of, read_plain
from weirant.formats.recovery import Recoverable
from weirant.job import Job
from weirant.language import tr
from weirant.ui import memory
from weirant.ui.asking import ask, ask_file, ask_name, tell
from weirant.ui.document import Document
from weirant.ui.keeping import Keeping
from weirant.ui.other_ways import carry_ways, kept_by
from weirant.ui.own_rates import carry_rates

PATTERNS = {job_file.SUFFIX: tr("Weirant jobs")}


class JobFiles(QObject):
    """Asks for names, keeps work that is not saved, and never writes over what somebody else has written."""

    opened = pyqtSignal(object, object, object)  # what was read, its file, and what is to be done once it is shown
    said = pyqtSignal(str)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.window = document, window
        self.mark = OpenMark()
        self.keeping = Keeping(document, window)
        self.keeping.recovered.connect(self._recovered)
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._written_elsewhere)

    def open_file(self, path: Path) -> None:
        """Open a job file; a fault in it is shown with its place, and the present job stays."""
        try:
            found = job_file.read_job(path)
        except WeirantError as fault:
            tell(self.window, tr("This file cannot be opened"), str(fault))
            return
        if self.may_leave():
            self.opened.emit(found, path, _nothing)

    def open_quietly(self, path: Path, then: Callable[[], None]) -> bool:
        """Open a job file if it can be, and do something once it is shown; whether it could be read."""
        try:
            found = job_file.read_job(path)
        except WeirantError:
            return False
        self.opened.emit(found, path, then)
        return True

    def has_opened(self, path: Path | None) -> None:
        """Another job is in the window: say so beside its file, and say who else has it open."""
        taken = self.mark.move_to(path)
        self._watch(path)
        if path is not None:
            memory.used(path)
        if taken is not None and path is not None:
            words = tr("{path} is open already: {taken}.\nBefore anything that is saved there is replaced from here, you are asked.", path=path.name, taken=taken)
            tell(self.window, tr("{path} is open elsewhere", path=path.name), words, is_fault=False)

    def _watch(self, path: Path | None) -> None:
        """Look out for somebody else writing the file of the job in hand."""
        if self._watcher.files():
            self._watcher.removePaths(self._watcher.files())
        if path is not None and path.is_file():
            self._watcher.addPath(str(path))

    def _written_elsewhere(self, name: str) -> None:
        """The file changed on disk: if it was not this window, say so and leave the work in hand as it is."""
        document = self.document
        if document.is_empty or document.path is None or str(document.path) != name:
            return
        try:
            now = digest_of(read_plain(document.path, job_file.LARGEST, tr("a job file")))
        except WeirantError:
            now = ""
        if now != document.digest:
            what = tr("was changed by somebody else") if now else tr("is gone, or cannot be read any more")
            document.refused.emit(tr("{path} {what}. What you have here is kept; before it replaces theirs you are asked.", path=document.path.name, what=what))
        self._watch(document.path)  # who writes in one step puts a new file in its place

    def ask_open(self) -> None:
        """Ask for a job file and open it."""
        path = ask_file(self.window, tr("Open a job"), f"{PATTERNS[job_file.SUFFIX]} (*{job_file.SUFFIX})")
        if path is not None:
            self.open_file(path)

    def save(self) -> bool:
        """Save where the job came from, or ask."""
        if self.document.is_empty:
            return False
        return self._save_to(self.document.path, self.document.digest) if self.document.path is not None else self.ask_save()

    def ask_save(self) -> bool:
        """Ask for a name and save."""
        if self.document.is_empty:
            return False
        path = ask_name(self.window, tr("Save the job"), self.document.job.name, PATTERNS)
        return path is not None and self._save_to(path, "")

    def _save_to(self, path: Path, expected: str) -> bool:
        """Save; ``expected`` is the digest that the file still should have, empty where it is known that it is replaced."""
        before = kept_by(self.document)
        try:
            self.document.save(path, expected or None)
        except ChangedOnDiskError as fault:
            text = tr("{fault}\nIf you replace it, what was saved there is lost, but for the copy {path}~.", fault=fault, path=path.name)
            answer = ask(self.window, tr("Changed by somebody else"), text, (tr("Save under another name …"), tr("Replace it"), tr("Cancel")))
            return self.ask_save() if answer == 0 else self._save_to(path, "") if answer == 1 else False
        except WeirantError as fault:
            tell(self.window, tr("The job is not saved"), str(fault))
            return False
        carry_ways(before, self.document)
        carry_rates(before, self.document)
        self.keeping.drop()
        self.has_opened(path)
        self.said.emit(tr("Saved as {path}", path=path.name))
        return True

    def may_leave(self) -> bool:
        """Whether the present job may be left; asks where it has changes that are not saved. What is thrown away is gone, its copy too."""
        if self.document.is_empty or self.document.stack.isClean():
            return True
        answer = ask(self.window, tr("Not saved"), tr("Save the changes to {job}?", job=self.document.job.name), (tr("Save"), tr("Discard"), tr("Cancel")))
        if answer == 0:
            return self.save()
        if answer == 1:
            self.keeping.drop()
        return answer == 1

    def leave(self) -> None:
        """The work is saved or given up: drop the safety copy, and say no longer that the file is open."""
        self.keeping.drop()
        self.mark.let_go()

    def _recovered(self, job: Job, left: Recoverable) -> None:
        self.opened.emit(Opened(job, left.digest), left.original, partial(self.keeping.is_back, left))


def _nothing() -> None:
    pass
