"""What was shot on the demo ledge: a rig whose sight is being shot in, with a wild shot in the last end."""

from __future__ import annotations

from datetime import datetime, timedelta

from cross_staff.core.estimation.groups import Shot
from cross_staff.core.rig.procedure import CONFIRM, PLACE, SHOOT
from cross_staff.core.sight_in.acts import DONE, MOVE, Act
from cross_staff.core.sight_in.log import RangeSession
from cross_staff.core.sight_in.orders import order_of
from cross_staff.core.sight_in.verdict import END_SHOTS
from cross_staff.core.simulate.hidden_sight import HiddenSight
from cross_staff.services.rig import open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.sight_in.moves import made_moves
from cross_staff.storage.database import Database


def shot_in(database: Database, rig_id: int, when: datetime, sight: HiddenSight, ends: int, wild: bool) -> None:
    """Do what the station says until some ends were shot; the last one with an arrow far out, not called."""
    session = RangeSession(0, 0, when, "lower ledge", "overcast", sight.card.archer, "", 0.8, 9.0, key="demo")
    session = RangeSession(**(vars(session) | {"build": sight.card.build.name}))
    sight_in.save_session(database, rig_id, session, when)
    shot = 0
    for minute in range(0, 400, 4):
        now = when + timedelta(minutes=minute)
        act = open_rig(database, rig_id).range.act
        if shot == ends or act.kind not in (SHOOT, MOVE, PLACE, CONFIRM):
            break
        if act.kind == SHOOT:
            shot += 1
            _end(database, rig_id, act, sight, now, wild and shot == ends)
            continue
        _other(database, rig_id, act, sight, now)


def _end(database: Database, rig_id: int, act: Act, sight: HiddenSight, now: datetime, wild: bool) -> None:
    assert act.aim is not None
    dial = None if act.dial_mm is None else round(act.dial_mm, 1)
    if dial is None and sight.card.sight_kind.has_dial:
        dial = 0.0
    from_sight = sight.card.distance_from_sight(act.aim.ranged_m)
    shots = sight.shoot(act.aim.pin, from_sight, END_SHOTS if wild else act.arrows, dial)
    key = f"demo-{now:%H%M}"
    kept = [Shot(round(s.right_m, 3), round(s.up_m, 3), s.called_bad, f"{key}-{n}") for n, s in enumerate(shots)]
    if wild:
        kept[-1] = Shot(kept[-1].right_m + 0.34, kept[-1].up_m - 0.21, False, kept[-1].key)
    draft = EndDraft(key, act.aim.ranged_m, act.aim.pin, dial, tuple(kept))
    save_end(database, rig_id, draft, now)


def _other(database: Database, rig_id: int, act: Act, sight: HiddenSight, now: datetime) -> None:
    if act.kind == CONFIRM:
        assert act.step is not None
        mark = 0.0 if act.step.reads else None  # its scale begins at the stop
        sight_in.say_step(database, rig_id, act.step.key, DONE, sight.card.archer, now, mark)
        return
    if act.kind == PLACE:
        assert act.aim is not None and act.place_mm is not None
        sight.place(act.aim.pin, act.place_mm)
    for advice in act.moves:
        sight.move(advice)
    made_moves(database, rig_id, sight_in.act_key_of(open_rig(database, rig_id)), order_of(act), now)
