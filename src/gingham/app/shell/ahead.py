"""What the first picture needs of core and words, to be loaded before Qt.

Once PySide is there, it reads the source of every module loaded after it, to see whether Qt is used in
it. So this module stands on no Qt, and `__main__` loads it first.
"""

from __future__ import annotations

import gingham.core.fitting.whole
import gingham.core.formats.sound_choice
import gingham.core.patterns.grid
import gingham.core.pieces.own_edits
import gingham.core.practice.entries
import gingham.core.sound.rate
import gingham.words.finding
import gingham.words.form
import gingham.words.hands
import gingham.words.keeping
import gingham.words.piece_text
import gingham.words.saying
import gingham.words.tuning  # noqa: F401  # each is named for what it brings with it
