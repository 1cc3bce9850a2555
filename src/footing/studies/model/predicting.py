"""Making a predicted motion from its rows, and finding parameters from marks."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from footing.core.arrays import IntArray
from footing.core.errors import Refused
from footing.core.kinematics import plane_scatter
from footing.core.prediction.adjusting import Adjusted, NotAdjusted, Track, adjust
from footing.core.prediction.chain import Chain, Leg, Slot
from footing.core.prediction.integrating import MotionStopped
from footing.core.prediction.laws import LAWS, Law
from footing.core.prediction.own_laws import ACCELERATION, PATH, own_law
from footing.core.prediction.parameters import START, parameter
from footing.core.units import read_number
from footing.store.rows import Body, MotionLeg, MotionModel
from footing.store.snapshot import StudyRows
from footing.studies.model.beginnings import Beginning
from footing.studies.model.computed import quantities_of
from footing.studies.model.filmed import Filmed
from footing.studies.model.fit_effects import Ground
from footing.studies.model.fits import FitResult
from footing.studies.model.leg_times import NoTimes, filmed_times, typed_times
from footing.studies.model.motions import BodyMotion
from footing.studies.model.prediction import Prediction, Stated
from footing.studies.model.stating import Stating
from footing.studies.model.surroundings import surroundings_of
from footing.words.prediction import not_adjusted_said, stop_said

_LEAST_SCATTER = 0.05  # px
OWN_LAWS = (ACCELERATION, PATH)


class Making:
    """A predicted motion while it is made."""

    def __init__(
        self,
        row: MotionModel,
        legs: tuple[MotionLeg, ...],
        source: Filmed | None,
        rows: StudyRows,
        fits: Mapping[int, FitResult],
    ) -> None:
        self.row = row
        self.legs = legs
        self.source = source
        self.rows = rows
        self.fits = fits
        self.problems: dict[int, str] = {}
        self.body: tuple[Body, BodyMotion] | None = None
        if source is not None:
            self.body = next((one for one in source.bodies if one[0].id == row.body_id), None)

    def made(self) -> Prediction:
        """The motion, or what is known of it and why there is none."""
        surroundings = surroundings_of(self.rows)
        laws = tuple(self._law(leg) for leg in self.legs)
        ground = None
        if self.source is not None and self.body is not None:
            ground = Ground(self.source.ground, self.body[1])
        track, frames, variance = self._track()
        bare = Prediction(
            self.row,
            self.legs,
            laws,
            {},
            problems=self.problems,
            track=track,
            frames=frames,
            variance=variance,
            ground=ground,
            surroundings=surroundings,
        )
        if self.source is not None and self.source.ground.metres is None:
            self.problems[0] = "A model is computed in metres; draw a known length at Ground."
            return bare
        borders = self._borders()
        begin = None if not borders else self._begin(track, borders[0])
        body = None if self.body is None else self.body[0]
        stated = Stating(self.row, body, self.fits, surroundings, begin).stated(self.legs, laws)
        bare = replace(bare, stated=stated)
        if not self.legs or self.problems or not borders:
            return bare
        return self._solved(bare, laws, stated, borders)

    def _solved(
        self,
        bare: Prediction,
        laws: Sequence[Law | None],
        stated: Mapping[Slot, Stated],
        borders: list[float],
    ) -> Prediction:
        chain = Chain(
            tuple(
                self._leg(place, leg, law, stated, borders)
                for place, (leg, law) in enumerate(zip(self.legs, laws, strict=True))
                if law is not None
            ),
            {
                slot.name: one.given.value
                for slot, one in stated.items()
                if slot.leg is None and one.given is not None
            },
            borders[0],
            borders[-1],
            self._up,
        )
        wanted = [
            (place, name)
            for place, leg in enumerate(chain.legs)
            for name in (*leg.names, *START, "until")
            if (one := stated.get(chain.slot(place, name))) is not None and one.how == "marks"
        ]
        wanted = list(dict.fromkeys(wanted))
        slots = [chain.slot(place, name) for place, name in wanted]
        self._tell_missing(chain, slots, stated)
        if self.problems:
            return replace(bare, chain=chain)
        found: Adjusted | NotAdjusted | None = None
        if wanted:
            if bare.track is None:
                self.problems[self._key(slots[0])] = (
                    f"{self._name(slots[0])} is to be found from marks, but there are none; type "
                    "it."
                )
                return replace(bare, chain=chain)
            found = adjust(chain, wanted, bare.track)
            if isinstance(found, NotAdjusted):
                said = not_adjusted_said(found, self._name)
                self.problems[self._key(found.slots[0])] = said[:1].upper() + said[1:]
                return replace(bare, chain=chain, found=found)
        try:
            solved = chain.solve(found.by_slot if isinstance(found, Adjusted) else None)
            solved.at(np.linspace(chain.began, chain.ends, 50))
        except MotionStopped as stopped:
            said = stop_said(stopped)
            self.problems[self.legs[stopped.leg].id] = said[:1].upper() + said[1:]
            return replace(bare, chain=chain, found=found)
        return replace(bare, chain=chain, found=found, solved=solved)

    def _key(self, slot: Slot) -> int:
        return self.legs[slot.leg].id if slot.leg is not None else 0

    @staticmethod
    def _name(slot: Slot) -> str:
        return parameter(slot.name).title

    def _tell_missing(
        self, chain: Chain, slots: Sequence[Slot], stated: Mapping[Slot, Stated]
    ) -> None:
        for slot in chain.missing(slots):
            why = stated[slot].problem if slot in stated else ""
            where = " in What moves" if slot.leg is None else ""
            text = why or f"The {self._name(slot)} is missing; type it{where}."
            self.problems.setdefault(self._key(slot), text)

    @property
    def _up(self) -> tuple[float, float]:
        if self.source is None:
            return (0.0, 1.0)
        if self.body is not None:
            return self.body[1].motion.up
        ground = self.source.ground
        angle = ground.ground.up
        x, y = ground.axes.matrix @ (np.cos(angle), np.sin(angle))
        return float(x), float(y)

    def _law(self, leg: MotionLeg) -> Law | None:
        if leg.law not in OWN_LAWS:
            return LAWS.get(leg.law)
        known = {
            name: one
            for name, one in quantities_of(self.rows).items()
            if not parameter(name).common
        }
        constants = {
            name: float(one.unit.to_base(float(one.values))) for name, one in known.items()
        }
        units = {name: one.unit for name, one in known.items()}
        units |= {name: parameter(name).unit for name in ("g", "mass", "diameter", "density")}
        try:
            return own_law(leg.law, leg.along_x, leg.along_y, constants=constants, units=units)
        except Refused as error:
            self.problems[leg.id] = str(error)
            return None

    def _track(self) -> tuple[Track | None, IntArray | None, float]:
        """The marks in metres, their frames, and how far they scatter."""
        if self.body is None or self.source is None or not len(self.body[1].frames):
            return None, None, 0.0
        metres = self.source.ground.metres or 1.0
        motion = self.body[1].motion
        positions = motion.positions * metres
        variance, dof = plane_scatter(motion.times, positions, motion.breaks)
        least = (_LEAST_SCATTER * self._per_pixel) ** 2  # followed marks scatter less than they err
        track = Track(motion.times, positions)
        return track, self.body[1].frames, max(variance, least) if dof else 0.0

    @property
    def _per_pixel(self) -> float:
        """Metres in a pixel where the body is."""
        assert self.source is not None
        assert self.body is not None
        ground = self.source.ground
        sizes = ground.flattening.per_pixel(self.body[1].pixels)
        return float(np.mean(sizes)) * (ground.metres or 1.0)

    def _borders(self) -> list[float]:
        """When the motion begins, and when each leg ends; empty where that cannot be."""
        if not self.legs:
            return []
        if self.source is None:
            times = typed_times(self.legs)
        else:
            motion = None if self.body is None else self.body[1]
            times = filmed_times(self.legs, self.source, motion)
        if isinstance(times, NoTimes):
            self.problems[times.leg] = times.text
            return []
        return times

    def _begin(self, track: Track | None, began: float) -> Beginning | None:
        if track is None or self.body is None:
            return None
        relative = Ground(self.source.ground, self.body[1]).relative if self.source else {}
        return Beginning.of_track(track, began, f"b{self.body[0].id}", relative)

    def _leg(
        self,
        place: int,
        leg: MotionLeg,
        law: Law,
        stated: Mapping[Slot, Stated],
        borders: list[float],
    ) -> Leg:
        own = {
            slot.name: one.given.value
            for slot, one in stated.items()
            if slot.leg == place and one.given is not None and slot.name != "until"
        }
        until = stated.get(Slot(place, "until"))
        moment = borders[place + 1]
        if until is not None and until.how == "typed" and until.given is not None:
            moment = until.given.value
        normal = None
        if leg.hits:
            normal = self._normal(leg)
        return Leg(law, moment, own, normal)

    def _normal(self, leg: MotionLeg) -> tuple[float, float]:
        try:
            degrees = read_number(leg.normal, field="normal").value
        except Refused:
            degrees = 90.0
        return float(np.cos(np.radians(degrees))), float(np.sin(np.radians(degrees)))
