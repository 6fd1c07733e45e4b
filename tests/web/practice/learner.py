"""Somebody on the practice bench who does what the station says, through the pages."""

from __future__ import annotations

import math
import re
from datetime import UTC, datetime
from urllib.parse import parse_qsl, urlsplit

from cross_staff.core.level import screws
from cross_staff.core.practice import log as acts
from cross_staff.core.practice.exercise import Exercise
from cross_staff.core.prepare.tuning import STEPS
from cross_staff.core.rig.procedure import CONFIRM, PLACE, SHOOT
from cross_staff.core.sight_in.acts import DONE, MOVE
from cross_staff.core.sight_in.orders import identity, order_of
from cross_staff.core.simulate.practice_bow import PracticeBow
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import record
from cross_staff.services.sight_in.moves import made_moves
from cross_staff.storage.database import Database
from tests.web.client import Client, fields

MOST_ACTS = 80
_BAND = ("kind", "at")


class Learner:
    """A practice rig, and who works on it."""

    def __init__(self, client: Client, database: Database, rig_id: int) -> None:
        self.client, self.database, self.rig_id = client, database, rig_id
        self.path = f"/rigs/{rig_id}"

    @property
    def rig(self) -> Rig:
        return open_rig(self.database, self.rig_id)

    def does(self, at: str, kind: str, **how: str) -> str:
        """Something done to the bow, from a station's page; the page that it leads to."""
        answer = self.client.post(f"{self.path}/practice", data={"at": at, "kind": kind} | how)
        assert answer.status_code == 303, re.findall(
            r'class="error"[^>]*>([^<]*)|class="said wrong"[^>]*>([^<]*)', answer.text
        )
        return str(answer.headers["location"])

    def writes(self, page: str, to: str, **more: str) -> None:
        """What stands in a page's form, written down."""
        every = fields(self.client.get(page).text)
        form = {name: text for name, text in every.items() if not name.startswith("p_") and name not in _BAND}
        form |= {name: text for name, text in parse_qsl(urlsplit(page).query) if name == "shots"}
        answer = self.client.post(f"{self.path}/{to}", data=form | more)
        assert answer.status_code == 303, re.findall(
            r'class="error"[^>]*>([^<]*)|class="said wrong"[^>]*>([^<]*)', answer.text
        )

    def levels(self, *axes: str) -> None:
        """Until these axes are good enough, as the station says, or it has nothing more to say."""
        for _ in range(MOST_ACTS):
            state = self.rig.level
            if all(state.axes[axis].settled for axis in axes) or state.step == "done":
                return
            if state.step in ("reference", "string", "rail"):
                self._proves(state.step)
            elif state.step in ("plumb", "match"):
                self._matches()
            else:
                self._works_on(state.current or axes[0])

    def _works_on(self, axis: str) -> None:
        known = self.rig.level.axes[axis]
        if known.action.because == "second_first":
            return self._works_on("second")
        if known.action.kind == screws.ASK:
            return self._proves(known.action.because) if known.action.because != "match" else self._matches()
        if known.action.kind == screws.TURN:
            counted = bool(known.action.turns)
            how, lines = known.until or ("stands", 0.0)
            watched = {"p_watching": "yes", "p_until": how, "p_lines": f"{lines:.1f}"}
            turned = {"p_turns": f"{abs(known.action.turns):.3f}"} if counted else watched
            way = "clockwise" if known.action.turns > 0 else "anticlockwise"
            self.does("level", "let_down")
            self.does("level", "turn", p_axis=axis, p_turn_way=way, **turned)
        pitch = f"{57.29578 * known.pitch_rad * (-1 if known.action.because == 'other_tilt' else 1):.0f}"
        look = {"p_way": f"{axis}:{known.method}", "p_pitch": pitch, "p_seat": self.rig.level.seat, "p_held": "yes"}
        self.writes(self.does("level", "look", **look), "level/read", axis=axis)
        return None

    def _proves(self, which: str) -> None:
        self.does("level", "reverse", p_level=which)
        saw = self.client.get(f"{self.path}/level").text  # two bubbles, read off the band's words
        first, turned = _bubbles(saw)
        answer = self.client.post(f"{self.path}/level/reverse/{which}", data={"first_way": first, "turned_way": turned,
                                                                            "sure": "yes"})  # fmt: skip
        assert answer.status_code == 303, re.findall(
            r'class="error"[^>]*>([^<]*)|class="said wrong"[^>]*>([^<]*)', answer.text
        )

    def _matches(self) -> None:
        at = self.does("level", "match", p_match_seat=self.rig.level.seat)
        known = ("side", "fore", "beside", "seat", "sent")
        form = {name: text for name, text in fields(self.client.get(at).text).items() if name in known}
        to = "plumb" if self.rig.level.step == "plumb" else "match"
        answer = self.client.post(f"{self.path}/level/{to}", data=form)
        assert answer.status_code == 303, re.findall(
            r'class="error"[^>]*>([^<]*)|class="said wrong"[^>]*>([^<]*)', answer.text
        )

    def sights_in(self, most: int = MOST_ACTS) -> None:
        """Until the near pin is in, as the station says."""
        for _ in range(most):
            rig = self.rig
            act = rig.range.act
            home = next((each for each in rig.range.aims if each.aim.pin == 0 and not each.aim.dialled
                         and each.aim.ranged_m > 10.0), None)  # fmt: skip
            if home is not None and home.verdict.there:
                return
            if act.kind == SHOOT and act.aim is not None:
                dial = "" if act.dial_mm is None else f"{act.dial_mm:.1f}"
                at = self.does("sight_in", "shoot", p_distance=f"{act.aim.ranged_m}", p_pin=str(act.aim.pin),
                               p_arrows=str(act.arrows), p_dial=dial)  # fmt: skip
                self.writes(at, "sight_in/end", placed="")
            elif act.kind in (MOVE, PLACE):
                for advice in act.moves:
                    up = advice.amount > 0
                    way = ("right" if up else "left") if "windage" in advice.drive.moves else "up" if up else "down"
                    self.does("sight_in", "move", p_control=advice.drive.name, p_amount=f"{abs(advice.amount):.3f}",
                              p_move_way=way, p_move_pin=str(advice.pin or 0))  # fmt: skip
                self._done()
            elif act.kind == CONFIRM and act.step is not None:
                self._confirms()
            else:
                return

    def _done(self) -> None:

        rig = self.rig
        order = order_of(rig.range.act)
        made_moves(self.database, self.rig_id, identity(order, rig.range_log), order, datetime.now(UTC), [])

    def _confirms(self) -> None:
        act = self.rig.range.act
        assert act.step is not None
        mark = None
        if act.step.key == "stop_up":
            self.does("sight_in", "stop")
            mark = float(self.rig.log_of("practice")[-1].note.split(":")[1].strip(" }"))
        record.say_step(self.database, self.rig_id, act.step.key, DONE, "", datetime.now(UTC), mark)


