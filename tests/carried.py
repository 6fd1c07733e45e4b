"""Rigs as files: one with something in every log, and any number of others made up by hypothesis."""

from __future__ import annotations

import hashlib
import io
import math
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

from hypothesis import strategies as st
from PIL import Image

from cross_staff.core.carry.records import (
    BenchRecord,
    CarriedInstrument,
    CarriedRig,
    EndRecord,
    HandoverRecord,
    InstrumentRecord,
    LevelRecord,
    MarkRecord,
    MoveRecord,
    PhotoRecord,
    PrintedRecord,
    ProofRecord,
    RevisionRecord,
    SessionRecord,
    ShotRecord,
    TakenRecord,
    WitnessRecord,
)
from cross_staff.core.printing.sheet import PrintedStrip, PrintedTape, SheetStyle
from cross_staff.core.prove.handover import CardContent, Section
from cross_staff.core.prove.station import LAID
from cross_staff.core.rig.card import LevelSetup, RigCard, Vial
from cross_staff.core.rig.chronograph import ChronographSession
from cross_staff.core.rig.instrument import Instrument
from cross_staff.core.tape.scale import TapeLayout, Tick
from tests.rigs import NOON
from tests.shop import rig_card

UID = "0123456789abcdef" * 2


def jpeg(grey: int) -> bytes:
    """A picture of its own for each grey."""
    out = io.BytesIO()
    Image.new("RGB", (8, 6), (grey, grey, 90)).save(out, "JPEG")
    return out.getvalue()


PICTURES = {hashlib.sha256(jpeg(grey)).hexdigest(): jpeg(grey) for grey in (20, 120, 220)}
SUMS = tuple(PICTURES)


def minutes(count: int) -> datetime:
    return NOON + timedelta(minutes=count)


def printed_tape(name: str = "fitted") -> PrintedTape:
    layout = TapeLayout((Tick(17, 0.0, 5, "17"), Tick(26, 4.5, 5, "26")), 1.0)
    return PrintedTape((PrintedStrip(name, (layout,)),), SheetStyle(), ("a tape",), ("a tape", "for the tests"))


def whole_rig(uid: str = UID, name: str = "Test bow") -> CarriedRig:
    """A small rig with a record in every log, and everything that points at something."""
    setup = LevelSetup(Vial(math.radians(0.5)), from_shop=(("reference", 1),))
    card = rig_card(name=name, level=setup)
    return CarriedRig(
        uid,
        NOON,
        {"distance": "m"},
        revisions=(
            RevisionRecord(1, NOON, "new on the bench", RigCard(name)),
            RevisionRecord(2, minutes(5), "measured", card, happened=("knock",)),
            RevisionRecord(3, minutes(90), "it was not", card, undoes=(2,), taken_up=(("windage", 2),)),
        ),
        photos=(PhotoRecord(minutes(6), 8, 6, SUMS[0]), PhotoRecord(minutes(7), 8, 6, SUMS[1])),
        bench_entries=(
            BenchRecord("mount", "play", 2, minutes(8), choice="done"),
            BenchRecord("sight_in", "import", 2, minutes(21), 2.0, points=((1.0, 3.0),)),
            BenchRecord("prove", LAID, 2, minutes(40), choice="strip 7.0"),
            BenchRecord("mount", "play", 2, minutes(41), removed=True),
        ),
        witness_marks=(WitnessRecord(1, 2, minutes(9), "rest", "a line", 2),),
        level_readings=(
            LevelRecord(2, minutes(10), "second", "to_rail", 0.0, 0.5, 0.0, photo=1),
            LevelRecord(2, minutes(11), "second", "to_rail", 0.0, 0.5, 0.0, undoes=1),
        ),
        range_sessions=(SessionRecord(1, 2, minutes(15), "Hollin Quarry", build="slim", key="s1"),),
        range_ends=(
            EndRecord("e1", 1, 1, 2, minutes(16), 17.0, dial_mm=20.0),
            EndRecord("e2", 3, 1, 2, minutes(30), 26.0, line_arrows=4, line_up_m=0.01),
        ),
        range_shots=(
            ShotRecord("e1", "a", minutes(16), 0.01, 0.02),
            ShotRecord("e1", "b", minutes(20), -0.01, 0.0),
            ShotRecord("e1", "c", minutes(20), 0.0, 0.03, called_bad=True),
        ),
        range_moves=(MoveRecord("m1", 2, 2, minutes(25), "Housing", "elevation", 0.4, "mm"),),
        observations=(
            MarkRecord(1, 2, minutes(31), 17.0, 20.0, 0.0, 6, key="0" * 16),
            MarkRecord(1, 2, minutes(32), 17.0, 20.2, 0.0, 6, key="0" * 16),
            MarkRecord(2, 2, minutes(33), 61.0, 41.5, -0.03, 6, left_out=True, reason="a gust came"),
        ),
        printed_tapes=(PrintedRecord(7, 2, minutes(39), printed_tape()),),
        proof_lines=(ProofRecord("p1", 2, minutes(60), NOON.date(), 47.0, 47.0, 4, -0.02, tape="strip 7.0", laying=3),),
        taken_readings=(
            TakenRecord("card", "", "readings", "81.2", "Gate", "speed", 81.2, 0.1, 4, minutes(3)),
            TakenRecord("sight_in", "e1", "distance", "17", "Finder", "distance", 17.04, 0.1, 9, minutes(16)),
        ),
        handover_cards=(HandoverRecord(1, 2, minutes(80), "Ida Fell", "first", _content("x")),),
        instruments=(carried_instrument("f" * 32),),
    )


