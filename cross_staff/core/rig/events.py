"""What can happen to a rig, and which results each event makes old, with the reason: a table."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

# Results that an event can make old -> the station that makes them anew.
RESULTS = {
    "speed": "card",
    "tune": "prepare",
    "timing": "prepare",
    "peep_rotation": "prepare",
    "peep_height": "prepare",
    "clearance": "mount",
    "peep_fit": "mount",
    "draw_twist": "level",
    "level": "level",
    "later_axes": "level",
    "windage": "sight_in",
    "home": "sight_in",
    "groups": "sight_in",
    "pins": "tape",
    "tape": "tape",
    "proof": "prove",
}
EVERYTHING = tuple(RESULTS)
ALL_MARKS = ("home", "pins", "tape")
PROOF_HANGS_ON = (*ALL_MARKS, "proof")
SPANS = ("pins", "tape")  # where only home is old, the distances between the marks still hold

GROUPS = {
    "string": "String, cables and draw",
    "rest": "Rest and nocking point",
    "sight": "Sight",
    "bow": "Bow and arrow",
    "archer": "Archer",
}


@dataclass(frozen=True)
class Cause:
    """A row of the table: what was done to the rig, and of what; each result that it makes old, with the reason;
    the fields of the card by which it is noticed (without any, somebody has to say that it happened)."""

    key: str
    group: str
    words: str
    reasons: dict[str, str]
    paths: tuple[str, ...] = ()
    by_itself: bool = False

    @property
    def makes_stale(self) -> tuple[str, ...]:
        """Keys of RESULTS, in the order of the stations."""
        return tuple(result for result in RESULTS if result in self.reasons)

    @property
    def only_home(self) -> bool:
        """Whether of the marks only the zero can have moved, and the distances between them hold."""
        return "home" in self.reasons and keeps_spans((self,))

    @property
    def can_be_said(self) -> bool:
        """Whether somebody can say that it happened; the others are noticed by what was done at a station."""
        return not self.by_itself

    def __hash__(self) -> int:
        return hash(self.key)


_TUNED = {
    "tune": "the arrow leaves the bow otherwise",
    "home": "the arrow starts higher or lower",
    "windage": "the arrow starts further left or right",
}
_STEPPED = {
    "home": "the arrow leaves the bow otherwise, and starts higher or lower",
    "windage": "the arrow leaves the bow otherwise, and starts further left or right",
}
_POWER = {
    "tune": "the arrow bends otherwise as it leaves",
    "draw_twist": "cables and limbs load the riser otherwise",
    "speed": "the arrow leaves faster or slower",
    "tape": "the marks lie further apart or closer",
    "pins": "the gaps belong to another speed",
    "peep_height": "the peep comes to rest elsewhere at full draw",
}
_OTHER_EYE = {
    "home": "the eye sits higher or lower",
    "pins": "the pins stand to the eye otherwise",
    "tape": "the eye's line to the housing is another one",
    "peep_fit": "peep and housing ring each other otherwise",
}
_OTHER_HEAD = {
    "level": "each head has a level of its own",
    "home": "its pins stand elsewhere",
    "tape": "its pointer stands elsewhere",
    "pins": "its pins stand elsewhere",
    "peep_fit": "its ring may be another size",
    "clearance": "its lower edge may be elsewhere",
}
_LOOSENED = {"level": "the joint may not sit as it did", "home": "the sight may stand higher or lower"}

CAUSES = {
    cause.key: cause
    for cause in (
        Cause(
            "arrow",
            "bow",
            "arrow mass or point, vanes, nock or lighted nock changed",
            {"tape": "it leaves and slows otherwise, and drops otherwise", "pins": "the gaps belong to another arrow"},
            ("flies_as",),
        ),
        Cause("rest", "rest", "rest moved", _TUNED),
        Cause("nocking_point", "rest", "nocking point moved", _TUNED),
        Cause("d_loop", "rest", "D-loop retied or another one", _TUNED),
        Cause(
            "draw",
            "string",
            "draw weight or draw length changed",
            _POWER,
            ("bow.draw_weight_n", "bow.nock_to_rest_m", "bow.let_off", "peep.true_draw_m"),
        ),
        Cause("cables", "string", "string, cables or cable guard adjusted", _POWER),
        Cause(
            "timing",
            "string",
            "cam timing or draw stops set",
            _POWER | {"timing": "the cams come round otherwise"},
        ),
        Cause(
            "twist",
            "string",
            "string twisted to turn the peep",
            {
                "peep_height": "a twisted string is shorter",
                "timing": "a twisted string is shorter",
                "home": "the peep, and so the eye, sits higher or lower",
            },
        ),
        Cause(
            "peep",
            "string",
            "peep moved, or another one",
            _OTHER_EYE,
            ("peep.way", "peep.square_m", "peep.along_m", "peep.angle_rad", "peep.axle_to_axle_m"),
        ),
        Cause("release", "archer", "another release aid or anchor", _OTHER_EYE, ("anchor", "release")),
        Cause(
            "aperture",
            "string",
            "peep of another aperture",
            {"peep_fit": "peep and housing ring each other otherwise"},
            ("peep.aperture_m", "peep.eye_to_peep_m"),
        ),
        Cause(
            "stabiliser",
            "bow",
            "stabiliser or side bar on, off or moved",
            {"windage": "the bow hangs otherwise in the hand", "groups": "the bow is held otherwise"},
        ),
        Cause(
            "quiver",
            "bow",
            "quiver on or off",
            {"windage": "the bow hangs otherwise in the hand", "groups": "the bow is held otherwise"},
        ),
        Cause(
            "dovetail",
            "sight",
            "sight moved on its dovetail or extension",
            {
                "tape": "the whole tape grows or shrinks with eye to sight",
                "peep_fit": "the housing looks larger or smaller",
                "home": "the sight stands nearer or farther",
                "level": "the joint may not sit as it did",
                "clearance": "the housing comes nearer to something else",
            },
            ("eye_to_sight_m", "mount.detent"),
        ),
        Cause(
            "hole",
            "sight",
            "sight moved to another mounting hole",
            {
                "home": "the sight stands higher or lower",
                "level": "the mount may not sit as it did",
                "clearance": "the housing stands elsewhere",
            },
            ("mount.hole",),
        ),
        Cause("head", "sight", "another sight or head put on", _OTHER_HEAD, ("sight.kind", "sight.head_in_use")),
        Cause(
            "housing",
            "sight",
            "another housing or scope put on",
            _OTHER_HEAD,
            ("sight.housing.inner_mm", "sight.housing.outer_mm"),
        ),
        Cause("indicator", "sight", "pointer or scale moved", {"home": "every mark reads otherwise, by as much"}),
        Cause(
            "strip",
            "sight",
            "tape laid on anew, or another strip",
            {"proof": "its lines are where the old ones were not"},
        ),
        Cause(
            "axis_screw",
            "sight",
            "an axis screw turned",
            {
                "later_axes": "the axes after it are read through it",
                "windage": "the pins may stand further left or right",
                "home": "the pins may stand higher or lower",
            },
        ),
        Cause(
            "axis_turned",
            "sight",
            "an axis screw turned while levelling",
            {
                "windage": "the pins may stand further left or right",
                "home": "the pins may stand higher or lower",
            },
            by_itself=True,
        ),
        Cause("tuned", "rest", "a tuning step done", _STEPPED, by_itself=True),
        Cause(
            "tuned_cams",
            "string",
            "a tuning step done at yoke legs or spacers",
            _STEPPED | {"draw_twist": "cables and limbs load the riser otherwise"},
            by_itself=True,
        ),
        Cause(
            "tuned_cable",
            "string",
            "a tuning step done at a cable",
            {key: why for key, why in _POWER.items() if key != "tune"}
            | {"timing": "the cams come round otherwise"}
            | _STEPPED,
            by_itself=True,
        ),
        Cause("sight_off", "sight", "sight taken off and put on again", _LOOSENED),
        Cause("knock", "sight", "sight or bow knocked", _LOOSENED),
        Cause("strings", "string", "new string or cables", dict.fromkeys(EVERYTHING, "it is another string")),
    )
}


def keeps_spans(causes: Iterable[Cause]) -> bool:
    """Whether these leave how far the marks lie apart as it was: at most the zero can have moved."""
    return not any(set(SPANS).intersection(cause.reasons) for cause in causes)


REPORTED = tuple(cause for cause in CAUSES.values() if cause.can_be_said)
