"""The clock: where times come from, and when t = 0 is."""

from dataclasses import replace
from typing import Literal

from footing.core.errors import Refused
from footing.core.units import MILLISECONDS, RATES, SECONDS, read_positive
from footing.store.rows import Footage, Ground
from footing.studies.edits.base import EditModel, Typed
from footing.studies.work import Work


class SetClock(EditModel):
    """Say where times come from.

    clock : ``file`` for the file's own timestamps; ``capture`` with the capture rate in ``typed``
        (and, if the slow motion is a stretch only, its frames first and last); ``moments`` with the
        true seconds between the frames first and last in ``typed``
    """

    kind: Literal["set_clock"] = "set_clock"
    footage: int
    clock: Literal["file", "capture", "moments"]
    typed: Typed = ""
    first: int | None = None
    last: int | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return {
            "file": "the file's own times",
            "capture": f"capture rate {self.typed}",
            "moments": f"{self.typed} s between two frames",
        }[self.clock]

    def apply(self, work: Work) -> None:
        """Keep what was typed."""
        footage = work.row(Footage, self.footage)
        if not work.kind(footage).has_time:
            raise Refused("A picture has no clock.", field="clock")
        first, last = self.first, self.last
        if self.clock == "file":
            first = last = None
        else:
            if self.clock == "capture":
                read_positive(self.typed, field="typed", what="A capture rate", limits=RATES)
            else:
                read_positive(self.typed, field="typed", what="A time", limits=SECONDS)
            self._check_frames(work, footage)
        work.changes.update(
            replace(
                work.row(Ground, self.footage),
                clock=self.clock,
                clock_typed=self.typed if self.clock != "file" else None,
                clock_first=first,
                clock_last=last,
            )
        )

    def _check_frames(self, work: Work, footage: Footage) -> None:
        if self.clock == "capture" and self.first is None and self.last is None:
            return
        if self.first is None or self.last is None:
            raise Refused("Name both frames, the first and the last.", field="first")
        work.check_frame(footage, self.first, field="first")
        work.check_frame(footage, self.last, field="last")
        if self.first >= self.last:
            raise Refused(
                f"Frame {self.first} does not lie before frame {self.last}.", field="first"
            )


class SetZeroFrame(EditModel):
    """Put t = 0 on a frame."""

    kind: Literal["set_zero_frame"] = "set_zero_frame"
    footage: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"t = 0 at frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Move the zero of time."""
        work.check_frame(work.row(Footage, self.footage), self.frame)
        work.changes.update(replace(work.row(Ground, self.footage), zero_frame=self.frame))


class SetReadout(EditModel):
    """Say in how many milliseconds the camera reads a picture, row after row."""

    kind: Literal["set_readout"] = "set_readout"
    footage: int
    milliseconds: Typed

    @property
    def label(self) -> str:
        """In the history."""
        return "row readout"

    def apply(self, work: Work) -> None:
        """Keep what was typed; nothing means unknown."""
        if self.milliseconds:
            read_positive(
                self.milliseconds,
                field="milliseconds",
                what="A readout time",
                limits=MILLISECONDS,
            )
        work.changes.update(
            replace(work.row(Ground, self.footage), readout=self.milliseconds or None)
        )