def carried_instrument(uid: str, name: str = "Silver clip", numbers: int = 1) -> CarriedInstrument:
    return CarriedInstrument(
        uid,
        tuple(
            InstrumentRecord(n, minutes(n), Instrument(name, "reference", Vial(0.008, 3.0, 0.1 * n)))
            for n in range(1, numbers + 1)
        ),
    )


_words = st.text(st.characters(min_codepoint=32, max_codepoint=0x2FFF, exclude_categories=("Cs", "Cc")), max_size=40)
_moments = st.datetimes(datetime(2001, 1, 1), datetime(2200, 1, 1), timezones=st.just(UTC))
_days = st.dates(date(2000, 1, 1), date(2001, 1, 1))


def _floats(low: float, high: float) -> st.SearchStrategy[float]:
    return st.floats(low, high, allow_nan=False).map(lambda value: value + 0.0)  # SQLite keeps -0.0 as 0.0


def _content(words: str) -> CardContent:
    return CardContent((Section("rig", "Rig", (("name", words),)),), ((words, SUMS[0]),), words)


@st.composite
def rigs(draw: st.DrawFn) -> CarriedRig:
    """Rigs of any history that this program could have written, over all that a record may hold."""
    name = draw(_words.filter(str.strip)).strip() or "x"
    card = draw(
        st.builds(
            lambda words, anchor, eye: replace(
                rig_card(name=name), archer=words, anchor=anchor, eye_to_sight_m=eye, level=LevelSetup()
            ),
            _words,
            _words,
            st.none() | _floats(0.3, 1.5),
        )
    )
    readings = tuple(80.0 + 0.01 * n for n in range(40))
    session = ChronographSession(readings, draw(st.frozensets(st.integers(0, 39), max_size=39)))
    card = card.with_build(replace(card.build, sessions=(session,)))
    tools = draw(st.lists(st.uuids().map(lambda each: each.hex), unique=True, max_size=2))
    places = [("reference", 1), ("string", 2)][: len(tools)]
    named = replace(card, level=replace(card.level, from_shop=tuple(places)))
    revisions = [
        RevisionRecord(1, draw(_moments), draw(_words), RigCard(name)),
        RevisionRecord(2, draw(_moments), draw(_words), named, draw(st.sampled_from([(), ("knock",)]))),
    ]
    count = st.integers(0, 3)
    at = st.integers(1, 2)
    photos = tuple(PhotoRecord(draw(_moments), 8, 6, each) for each in SUMS[: draw(count)])
    some_photo = st.none() | (st.integers(1, len(photos)) if photos else st.none())
    ends = tuple(f"end {n}" for n in range(draw(count)))
    shots = tuple(
        ShotRecord(end, f"{end} {n}", draw(_moments), draw(_floats(-2.0, 2.0)), draw(_floats(-2.0, 2.0)),
                   draw(st.booleans()), draw(st.booleans()))
        for end in ends for n in range(draw(count))
    )  # fmt: skip
    imports = [BenchRecord("sight_in", "import", 1, draw(_moments), points=((0.0, float(len(shots))),))]
    steps = [
        BenchRecord("mount", "play", 2, draw(_moments), choice="done", note=draw(_words)) for _ in range(draw(count))
    ]
    bench = (*imports[: draw(st.integers(0, 1))], *steps)
    readings = []
    for place in range(draw(count)):
        undoes = draw(st.none() | (st.integers(1, place) if place else st.none()))
        readings.append(
            LevelRecord(draw(at), draw(_moments), "second", "to_rail", draw(_floats(-0.05, 0.05)), draw(_floats(-4, 4)),
                        0.0, photo=draw(some_photo), undoes=undoes, who=draw(_words))
        )  # fmt: skip
    return CarriedRig(
        draw(st.uuids()).hex,
        draw(_moments),
        {"distance": draw(st.sampled_from(["m", "yd"]))},
        draw(st.booleans()),
        draw(st.just("") | st.uuids().map(lambda each: each.hex)),
        tuple(revisions),
        photos,
        bench,
        tuple(
            WitnessRecord(n, draw(at), draw(_moments), "rest", "here " + draw(_words), draw(some_photo))
            for n in range(1, 1 + draw(count))
        ),
        tuple(readings),
        (SessionRecord(1, draw(at), draw(_moments), draw(_words), crosswind_mps=draw(st.none() | _floats(-20, 20))),),
        tuple(
            EndRecord(key, n, 1, draw(at), draw(_moments), draw(st.none() | _floats(0.5, 400.0)), note=draw(_words))
            for n, key in enumerate(ends, start=1)
        ),
        shots,
        tuple(
            MoveRecord(f"m{n}", 9 + n, draw(at), draw(_moments), draw(_words), "elevation", draw(_floats(0.1, 9)), "mm")
            for n in range(draw(count))
        ),
        tuple(
            MarkRecord(n, draw(at), draw(_moments), draw(_floats(5.0, 90.0)), draw(_floats(-50, 90)),
                       draw(st.none() | _floats(-1, 1)), reads=draw(_words))
            for n in range(1, 1 + draw(count))
        ),
        tuple(
            PrintedRecord(40 + n, draw(at), draw(_moments), printed_tape("s" + draw(_words)))
            for n in range(draw(count))
        ),
        tuple(
            ProofRecord(f"p{n}", draw(at), draw(_moments), draw(_days), draw(_floats(5.0, 90.0)), None, 4,
                        draw(_floats(-1, 1)), laying=draw(st.integers(0, len(bench))), note=draw(_words))
            for n in range(draw(count))
        ),
        tuple(
            TakenRecord("card", draw(_words), "readings", "81", "Gate", "speed", draw(_floats(-90, 90)), 0.1, n,
                        draw(_moments))
            for n in range(draw(count))
        ),
        tuple(
            HandoverRecord(n, draw(at), draw(_moments), "Ida " + draw(_words), draw(_words), _content(draw(_words)))
            for n in range(1, 1 + draw(count))
        ),
        tuple(carried_instrument(uid, "level " + uid[:4], draw(at)) for uid in tools),
    )  # fmt: skip
