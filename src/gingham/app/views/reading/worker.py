"""Reading a part or a chart, as a job that runs off the interface thread."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from gingham.core.formats.chart import Chart
from gingham.core.music.meter import Meter

if TYPE_CHECKING:
    from gingham.app.work.worker import Tick
    from gingham.core.finding.find import Found
    from gingham.core.judging.piece_map import PieceMap

_READ = 0.3  # so much of the time goes into reading, the rest into finding patterns


class ChartText(msgspec.Struct, frozen=True):
    """A text without tablature: the chart that it is, and the text itself."""

    chart: Chart
    text: str


class ReadPart(msgspec.Struct, frozen=True):
    """A part that was read, and its bars in small."""

    found: Found
    map: PieceMap


def read_file(path: Path, meter: Meter, tick: Tick) -> ReadPart | ChartText:
    """What a file holds; FileError as the readers say, `reading-stopped` when `tick` says stop."""
    from gingham.core.finding.find import find
    from gingham.core.formats.atomic import read_bytes
    from gingham.core.formats.imports import MOST_MB, read_part_or_chart, text_of
    from gingham.core.judging.piece_map import map_piece

    read = read_part_or_chart(path, meter, tick)
    if isinstance(read, Chart):
        return ChartText(read, text_of(read_bytes(path, MOST_MB), str(path)))
    found = find(read, lambda share: tick(_READ + (1 - _READ) * share))
    return ReadPart(found, map_piece(found.piece))
