"""A fade: softer from round to round, in sound and in every format."""

from __future__ import annotations

import io

from mido import MidiFile

from gingham.core.fitting.performance import perform
from gingham.core.formats.midi import midi_bytes
from gingham.core.formats.musicxml import musicxml
from gingham.core.formats.tab import piece_tab
from gingham.core.pieces.form import Form
from gingham.core.pieces.form_edits import set_form
from gingham.core.sound.timeline import performed
from tests.conftest import make_piece


def test_a_fading_piece_goes_round_and_gets_softer() -> None:
    """The last turn is heard three times, each softer than the one before."""
    piece = set_form(make_piece("| G |"), Form((), "fade"), practice=False)
    line = performed(perform(piece))
    loud = [max(n.gain for n in line.notes if bar <= n.at < bar + 1) for bar in range(3)]
    assert loud[0] > 1.3 * loud[1] > 1.3 * 1.3 * loud[2] > 0
    assert line.length == 3


def test_a_fade_is_a_fade_in_every_format() -> None:
    """Round by round softer in MIDI, a closing wedge in MusicXML, said in tablature; what comes back is as before."""
    piece = make_piece("| G | C |", performance=Form(ending="fade"))
    played = perform(piece)
    assert [round(played.loudness(0, n), 3) for n in range(3)] == [1.0, 0.667, 0.333]
    track = MidiFile(file=io.BytesIO(midi_bytes(played))).tracks
    loud = [m.velocity for t in track for m in t if m.type == "note_on" and m.velocity]
    assert max(loud[-4:]) < 0.4 * max(loud[:4])
    xml = musicxml(played).decode()
    assert xml.count('type="diminuendo"') == xml.count('type="stop" number="1"') == 1 and ">fade out<" in xml
    assert "Verse is repeated and fades out." in piece_tab(played)
    assert "fade out" not in musicxml(perform(make_piece("| G | C |"))).decode()
