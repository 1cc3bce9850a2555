"""Ledgers: what counts in the accounts of energy and of momentum."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from footing.core.dimensions import read_quantity, read_unit
from footing.core.errors import Refused
from footing.core.ledgers.energy import SHAPES
from footing.core.units import LENGTH_UNITS, LengthUnit, MomentumUnit, read_number, read_positive
from footing.store.rows import (
    Body,
    BodyColumn,
    EnergyLedger,
    Footage,
    Impact,
    MomentumLedger,
    Passage,
)
from footing.studies.edits.base import EditModel, Pixel, Typed, unit_behind
from footing.studies.work import Work

Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
_NEWTON_PER_METRE = read_unit("N/m")
_CELL = r"b\d{1,12}\.(before|after|change)\.(x|y|size)|total\.(before|after|change)\.(x|y|size)"


class SetEnergies(EditModel):
    """Say which bodies count in the account of energies, and which further lines it has.

    left_out : bodies that do not count; columns : columns of the bodies in joules
    against : whether the graph is against time or against height
    from_above : whether the film shows no heights, so that there is no potential energy
    """

    kind: Literal["set_energies"] = "set_energies"
    footage: int
    left_out: list[int] = Field(default_factory=list, max_length=50)
    columns: list[int] = Field(default_factory=list, max_length=6)
    against: Literal["t", "h"] = "t"
    from_above: bool = False

    @property
    def label(self) -> str:
        """In the history."""
        return "what the energies are of"

    def apply(self, work: Work) -> None:
        """Keep them."""
        for body in self.left_out:
            work.row(Body, body)
        for column in self.columns:
            work.row(BodyColumn, column)
        ledger = _energies(work, self.footage)
        _put(
            work,
            replace(
                ledger,
                left_out=self.left_out,
                columns=self.columns,
                against=self.against,
                from_above=self.from_above,
            ),
        )


class SetSpring(EditModel):
    """Say that a body is at the end of a spring; without a constant there is none."""

    kind: Literal["set_spring"] = "set_spring"
    footage: int
    body: int
    constant: Typed = ""
    unit: Annotated[str, StringConstraints(strip_whitespace=True, max_length=16)] = "N/m"
    rest_length: Typed = ""
    rest_unit: LengthUnit = "m"

    _rest = model_validator(mode="before")(unit_behind("rest_length", "rest_unit", of=LENGTH_UNITS))

    @property
    def label(self) -> str:
        """In the history."""
        return "the spring" if self.constant else "no spring"

    def apply(self, work: Work) -> None:
        """Keep it as it was typed."""
        ledger = _energies(work, self.footage)
        if not self.constant:
            _put(work, replace(ledger, spring_body_id=None, spring_constant=None))
            return
        if work.row(Body, self.body).footage_id != self.footage:
            raise Refused("This body is on another source.", field="body")
        read_positive(self.constant, field="constant", what="A spring constant")
        if not read_unit(self.unit).converts_to(_NEWTON_PER_METRE):
            raise Refused(f"A spring constant is in N/m, not in {self.unit}.", field="unit")
        if self.rest_length and read_number(self.rest_length, field="rest_length").value < 0:
            raise Refused("A length cannot be less than 0.", field="rest_length")
        _put(
            work,
            replace(
                ledger,
                spring_body_id=self.body,
                spring_constant=self.constant,
                spring_unit=self.unit,
                rest_length=self.rest_length or None,
                rest_unit=self.rest_unit,
            ),
        )


class SetFixedEnd(EditModel):
    """Place the fixed end of the spring."""

    kind: Literal["set_fixed_end"] = "set_fixed_end"
    footage: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return "the fixed end of the spring"

    def apply(self, work: Work) -> None:
        """Move it."""
        _put(work, replace(_energies(work, self.footage), fixed_x=self.x, fixed_y=self.y))


class SetMoments(EditModel):
    """Choose the frames of start, top and end that are compared; empty as they are proposed."""

    kind: Literal["set_moments"] = "set_moments"
    footage: int
    start: int | None = None
    top: int | None = None
    finish: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return "the moments that are compared"

    def apply(self, work: Work) -> None:
        """Keep them."""
        footage = work.row(Footage, self.footage)
        for name in ("start", "top", "finish"):
            frame = getattr(self, name)
            if frame is not None:
                work.check_frame(footage, frame, field=name)
        ledger = _energies(work, self.footage)
        _put(work, replace(ledger, start=self.start, top=self.top, finish=self.finish))


class SetInertia(EditModel):
    """Say how a body resists turning: by its shape, or its moment of inertia in kg m²."""

    kind: Literal["set_inertia"] = "set_inertia"
    body: int
    shape: str = ""
    typed: Typed = ""

    @property
    def label(self) -> str:
        """In the history."""
        return "a moment of inertia"

    def apply(self, work: Work) -> None:
        """Keep it."""
        body = work.row(Body, self.body)
        if self.shape and self.shape not in SHAPES:
            raise Refused(f"There is no shape {self.shape}.", field="shape")
        if self.typed:
            read_positive(self.typed, field="typed", what="A moment of inertia")
        changed = replace(body, inertia_shape=self.shape or None, inertia=self.typed or None)
        work.changes.update(changed)


class SetMomenta(EditModel):
    """Say what counts in the account of momenta around an impact.

    before, after : passages; if empty from the impact before it, and to the next one
    resting_before, resting_after : bodies that rest there, whether they are marked or not
    """

    kind: Literal["set_momenta"] = "set_momenta"
    impact: int
    before: int | None = None
    after: int | None = None
    left_out: list[int] = Field(default_factory=list, max_length=50)
    resting_before: list[int] = Field(default_factory=list, max_length=50)
    resting_after: list[int] = Field(default_factory=list, max_length=50)
    unit: MomentumUnit = "kg*m/s"
    blank: bool = False

    @property
    def label(self) -> str:
        """In the history."""
        return "what the momenta are of"

    def apply(self, work: Work) -> None:
        """Keep it."""
        impact = work.row(Impact, self.impact)
        _check_sides(work, impact, self.before, self.after)
        for body in (*self.left_out, *self.resting_before, *self.resting_after):
            work.row(Body, body)
        ledger = _momenta(work, impact)
        _put(
            work,
            replace(
                ledger,
                before_id=self.before,
                after_id=self.after,
                left_out=self.left_out,
                resting_before=self.resting_before,
                resting_after=self.resting_after,
                unit=self.unit,
                blank=self.blank,
                entries=ledger.entries if self.blank else {},
            ),
        )


class FillIn(EditModel):
    """Fill in a cell of a blank account of momenta; empty takes it out.

    cell : ``b7.before.x``, ``total.change.y``
    """

    kind: Literal["fill_in"] = "fill_in"
    impact: int
    cell: Annotated[str, StringConstraints(pattern=f"^({_CELL})$")]
    typed: Typed = ""

    @property
    def label(self) -> str:
        """In the history."""
        return "an entry of the ledger"

    def apply(self, work: Work) -> None:
        """Keep it as it was typed."""
        if self.typed:
            read_quantity(self.typed, field="typed")
        ledger = _momenta(work, work.row(Impact, self.impact))
        entries = {**ledger.entries, self.cell: self.typed}
        kept = {cell: typed for cell, typed in entries.items() if typed}
        _put(work, replace(ledger, entries=kept))


class SayVerdict(EditModel):
    """Say in words what a ledger tells: of the energies of a footage, or around an impact."""

    kind: Literal["say_verdict"] = "say_verdict"
    footage: int | None = None
    impact: int | None = None
    words: Words = ""

    @property
    def label(self) -> str:
        """In the history."""
        return "what a ledger tells"

    def apply(self, work: Work) -> None:
        """Keep the words."""
        if (self.footage is None) == (self.impact is None):
            raise Refused("Say whether this is about energies or about an impact.")
        if self.footage is not None:
            _put(work, replace(_energies(work, self.footage), verdict=self.words or None))
        else:
            impact = work.row(Impact, self.impact or 0)
            _put(work, replace(_momenta(work, impact), verdict=self.words or None))


def _check_sides(work: Work, impact: Impact, before: int | None, after: int | None) -> None:
    """Refuse passages that do not lie before and after the impact."""
    for name, key in (("before", before), ("after", after)):
        if key is None:
            continue
        passage = work.row(Passage, key)
        if passage.footage_id != impact.footage_id:
            raise Refused(f"“{passage.name}” is a passage of another source.", field=name)
        beside = passage.last < impact.at if name == "before" else passage.first > impact.at
        if not beside:
            raise Refused(
                f"“{passage.name}” (frames {passage.first:g} to {passage.last:g}) does not lie "
                f"{name} the impact at {impact.at:g}.",
                field=name,
            )


def _energies(work: Work, footage: int) -> EnergyLedger:
    """The account of energies of a footage, as it is or as it begins."""
    row = work.row(Footage, footage)
    if not work.kind(row).has_time:
        raise Refused("A picture has no velocities, so it has no energies.", field="footage")
    present = work.rows.energy_ledger_of(row)
    return present or EnergyLedger(footage_id=row.id, study_id=work.study_id)


def _momenta(work: Work, impact: Impact) -> MomentumLedger:
    """The account of momenta around an impact, as it is or as it begins."""
    present = work.rows.momentum_ledger_of(impact)
    return present or MomentumLedger(impact_id=impact.id, study_id=work.study_id)


def _put(work: Work, ledger: EnergyLedger | MomentumLedger) -> None:
    """Store an account, whether it is new or not."""
    if isinstance(ledger, EnergyLedger):
        is_there = work.rows.get(EnergyLedger, ledger.footage_id) is not None
    else:
        is_there = work.rows.get(MomentumLedger, ledger.impact_id) is not None
    if is_there:
        work.changes.update(ledger)
    else:
        work.changes.insert(ledger)