def _bubbles(page: str) -> tuple[str, str]:
    """Two bubbles as the band tells them, as they are typed."""
    said = page.split('class="practice-answer"')[1].split("</p>")[0]
    told = re.findall(r"(?:one way|end for end) (in the middle|([0-9.]+) lines? (left|right))", said)
    first, turned = (("-" if side == "left" else "") + number if number else "0" for _, number, side in told)
    return first, turned


def closes_the_tear(exercise: Exercise) -> tuple[int, int, float]:
    """Up and down first, then sideways by a trial: arrows, steps, and what is left of the tear [mm]."""
    bow, number, arrows, steps = PracticeBow(exercise), 0, 0, 0
    sideways, before = "rest_left", 0.0
    for _ in range(20):
        number, arrows = number + 1, arrows + 1
        saw = bow.do(acts.PAPER, {"arrows": 1}, number)
        right, up = float(str(saw["right_mm"])), float(str(saw["up_mm"]))
        if abs(up) > 5.0:
            step = "nock_down" if up > 0 else "nock_up"
        elif abs(right) > 5.0:
            if before and abs(right) > abs(before):
                sideways = STEPS[sideways].back
            step, before = sideways, right
        else:
            break
        number, steps = number + 1, steps + 1
        bow.do(acts.TUNE, {"step": step}, number)
    return arrows, steps, math.hypot(*bow.tear_mm)
