"""Days and times as players say them; a language gives its own names and its own order of day, month and year."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from gingham.language import tr, tr_c

WEEKDAYS = (
    tr("Monday"),
    tr("Tuesday"),
    tr("Wednesday"),
    tr("Thursday"),
    tr("Friday"),
    tr("Saturday"),
    tr("Sunday"),
)
_DATE, _TIME = tr_c("a date, as in strftime", "%Y-%m-%d"), tr_c("a time, as in strftime", "%H:%M")
_WEEK = timedelta(days=7)


def date_text(day: date) -> str:
    """`2026-11-15`, or as the language has it."""
    return day.strftime(_DATE)


def time_text(time: datetime) -> str:
    """`08:12`, or as the language has it."""
    return time.strftime(_TIME)


def day_text(day: date, today: date) -> str:
    """`today`, `yesterday`, a weekday within the week, else the date."""
    if today - day in (timedelta(0), timedelta(days=1)):
        return tr("today") if day == today else tr("yesterday")
    return WEEKDAYS[day.weekday()] if timedelta(0) < today - day < _WEEK else date_text(day)


def on_day(day: date, today: date) -> str:
    """`today`, `yesterday`, `on Tuesday`, `on 2026-11-15`."""
    named = day_text(day, today)
    return named if today - day in (timedelta(0), timedelta(days=1)) else tr("on {day}", day=named)


def when_text(made: str, today: date) -> str:
    """`today 08:12`, `yesterday 19:30`, `Tuesday`, then the date; `made` is ISO, anything else stays as it is."""
    try:
        time = datetime.fromisoformat(made)
    except ValueError:
        return made
    day = time.date()
    if today - day in (timedelta(0), timedelta(days=1)):
        return f"{day_text(day, today)} {time_text(time)}"
    return day_text(day, today)


def stamp_text(made: str) -> str:
    """`2026-11-15, 08:12`: when something was kept; `made` is ISO, anything else stays as it is."""
    try:
        time = datetime.fromisoformat(made)
    except ValueError:
        return made
    return f"{date_text(time.date())}, {time_text(time)}"
