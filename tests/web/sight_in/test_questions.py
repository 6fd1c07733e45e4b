"""What the page asks about ends that do not belong to what is believed, and its answers, a tap each."""

import html
import re
from datetime import datetime, timedelta

from cross_staff.core.ballistics.sightline import pin_height
from cross_staff.core.sight_in.log import Move
from cross_staff.services.sight_in.ends import EndDraft, save_end
from cross_staff.services.sight_in.moves import own_move
from tests.ends import PINS_M, hits, shots
from tests.rigs import NOON, RIG_A
from tests.web.sight_in.posted import Posted

GAP_MM = 1000.0 * (pin_height(RIG_A, 26.0) - pin_height(RIG_A, 38.0))


class EarlierEnd(Posted):
    """The third pin's first end was shot with the second one; after the order that followed the next end differs."""

    def setUp(self) -> None:
        super().setUp()
        self.minute = 0
        for pin in (0, 0, 0, 1, 1, 1):
            self.shoot(pin, 0.0)
        self.shoot(2, hits(0.0, 26.0, 38.0))
        own_move(self.database, self.rig_id, Move("m", 0, self.now(), "Pin screw", "", -GAP_MM, "mm", 2), self.now())
        self.shoot(2, hits(-GAP_MM, 38.0, 38.0))

    def now(self) -> datetime:
        self.minute += 1
        return NOON + timedelta(minutes=self.minute)

    def shoot(self, pin: int, up_m: float) -> None:
        far = PINS_M[pin]
        draft = EndDraft(f"e{self.minute}", far, pin, None, shots(0.0, up_m, 0.8e-3 * far))
        save_end(self.database, self.rig_id, draft, self.now())

    def asked(self) -> dict[str, str]:
        """The answers by their words, each with what its button sends."""
        page = self.client.get(self.here).text
        (form,) = re.findall(r'<div class="said wrong asked-first".*?</form>', page, re.S)
        buttons = re.findall(r'name="answer" value="([^"]*)"><span>(.*?)</span>', form)
        return {html.unescape(words): html.unescape(value) for value, words in buttons}

    def test_the_end_before_it_is_an_answer_and_nothing_is_asked_after_it(self) -> None:
        question = self.rig().range.question
        assert question
        words = next(words for words in self.asked() if "was shot with" in words)
        self.assertRegex(words, r"^The end before \(6 arrows at 38.m\) was shot with pin 2 \(26.m\)$")
        self.assertTrue(any("is the odd one: leave that out" in each for each in self.asked()))
        typed = {"ends": " ".join(question.keys), "answer": self.asked()[words]}
        self.assertEqual(self.post("/answer", **typed)[0], 303)
        self.assertEqual([end.pin for end in self.rig().range_log.ends], [0, 0, 0, 1, 1, 1, 1, 2])
        self.assertIsNone(self.rig().range.question)

    def test_what_is_no_end_is_said_and_changes_nothing(self) -> None:
        before = self.rig().range_log.ends
        for ends, status in (("7", 422), ('["none"]', 404), ("[3]", 422)):
            answer = self.post("/answer", ends="e8", answer=f'{{"kind":"bad","ends":{ends}}}')
            self.assertEqual(answer[0], status, ends)
        self.assertEqual(self.rig().range_log.ends, before)
