"""Kinds of sight, as data: what moves on each, how it is sighted in, the generic model to start from.

A new kind is an entry here: every station asks its capabilities, none asks for a kind by its name.
"""

from __future__ import annotations

from dataclasses import dataclass

from cross_staff.core.rig import generic_sights, sight_steps
from cross_staff.core.rig.procedure import ProcedureStep
from cross_staff.core.rig.schools import DIALLED, DOTS, POINTER, SECOND, STOP, Question
from cross_staff.core.rig.sight import SightModel


@dataclass(frozen=True)
class SightKind:
    """A kind of sight: its name, what moves on it and how it is sighted in, in words; how many pins it may have;
    the generic model; the steps of sighting in, and the choices that practice leaves open. And what it can:

    dialled: its housing travels along a tape or a scale.
    has_dial: every end is shot at a reading of the scale, by which it feeds the fit.
    found_by_wheel: home is found with the wheel, not with the whole housing (unless a fixed stop says otherwise).
    has_drum: readings are clicks of a drum from nought.
    has_indicators: each pin has an indicator of its own.
    scales_together: one control spreads all pins in proportion.
    computes_dots: aiming dots stand where they are computed, for any distance.
    aim_word: what is aimed with, a pin or a dot.
    """

    key: str
    name: str
    moves: str
    sighted_in: str
    most_pins: int
    template: SightModel
    procedure: tuple[ProcedureStep, ...]
    questions: tuple[Question, ...] = ()
    dialled: bool = False
    has_dial: bool = False
    found_by_wheel: bool = False
    has_drum: bool = False
    has_indicators: bool = False
    scales_together: bool = False
    computes_dots: bool = False
    aim_word: str = "pin"

    def asks(self, question: Question) -> bool:
        """Whether practice leaves this choice open on this kind."""
        return question in self.questions


KINDS = {
    kind.key: kind
    for kind in (
        SightKind(
            "fixed_pins",
            "fixed pins",
            "each pin; the whole housing up and down, left and right",
            "top pin with the whole housing, every other pin by itself",
            7,
            generic_sights.FIXED_PINS,
            sight_steps.FIXED_PINS,
        ),
        SightKind(
            "single_pin_slider",
            "single-pin slider",
            "the housing on an elevation rail, by wheel or knob",
            "home mark, then two or more dialled marks, then a tape",
            1,
            generic_sights.SINGLE_PIN_SLIDER,
            sight_steps.SINGLE_PIN_SLIDER,
            (STOP,),
            dialled=True,
            has_dial=True,
            found_by_wheel=True,
        ),
        SightKind(
            "multi_pin_slider",
            "multi-pin slider",
            "the pins one by one, then the whole housing on the rail",
            "fixed pins at the home position first, then one pin becomes the dialled pin",
            7,
            generic_sights.MULTI_PIN_SLIDER,
            sight_steps.MULTI_PIN_SLIDER,
            (STOP, DIALLED),
            dialled=True,
            has_dial=True,
        ),
        SightKind(
            "vertical_pin_slider",
            "vertical two- or three-pin slider",
            "pins on one post, one indicator for each pin",
            "one pin finds the tape, the other pins are placed, each indicator is set to its pin",
            3,
            generic_sights.VERTICAL_PIN_SLIDER,
            sight_steps.VERTICAL_PIN_SLIDER,
            (STOP, DIALLED, SECOND, POINTER),
            dialled=True,
            has_dial=True,
            found_by_wheel=True,
            has_indicators=True,
        ),
        SightKind(
            "geared_stack",
            "geared pin stack",
            "one control spreads all pins in proportion",
            "two distances fix all pins; the unchecked one with the widest band is shot",
            7,
            generic_sights.GEARED_STACK,
            sight_steps.GEARED_STACK,
            scales_together=True,
        ),
        SightKind(
            "target_scope",
            "target sight with scope",
            "a block on a threaded bar, with scale and click drum",
            "indicator and drum zeroed together, marks read to a fraction of a division",
            1,
            generic_sights.TARGET_SCOPE,
            sight_steps.TARGET_SCOPE,
            dialled=True,
            has_dial=True,
            found_by_wheel=True,
            has_drum=True,
            aim_word="dot",
        ),
        SightKind(
            "pin_display",
            "electronic pin display",
            "aiming dots computed from speed and body measurements, or entered pin by pin",
            "reference distance first, display squared to the eye, then far groups with their offset",
            20,
            generic_sights.PIN_DISPLAY,
            sight_steps.PIN_DISPLAY,
            (DOTS,),
            computes_dots=True,
            aim_word="dot",
        ),
    )
}


def kind_of(sight: SightModel) -> SightKind:
    """What this sight can."""
    return KINDS[sight.kind]
