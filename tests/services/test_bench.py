from datetime import date

from cross_staff.services import bench
from tests.data import WithDatabase
from tests.rigs import full_card


class Bench(WithDatabase):
    def test_rigs_stand_by_due_date(self) -> None:
        for name, due in (("later", date(2027, 1, 5)), ("never", None), ("soon", date(2026, 12, 1))):
            self.add_rig(full_card(name=name, due=due))
        self.assertEqual([row.card.name for row in bench.rows(self.database)], ["soon", "later", "never"])
