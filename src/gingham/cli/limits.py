"""The comfortable top speed as a record."""

from __future__ import annotations

from gingham.cli.records import FitLimit, FitSpot
from gingham.core.judging.speed import Limit
from gingham.words.reasons import spot_text


def limit_record(limit: Limit) -> FitLimit:
    """A limit with its spots in words."""
    spots = [FitSpot(s.bar, str(s.at), s.count, s.finger, s.tempo, spot_text(s)) for s in limit.spots]
    return FitLimit(limit.tempo, spots)
