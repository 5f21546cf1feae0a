"""The bench's judging: tags, audition, fixes, rankings, limits, parts, feel, and the player's pattern files."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gingham.core.bench.audition import audition
from gingham.core.bench.ranking import best_fix, by_nearness, monotony, ranked, spot_slot
from gingham.core.bench.tags import tags_of
from gingham.core.errors import FileError, RuleError
from gingham.core.fitting.cache import FitCache
from gingham.core.fitting.fit import fit
from gingham.core.formats.pattern_file import (
    PATTERN_SUFFIX,
    load_pattern,
    remove_pattern,
    save_pattern,
    shelf,
)
from gingham.core.instruments.instrument import CATALOGUE
from gingham.core.judging.part import part_under, rates
from gingham.core.judging.speed import full_limit, hand_limit
from gingham.core.patterns.compare import difference
from gingham.core.patterns.library import builtin
from gingham.core.patterns.shorthand import parse_pattern, print_pattern
from gingham.core.pieces.piece import BarPattern, NamedPattern
from gingham.core.pieces.rules import ACCENTS, Rules, parse_fingers
from gingham.core.sound.player import Player
from gingham.core.sound.timeline import SoundedNote, timeline
from gingham.core.sound.voices import VoiceBank
from gingham.core.values import replace
from gingham.words.bench import bench_text, cost_mark, cost_text, fix_text, part_text, rate_text, tags_text
from gingham.words.errors import say
from gingham.words.naming import NAMINGS, Naming
from gingham.words.panel import chord_lines
from gingham.words.reasons import problem_text, spot_text
from gingham.words.saying import SCRIPTS, script
from tests.conftest import HEARTH, Dry, make_piece
from tests.core.test_lines import patterns

GUITAR = CATALOGUE["guitar"]
LIBRARY = dict(builtin())


def test_the_library_is_wide() -> None:
    """At least 24 patterns with names of their own, over meters, hands, densities and thumbs, none twice."""
    assert len(LIBRARY) >= 24 and len(set(LIBRARY.values())) == len(LIBRARY)
    tags = [tags_of(pattern) for pattern in LIBRARY.values()]
    assert {"2/4", "3/4", "4/4", "5/4", "6/8", "7/8", "9/8", "12/8"} <= {t.meter for t in tags}
    assert {1, 2, 3, 4} <= {len(t.fingers) for t in tags} and {t.density for t in tags} == {
        "sparse",
        "medium",
        "dense",
    }
    assert {"beats", "half", "once", "walking", "free"} <= {t.thumb for t in tags}
    assert any(t.chucks for t in tags) and any(t.brushes for t in tags) and any(t.pinches for t in tags)
    assert any(t.strings <= 4 for t in tags), "something for four strings"


@pytest.mark.parametrize(
    ("pattern", "strokes", "thumb", "pinches", "density"),
    [
        (HEARTH, 7, "beats", 1, "medium"),
        ("4/4 x2: p . i+m . ; p . i+m .", 4, "half", 2, "sparse"),
        ("6/8 x3: p i m a m i", 6, "once", 0, "dense"),
        ("4/4 x2: p1 i p2 m ; p3 i p2 m", 8, "walking", 0, "medium"),
        ("4/4 x4: i m i m", 16, "none", 0, "dense"),
        ("4/4 x2: p i m p i m p i", 8, "free", 0, "medium"),
    ],
)
def test_tags_are_counted(pattern: str, strokes: int, thumb: str, pinches: int, density: str) -> None:
    """From the strokes alone; a part of a bar counts for the whole one."""
    tags = tags_of(parse_pattern(pattern))
    assert (tags.strokes, tags.thumb, tags.pinches, tags.density) == (strokes, thumb, pinches, density)
    assert f"{strokes} plucks a bar" in tags_text(tags)


def test_audition_says_what_fitting_says() -> None:
    """Every pattern on the piece's own chords; one of another meter is converted first and says so."""
    piece = make_piece("| G | Am7 | Dsus4 D | Em7 |", tempo=72)
    found = list(audition(piece, 0, list(builtin())))
    assert [each.name for each in found] == list(LIBRARY)
    for each in found:
        assert each.pattern.meter == piece.meter and each.converted == (
            LIBRARY[each.name].meter != piece.meter
        )
        alone = fit(make_piece("| G | Am7 | Dsus4 D | Em7 |", print_pattern(each.pattern), tempo=72))
        assert each.limit == hand_limit(alone, "growing").tempo
        assert [b.events for b in each.result.bars] == [b.events for b in alone.bars]
    by_name = {each.name: each for each in found}
    assert by_name["Harbour stairs"].conflicts > 0 and by_name["Hearth"].conflicts == 0
    assert by_name["Hearth"].per_s == pytest.approx(7 / (4 * 60 / 72), abs=0.01)


