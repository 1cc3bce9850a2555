"""A footage as far as predicted motions rest on it."""

from typing import Protocol

from footing.store.rows import Body, Footage, Passage
from footing.studies.model.fits import FitResult
from footing.studies.model.grounds import Grounded
from footing.studies.model.motions import BodyMotion


class Filmed(Protocol):
    """A footage as far as predictions rest on it."""

    @property
    def row(self) -> Footage:
        """Its row."""

    @property
    def ground(self) -> Grounded:
        """Its ground."""

    @property
    def bodies(self) -> list[tuple[Body, BodyMotion]]:
        """Its bodies with their motion."""

    @property
    def passages(self) -> dict[int, Passage]:
        """Its passages by their key."""

    @property
    def fits(self) -> list[FitResult]:
        """Its fits."""
