import io
import unittest

from PIL import Image

from cross_staff.core.errors import InvalidValue, NotFound, StaleRevision
from cross_staff.core.mount.planner import Place
from cross_staff.services import photos
from cross_staff.services.mount import record as mount
from cross_staff.services.rig import open_rig
from tests.core.mount.test_planner import card as mounted_card
from tests.data import WithDatabase
from tests.rigs import NOON


def png(width: int = 40, height: int = 30) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (10, 200, 30)).save(out, "PNG")
    return out.getvalue()


class Photos(unittest.TestCase):
    def test_a_small_picture_stays_as_large_as_it_is(self) -> None:
        checked = photos.checked(png())
        self.assertEqual((checked.width, checked.height, checked.jpeg[:2]), (40, 30, b"\xff\xd8"))

    def test_a_large_one_is_made_small(self) -> None:
        checked = photos.checked(png(4000, 1000))
        self.assertEqual((checked.width, checked.height), (1600, 400))

    def test_what_is_none_is_refused_by_name(self) -> None:
        for data in (b"", b"GIF89a", png()[:60], b"%PDF-1.7"):
            with self.assertRaisesRegex(InvalidValue, "^photo: is not a PNG, JPEG or WebP picture"):
                photos.checked(data)

    def test_size_is_looked_at_before_anything_is_unpacked(self) -> None:
        with self.assertRaisesRegex(InvalidValue, "larger than 12 MB"):
            photos.checked(b"\x00" * (photos.MOST_BYTES + 1))
        with self.assertRaisesRegex(InvalidValue, "10000 by 8000 points"):
            photos.checked(png(10000, 8000))


class Places(WithDatabase):
    def test_taking_a_place_is_a_revision_with_its_reason(self) -> None:
        rig_id = self.add_rig(mounted_card())
        rig = open_rig(self.database, rig_id)
        saved = mount.take_place(self.database, rig, 2, Place(0, 2, "top"), "farther out", NOON)
        self.assertEqual((saved.number, saved.stale), (3, ("clearance", "peep_fit", "level", "home", "tape")))
        self.assertAlmostEqual(open_rig(self.database, rig_id).card.eye_to_sight_m, 0.832)
        with self.assertRaises(StaleRevision):
            mount.take_place(self.database, rig, 2, Place(0, 0, "top"), "late", NOON)


class Marks(WithDatabase):
    def setUp(self) -> None:
        super().setUp()
        self.rig_id = self.add_rig()

    @property
    def witness(self):  # type: ignore[no-untyped-def]
        return open_rig(self.database, self.rig_id).witness

    def test_a_changed_mark_keeps_its_photo(self) -> None:
        mount.mark_joint(self.database, self.rig_id, "rest", "line", photos.checked(png()), NOON)
        mount.mark_joint(self.database, self.rig_id, "rest", "silver line", None, NOON, line=1)
        self.assertEqual([(m.place, m.photo_id) for m in self.witness], [("silver line", 1)])
        self.assertEqual(mount.photo(self.database, self.rig_id, 1).width, 40)
        with self.assertRaises(NotFound):
            mount.mark_joint(self.database, self.rig_id, "rest", "", None, NOON, line=7)

    def test_the_same_mark_again_is_not_written_again(self) -> None:
        for _ in range(2):
            mount.mark_joint(self.database, self.rig_id, "rest", "line", None, NOON, line=1 if self.witness else None)
        self.assertEqual(len(self.witness), 1)

    def test_taking_out_and_back(self) -> None:
        mount.mark_joint(self.database, self.rig_id, "rest", "line", None, NOON)
        mount.remove_mark(self.database, self.rig_id, 1, NOON)
        self.assertEqual(self.witness, ())
        mount.remove_mark(self.database, self.rig_id, 1, NOON, back=True)
        self.assertEqual(len(self.witness), 1)
        with self.assertRaises(NotFound):
            mount.remove_mark(self.database, self.rig_id, 3, NOON)