def test_the_fix_raises_the_limit_as_it_says() -> None:
    """The change named at the bottleneck, taken, gives the speed it promised; no other single one is better."""
    piece = make_piece("| C{x32010} | G{320003} |", "4/4 x2: p m m i p m i m")
    result = fit(piece)
    limit = hand_limit(result, "growing")
    fix = best_fix(result, limit, FitCache())
    assert fix is not None and fix.reason.code == "fix-give" and fix.before == limit.tempo < fix.after
    taken = fit(make_piece("| C{x32010} | G{320003} |", print_pattern(fix.pattern)))
    assert hand_limit(taken, "growing").tempo == fix.after
    assert fix_text(fix).startswith(f"Give beat {fix.reason.value('count')} to the ")
    assert difference(result.pattern, fix.pattern) == 1
    assert spot_slot(result, limit.spots[0]) in (1, 2) and "middle" in spot_text(limit.spots[0])
    slow = fit(make_piece("| C |", "4/4 x1: p"))
    assert best_fix(slow, hand_limit(slow, "growing"), FitCache()) is None


def test_neighbours_are_ranked_by_nearness() -> None:
    """The nearest first; among equals those without conflicts, then the faster."""
    found = by_nearness(list(ranked(make_piece("| G | D |", HEARTH), 0)))
    keys = [(each.difference, each.conflicts, -each.limit) for each in found]
    assert keys == sorted(keys) and len(found) > 10
    assert all(each.difference == difference(parse_pattern(HEARTH), each.variation.pattern) for each in found)


@pytest.mark.parametrize(
    ("code", "finger", "mark", "text"),
    [
        # G{320003}: p G, i G, m B, a G; C{x32010}: p C, i G, m C, a E; Am{x02210}: p A, i A, m C, a E.
        ("var-left-out", "a", "loses a third and string 1",
         "The third of C is heard no more. String 1, the outermost one, falls silent: a tune on it is lost."),
        ("var-left-out", "m", "loses a third", "The third of G and Am is heard no more."),
        ("var-left-out", "i", "", ""),
    ],
)  # fmt: skip
def test_a_variation_says_what_it_costs_in_sound(code, finger, mark, text) -> None:
    """Thirds that are plucked no more, chord by chord, and the outermost string."""
    piece = make_piece("| G{320003} | C{x32010} | Am{x02210} |", "4/4 x1: p i m a")
    wanted = (code, finger)
    reasons = ((each, each.variation.reason) for each in ranked(piece, 0))
    cost = next(each.cost for each, why in reasons if (why.code, why.value("finger")) == wanted)
    assert (cost_mark(cost), cost_text(cost), cost.free) == (mark, text, not text)


def test_crossings_and_wide_pinches_cost_time() -> None:
    """The same strokes in another order of fingers, or further apart, are slower and say why."""
    limits = {}
    for name, said in (("plain", "p i m i"), ("crossed", "p i/1 m/3 i/1"), ("wide", "p i/5+m/1 p i/5+m/1")):
        limits[name] = hand_limit(fit(make_piece("| G{320003} |", f"4/4 x4: {said}")), "growing")
    assert "crossed" in [spot.code for spot in limits["crossed"].spots]
    assert "pinch-stretch" in [spot.code for spot in limits["wide"].spots]
    assert limits["plain"].tempo > limits["crossed"].tempo
    crossed = fit(make_piece("| G{320003} |", "4/4 x1: i/1+m/3"))
    codes = {problem.code: problem_text(problem) for _, problem in crossed.problems()}
    assert codes["crossed"].endswith("Give them each other’s string.")


