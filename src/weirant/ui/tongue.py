"""Qt's own words, keys and direction in the language that is shown."""

from __future__ import annotations

from PyQt6.QtCore import QLibraryInfo, QLocale, Qt, QTranslator
from PyQt6.QtWidgets import QApplication

from weirant.language import here


def speak(application: QApplication) -> None:
    """Let Qt's buttons, file dialogs and names of keys follow, and lay windows out from the right where the language runs so."""
    tongue = here()
    QLocale.setDefault(QLocale(QLocale.Language.C) if tongue.is_mock else QLocale(tongue.code))
    translator = QTranslator(application)
    if translator.load(f"qtbase_{tongue.code}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        application.installTranslator(translator)
    if tongue.runs_left:
        application.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
