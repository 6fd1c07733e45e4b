"""What staff, bench and application know of the pages of this station."""

from __future__ import annotations

from cross_staff.core.prove.triage import JOINTS
from cross_staff.web.prove import drift, files, knocked, lock, pairs, routes, slope, words
from cross_staff.web.shared.room import StationRoom
from cross_staff.web.shared.takes import DISTANCE, SLOPE

_FIELDS = (
    "arrows back butt by cold day dialled distance joint key kind laying name note right right_way seen side slope "
    "tape up up_way way wind"
)

ROOM = StationRoom(
    "prove",
    (routes.router, drift.router, pairs.router, slope.router, knocked.router, lock.router, files.router),
    words.next_step,
    words.STANDING,
    (*_FIELDS.split(), *(f"mark_{joint.key}" for joint in JOINTS)),
    lambda context: {"distance": DISTANCE, "slope": SLOPE},
)
