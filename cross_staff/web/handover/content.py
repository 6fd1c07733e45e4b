"""What stands on a hand-over card, in words: how the rig is left, and what is open."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from cross_staff.core.level.log import AXES
from cross_staff.core.level.methods import BY_KEY
from cross_staff.core.prove.handover import CardContent, Section
from cross_staff.core.prove.locking import Locked, LockState
from cross_staff.core.rig.events import CAUSES
from cross_staff.core.rig.sight import tool_list
from cross_staff.core.stations import DONE
from cross_staff.services.level.page import level_page
from cross_staff.services.prove import handover as service
from cross_staff.services.rig import Rig, proof_ahead
from cross_staff.web.forms.units import Units
from cross_staff.web.level import tables as level_tables
from cross_staff.web.level import words as level_words
from cross_staff.web.level.record import verdict as level_verdict
from cross_staff.web.prove.words import LOCK_DONE
from cross_staff.web.shared.room import standing_word
from cross_staff.web.shared.set_aside import reproof_words
from cross_staff.web.shared.words import good_to, on_target, whole_distance
from cross_staff.web.tape.hold_tables import holds
from cross_staff.web.tape.pin_tables import gaps
from cross_staff.web.tape.tables import TapeView, tape_view

Lines = list[tuple[str, str]]
MOST_HOLDS = 4
KIT = (
    "peep",
    "nock set",
    "D-loop",
    "rest",
    "pointer",
    "mount on the riser",
)  # positions that are looked for first in the field
# what is said on paper of what makes the card old
MAKES_OLD = ("arrow", "peep", "release", "strings", "draw", "dovetail", "knock")


def content(database: service.Database, rig: Rig, today: date, address: str) -> CardContent:
    """Everything that a card signed now would say. Args: address, of the rig on the shop's own network; may be
    empty."""
    units = Units.of(rig.units)
    t = tape_view(rig, units)
    parts: tuple[tuple[str, str, Callable[[], Lines]], ...] = (
        ("rig", "The rig", lambda: _rig(rig, units)),
        ("arrows", "Arrows", lambda: _arrows(rig, units)),
        ("axes", "Axes as left", lambda: _axes(database, rig, units, today)),
        ("tape", "Home and tape", lambda: _tape(rig, units)),
        ("pins", "Pins and holds", lambda: _pins(t) if t is not None else []),
        ("locked", "Locked", lambda: _locked(rig)),
        ("kit", "Field kit", lambda: _kit(rig, units)),
        ("first", "Check this first", lambda: _first(rig, units)),
        ("old", "This card is old after", lambda: [(CAUSES[key].words, _old(key)) for key in MAKES_OLD]),
        ("back", "Come back", _back),
        ("open", "Still open", lambda: _open(rig, units)),
    )
    sections = tuple(Section(key, title, tuple(lines)) for key, title, make in parts if (lines := make()))
    sums = service.sums(database, rig.rig_id)
    photos = tuple((mark.joint, sums[mark.photo_id]) for mark in rig.witness if mark.photo_id in sums)
    return CardContent(sections, photos, address)


def _told(*lines: tuple[str, str | None]) -> Lines:
    return [(name, said) for name, said in lines if said]


def _rig(rig: Rig, units: Units) -> Lines:
    card = rig.card
    draw = None if card.bow.draw_weight_n is None else units.show("force", card.bow.draw_weight_n, 1)
    return _told(
        ("Archer", card.archer),
        ("Bow", ", ".join(filter(None, (card.bow.words, draw, f"{card.handed}-handed")))),
        ("Sight", card.sight.name),
        ("Release, anchor", ", ".join(filter(None, (card.release, card.anchor)))),
        ("Card", f"revision {rig.revision.number}"),
    )


def _arrows(rig: Rig, units: Units) -> Lines:
    lines = []
    for place, build in enumerate(rig.card.builds):
        mass, speed = build.mass_kg(), rig.card.speed() if place == rig.card.in_use else None
        said = filter(
            None,
            (
                units.show("mass", mass, 1) if mass is not None else "mass not known",
                units.show("speed", speed.speed_mps, 1) + " at the sight" if speed else "",
                "on the bow now" if place == rig.card.in_use else "not on the bow",
            ),
        )
        lines.append((build.name or f"arrow {place + 1}", ", ".join(said)))
    return lines


def _axes(database: service.Database, rig: Rig, units: Units, today: date) -> Lines:
    page = level_page(database, rig, today)
    lines: Lines = [("Verdict", level_verdict(rig.level))]
    for axis in AXES:
        state = rig.level.axes[axis]
        row = level_tables.row(state, page)
        looks = [r for r in rig.level.readings if r.axis == axis and not r.turn]
        how = BY_KEY[looks[-1].method].name if looks else ""
        said = f"{row['value']} {row['sd']}".strip() if state.now else row["sd"]
        lines.append((level_words.NAMES[axis].capitalize(), ", ".join(filter(None, (said, row["standing"], how)))))
    return lines


def _tape(rig: Rig, units: Units) -> Lines:
    card, current = rig.card, rig.prove.current
    verdict = rig.prove.verdict
    home = card.goals.home_m
    return _told(
        ("Home", whole_distance(units, home) if home else "not known"),
        ("Tape on the sight", current.tape.strip.name if current is not None else "nobody said"),
        ("Tape good", _good(rig, units)),
        ("Proven", _proven(rig, units) if verdict is not None else "not proven"),
        ("Pointers", _pointers(rig, units)),
    )


def _good(rig: Rig, units: Units) -> str:
    """How far the tape is good, where nothing speaks against it."""
    if not rig.evaluation.own:
        return "nothing shot"
    if rig.evaluation.doubtful or rig.range.question is not None:
        return "not told: something does not fit, and is open"
    return good_to(rig.card.trusted_m(rig.evaluation.good_to_m), units)


def _proven(rig: Rig, units: Units) -> str:
    current, verdict = rig.prove.current, rig.prove.verdict
    if current is None or verdict is None or not current.lines:
        return "no line was shot by it"
    days = len({line.day for line in current.lines})
    true = next(each for each in rig.standings if each.station.key == "prove")
    said = "true" if true.state == DONE else standing_word(true, units)
    shot = f"{len(current.lines)} line{'s' if len(current.lines) > 1 else ''} on {days} day{'s' if days > 1 else ''}"
    return f"{said}, {shot}, the last {max(line.day for line in current.lines).isoformat()}"


def _pointers(rig: Rig, units: Units) -> str:
    return ", ".join(
        f"pin {each.pin + 1} at {whole_distance(units, rig.card.ranged_distance(each.line_m))}"
        for each in rig.pointers
        if each.line_m is not None
    )


def _pins(t: TapeView) -> Lines:
    """The pins by distance, and the holds that are asked for most."""
    lines: Lines = [(row[0], f"for {row[1]} {t.unit}") for row in gaps(t).rows] if len(t.heights) > 1 else []
    if not t.drummed:
        table, offset = holds(t), t.units.label("offset")
        for row in table.rows[:MOST_HOLDS]:
            held = "; ".join(f"{name} {hold}" for name, hold in zip(table.heads[1:], row[1:]) if hold != "–")
            lines.append(
                (f"Hold at {row[0]} {t.unit}", f"{held} ({offset}, in brackets targets)" if held else "dial it")
            )
    return lines


def _locked(rig: Rig) -> Lines:
    state = _state(rig)
    return [
        (line.joint.name, f"{LOCK_DONE[line.entry.choice]}, {line.entry.note}, {line.entry.entered.date().isoformat()}")  # type: ignore[index]
        for line in state.lines
        if line.entry is not None and line.state in (Locked.DONE, Locked.MOVABLE, Locked.READ_AGAIN)
    ]


def _kit(rig: Rig, units: Units) -> Lines:
    state, peep = _state(rig), rig.card.peep.height()
    keys = [(f"Key {tool.size}", ", ".join(tool.used_for)) for tool in tool_list(rig.card.sight)]
    spare = [("Spare strip", "in the kit" if state.spare else "none")] if state.wants_spare else []
    marks = {mark.joint: mark for mark in rig.witness}
    places = [
        (
            f"{joint[0].upper()}{joint[1:]}, mark",
            f"{marks[joint].place or 'see the photo'}{', photo' if marks[joint].photo_id else ''}",
        )
        for joint in dict.fromkeys((*KIT, *marks))
        if joint in marks
    ]
    told = [("Which joint moved", "where the two halves of a mark do not meet; then two groups, near and far")]
    high = (
        [("Peep", f"{units.show('length', peep.height_m)} above the arrow, square to it")] if peep is not None else []
    )
    return [*keys, *spare, *high, *places, *told]


def _first(rig: Rig, units: Units) -> Lines:
    """What whoever takes it shoots before he trusts it: the arrows that would prove it again after a knock."""
    proof = proof_ahead(rig, (CAUSES["knock"],))
    shot = reproof_words(proof, units) if proof is not None and proof.ends else ""
    return _told(
        ("Look", "witness marks meet, nothing wiggles, the pointer stands at home"),
        ("Shoot", shot or "a few arrows at home, then at the farthest you trust"),
    )


def _old(key: str) -> str:
    """Which results go, in few words."""
    results = CAUSES[key].makes_stale
    return (
        "level and everything at the range" if "level" in results else "tape and pins" if "tape" in results else "home"
    )


def _back() -> Lines:
    return [
        ("At once", "after a knock, a loose joint, a frayed string, or a group that left its place"),
        ("Before the season", "and after new strings, once the peep has stopped turning"),
    ]


def _open(rig: Rig, units: Units) -> Lines:
    """What is not done, and what was only confirmed: said as it is."""
    state, stopping, override = _state(rig), rig.checklist.stopping, rig.checklist.override
    lines = _told(
        ("Do not draw it", f"{stopping.check.name}: {stopping.remedy}" if stopping is not None else ""),
        ("Not tuned", f"passed over: {override.note}" if override is not None and not rig.checklist.good else ""),
    )
    lines += [
        (each.station.name, standing_word(each, units))
        for each in rig.standings
        if each.state != DONE and each.station.key != "prove"
    ]
    if next(each for each in rig.standings if each.station.key == "prove").state != DONE:
        lines.append(("Prove", _proven(rig, units)))
    if rig.level.label:
        lines.append(("Third axis", f"{level_words.LABELS[rig.level.label]}: full draw or arrows have not decided"))
    skipped = [each.step.say for each in rig.steps if each.state == "skipped"]
    open_joints = [line.joint.name for line in state.lines if line.open]
    lines += _told(
        ("Not locked", ", ".join(open_joints)),
        ("No witness mark", ", ".join(joint.mark for joint in state.unmarked)),
        ("Only confirmed", " ".join(skipped)),
        ("Estimated", ", ".join(each.replace("_", " ") for each in rig.card.estimated)),
    )
    worst, target = rig.prove.verdict, rig.card.goals.target_size_m
    if worst is not None and target and rig.prove.current is not None and rig.prove.current.too_far_m:
        far = ", ".join(whole_distance(units, d) for d in rig.prove.current.too_far_m)
        lines.append(("Too far for this tape", f"{far}, for a target of {on_target(units, target)}"))
    return lines or [("Nothing", "everything that the card asks for is done")]


def _state(rig: Rig) -> LockState:
    assert rig.state.locking is not None
    return rig.state.locking