def test_the_fretting_hand_can_set_the_limit() -> None:
    """A finger that must move between the last slot and the beat; without moves both limits are the same."""
    tight = fit(make_piece("| A{577655} | G{355433} |", "4/4 x4: p i m a m i p i m a m i p i m a"))
    both, hand = full_limit(tight, "growing"), hand_limit(tight, "growing")
    assert both.tempo <= hand.tempo and both.spots[0].code == "change-window"
    assert "fretting finger" in spot_text(both.spots[0])
    still = fit(make_piece("| G | G |", HEARTH))
    assert full_limit(still, "growing").tempo == hand_limit(still, "growing").tempo


def test_monotony_is_pointed_out_until_something_changes() -> None:
    """Eight equal bars without an accent; an accent, or another bar, ends it."""
    long = "| G | C | G | C | G | C | G | C |"
    assert bench_text(monotony(fit(make_piece(long)))).startswith("The same bar 8 times")
    assert monotony(fit(make_piece(long, "4/4 x2: p!+m . p i ; p m p i"))) is None
    assert monotony(fit(make_piece("| G | C |"))) is None
    piece = make_piece(long)
    fill = NamedPattern("Fill", parse_pattern("4/4 x2: p . p . p . p ."))
    own = replace(piece.sections[0], bars=(BarPattern(4, "Fill"),))
    filled = replace(piece, patterns=(*piece.patterns, fill), sections=(own,))
    assert monotony(fit(filled)) is None, "a bar of its own is not the same bar"
    version = "4/4 x2: p+m . p i ; p m p i\nwhen C: p . p i p m p i"
    assert monotony(fit(make_piece(long, version))) is None, "nor is a version for a chord"


def test_a_short_chord_gets_a_part_of_the_pattern() -> None:
    """Which part, and whether the root and the third are in it."""
    result = fit(make_piece("| Dsus4 D | G |", HEARTH))
    part = part_under(result, 1)
    assert (part.first, part.last, part.strokes, part.root, part.third) == ("3", "4&", 4, True, True)
    assert part_text(part) == "Of the pattern it gets 3 to 4&, with the root and third."
    assert part_under(result, 2) is None and part_under(result, 0).third is None
    bare = fit(make_piece("| G C{x3x01x} | G |", "4/4 x1: p . p ."))
    assert "without the third" in part_text(part_under(bare, 1))
    assert any("Of the pattern it gets" in row.text for row in chord_lines(result, 1))


def test_a_chuck_says_where_it_comes_to_rest_and_a_half_pattern_how_often_it_comes() -> None:
    """The resting string is the next one; a chord of a bar gets half a bar's pattern twice."""
    result = fit(make_piece("| G{320003} |", "4/4 x2: p i k4-2 ."))
    text = " ".join(row.text for row in chord_lines(result, 0))
    assert "The chuck sweeps strings 4 to 2 and comes to rest on string 1." in text
    assert "The pattern comes 2 times here." in text
    far = fit(make_piece("| D{xx0232} |", "4/4 x2: p i k3-1 ."))
    assert "strings 3 to 1 and comes to rest beyond the last string" in " ".join(
        r.text for r in chord_lines(far, 0)
    )


def test_strokes_a_second_of_each_finger() -> None:
    """At 120 a bar of four beats lasts two seconds."""
    found = {rate.finger: rate for rate in rates(fit(make_piece("| G | C |", HEARTH, tempo=120)))}
    assert (found["p"].per_s, found["i"].per_s, found["m"].per_s) == (2.0, 1.0, 1.0)
    assert found["p"].gap_s == 0.5
    assert rate_text(tuple(found.values())) == "Plucks a second: thumb 2.0, index 1.0, middle 1.0."


