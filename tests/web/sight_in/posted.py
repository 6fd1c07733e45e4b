"""The range's pages posted to: a rig of fixed pins, its ends, and what its forms answer."""

from __future__ import annotations

from dataclasses import replace

from cross_staff.core.rig.card import RigCard
from cross_staff.core.sight_in.acts import DONE
from cross_staff.services.rig import Rig, open_rig
from cross_staff.services.sight_in import record as sight_in
from cross_staff.services.sight_in.ends import EndDraft, save_end
from tests.ends import exact_card, hits, shots
from tests.rigs import NOON
from tests.web.client import WithClient


class Posted(WithClient):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig(exact_card())
        self.here = f"/rigs/{self.rig_id}/sight_in"

    def rig(self) -> Rig:
        return open_rig(self.database, self.rig_id)

    def post(self, where: str, **typed: str) -> tuple[int, str]:
        answer = self.client.post(f"{self.here}{where}", data=typed)
        return answer.status_code, answer.text

    def end(self, **typed: str) -> tuple[int, str]:
        usual = {"key": "k1", "distance": "17", "pin": "0", "shots": "1 2\n-3 4\n5 -6"}
        return self.post("/end", **(usual | typed))

    def wild_sight(self, card: RigCard | None = None) -> None:
        sight_in.say_step(self.database, self.rig_id, "face", DONE, "", NOON)
        up = hits(9.0, 17.0, 5.0)
        many = tuple(replace(s, key=f"a{n}") for n, s in enumerate(shots(0.03, up, 0.004)))
        save_end(self.database, self.rig_id, EndDraft("a", 5.0, shots=many), NOON)
