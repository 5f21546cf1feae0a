"""Asks for a range of days."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QDate
from PySide6.QtWidgets import QDateEdit, QDialog, QDialogButtonBox, QFormLayout, QWidget

from gingham.language import tr

_FORM = "yyyy-MM-dd"


def ask_range(parent: QWidget, days: Sequence[str], today: str) -> tuple[str, str] | None:
    """The first and the last day (ISO) of what is to go; None if nothing is."""
    dialog = QDialog(parent)
    dialog.setWindowTitle(tr("Delete from the record"))
    lines = QFormLayout(dialog)
    fields = []
    for label, day in ((tr("From"), min(days, default=today)), (tr("to"), max([today, *days]))):
        field = QDateEdit(QDate.fromString(day, _FORM))
        field.setDisplayFormat(_FORM)
        field.setCalendarPopup(True)
        lines.addRow(label, field)
        fields.append(field)
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
    buttons.accepted.connect(dialog.accept)
    buttons.rejected.connect(dialog.reject)
    lines.addRow(buttons)
    if not dialog.exec():
        return None
    begin, end = (field.date().toString(_FORM) for field in fields)
    return (begin, end) if begin <= end else (end, begin)