def test_fingers_that_follow_the_bass() -> None:
    """Beside bass 1 with none or one string between; a meeting with the second bass is a problem that says so."""
    for policy, on_g, on_c in (("follow:0", (5, 4, 3), (4, 3, 2)), ("follow:1", (4, 3, 2), (3, 2, 1))):
        piece = make_piece(
            "| G{320003} | C{x32010} |", "4/4 x1: p i m a", rules=Rules(fingers=parse_fingers(policy))
        )
        result = fit(piece)
        strings = [tuple(c.string for _, c in span.assignment.fingers) for span in result.spans]
        assert strings == [on_g, on_c], policy
        met = [text for _, p in result.problems() if p.code == "bass-met" for text in [problem_text(p)]]
        assert len(met) == 2 - (policy == "follow:1"), "string 4 is a second bass"
    with pytest.raises(RuleError, match="finger-policy"):
        parse_fingers("follow:2")


def test_three_fingers_and_two_thumb_strings_on_d_are_offered_ways_out() -> None:
    """Moved over, middle and ring would meet on string 1: the thumb stays, and the two other ways are said."""
    result = fit(make_piece("| D{xx0232} |", "4/4 x2: p i m a p i m a"))
    text = " ".join(f"{row.text} {row.why}" for row in chord_lines(result, 0))
    assert "thumb stays on string 4" in text
    assert "leave a finger out" in text and "second bass on string 5" in text


class Short(Dry):
    """Notes of a quarter of a second, so that no other string rings on beneath a beat."""

    def note(self, note) -> np.ndarray:
        """The beginning of a note."""
        return super().note(note)[: self.rate_hz // 4]


def peaks(accents: str, pattern: str = "4/4 x1: p1 i p1 m") -> list[float]:
    """The loudness of each beat of one bar, rendered."""
    piece = make_piece("| G{320003} |", pattern, rules=Rules(accents=accents))
    bank = Short()
    player = Player(timeline([fit(piece)]), bank, 60.0)
    sound = np.concatenate([player.block(1024) for _ in range(4 * bank.rate_hz // 1024)])
    return [float(np.abs(sound[k * bank.rate_hz : k * bank.rate_hz + 2000]).max()) for k in range(4)]


def test_accent_profiles_are_heard() -> None:
    """Thumb strong and downbeat stronger; even; marching; one finger that follows through, brighter too."""
    thumb, even, march = (peaks(profile) for profile in ("thumb", "even", "march"))
    assert thumb[0] > thumb[2] > thumb[1]
    assert even[0] == pytest.approx(even[2], rel=0.02)
    assert march[0] / march[1] > 1.2 * even[0] / even[1]
    line = timeline([fit(make_piece("| G |", "4/4 x2: i i i i i i i i", rules=Rules(accents="lilt")))])
    assert line.notes[1].gain < 0.7 * line.notes[2].gain < line.notes[0].gain
    follow = peaks("follow-m")
    assert follow[3] / follow[1] > 1.3 * even[3] / even[1]
    bank = VoiceBank()
    plain, through = (bank.note(SoundedNote(0.0, 1, 64, 0.5, "m", bright=on)) for on in (False, True))
    high = [
        float(np.abs(np.fft.rfft(s[:8192]))[800:].sum() / np.abs(np.fft.rfft(s[:8192])).sum())
        for s in (plain, through)
    ]
    assert high[1] > 1.08 * high[0], "a longer stroke sounds brighter"
    assert set(ACCENTS) >= {"thumb", "even", "march", "lilt", "follow-i"}


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        ("fingers", "pinch — thumb index thumb middle thumb index"),
        ("count", "1 (&) 2 & 3 & 4 &"),
        ("strings", "6+2 — 4 3 6 2 4 3"),
        ("short", "p+m — p i p m p i"),
        ("pairs", "pinch — inside outside inside"),
    ],
)
def test_the_ways_to_say_a_pattern(kind: str, said: str) -> None:
    """On G, rests included."""
    result = fit(make_piece("| G{320003} | D{xx0232} |", HEARTH))
    on = result.spans[0].assignment
    assert script(kind, result.pattern, on, GUITAR) == said
    other = script(kind, result.pattern, result.spans[1].assignment, GUITAR)
    assert (other != said) == (kind == "strings"), "only strings change with the chord"


def test_scripts_follow_the_player_s_names() -> None:
    """Triplets in every school, plain places, a pick's strokes."""
    pattern = LIBRARY["Triple hitch"]
    said = {
        c: script("count", pattern, None, GUITAR, Naming(counts=c)).split()[:4] for c in NAMINGS["counts"]
    }
    assert said == {
        "la-li": ["1", "la", "li", "2"], "trip-let": ["1", "trip", "let", "2"],
        "and-a": ["1", "&", "a", "2"], "places": ["1", "2", "3", "4"],
    }  # fmt: skip
    picked = script("fingers", parse_pattern(HEARTH), None, GUITAR, hand="pick")
    assert picked == "down — down up down up down up"
    reading = Naming(fingers="letters", strings="both")
    assert (reading.finger("a"), reading.token("m'"), reading.string(3, "G")) == ("R", "M'", "string 3, G")
    assert Naming(fingers="numbers").finger("c") == "‹4›" and len(SCRIPTS) == 5


@given(patterns(), st.text("abcXYZ 0-9/\\.:éß", min_size=1, max_size=30))
def test_random_patterns_are_kept_in_files(tmp_path_factory, pattern, name: str) -> None:
    """Any name, any pattern: written, found on the shelf, read back the same."""
    folder = tmp_path_factory.mktemp("shelf")
    path = save_pattern(folder, name, pattern)
    assert path.parent == folder and load_pattern(path) == (name, pattern)
    assert [(n, p) for n, p, _ in shelf(folder).patterns] == [(name, pattern)]


def test_a_damaged_pattern_file_spoils_none_of_the_others(tmp_path: Path) -> None:
    """Each fault names its file; a name that is there already is written again, not twice."""
    save_pattern(tmp_path, "Mine", parse_pattern(HEARTH))
    save_pattern(tmp_path, "Mine!", parse_pattern("3/4 x1: p i m"))
    save_pattern(tmp_path, "Mine", parse_pattern("3/4 x2: p i m i m i"))
    bad = {
        "cut": b'{"format": "gingham-pattern", "ver',
        "other": b'{"format": "gingham-piece", "version": 1, "name": "x", "line": "y"}',
        "newer": b'{"format": "gingham-pattern", "version": 9, "name": "x", "line": "4/4 x1: p"}',
        "wrong": b'{"format": "gingham-pattern", "version": 1, "name": "x", "line": "4/4 x1: q"}',
        "large": b" " * 300_000,
    }
    for name, data in bad.items():
        (tmp_path / f"{name}{PATTERN_SUFFIX}").write_bytes(data)
    found = shelf(tmp_path)
    assert [name for name, _, _ in found.patterns] == ["Mine", "Mine!"]
    assert found.patterns[0][1] == parse_pattern("3/4 x2: p i m i m i")
    assert len(found.faults) == 5
    assert all(any(f"{name}{PATTERN_SUFFIX}" in say(fault) for fault in found.faults) for name in bad)
    assert "“q”" in " ".join(map(say, found.faults))
    remove_pattern(found.patterns[0][2])
    assert [name for name, _, _ in shelf(tmp_path).patterns] == ["Mine!"]
    with pytest.raises(FileError, match="file-write"):
        remove_pattern(tmp_path / "gone")
    assert shelf(tmp_path / "nowhere").patterns == ()


def test_limits_of_levels_are_ordered() -> None:
    """A fluent hand is faster than a growing one, that than a starting one, on every pattern of the library."""
    for name, pattern in builtin():
        result = fit(make_piece("| C |", print_pattern(pattern)))
        tempos = [hand_limit(result, level).tempo for level in ("starting", "growing", "fluent")]
        assert all(a <= b for a, b in pairwise(tempos)), name
