"""All shapes there are, for what is made of them: the types of the scripts, what a card reads."""

from types import ModuleType, UnionType
from typing import Union, get_origin

from typing_extensions import is_typeddict

from footing.studies.shapes import (
    bodies,
    checks,
    findings,
    fits,
    graphs,
    ground,
    lab,
    ledgers,
    models,
    sources,
    state,
    tables,
)

_SUBJECTS: tuple[ModuleType, ...] = (
    sources,
    ground,
    tables,
    bodies,
    graphs,
    fits,
    findings,
    checks,
    lab,
    ledgers,
    models,
    state,
)


def every_shape() -> list[type]:
    """Each shape once, by subject."""
    named = [one for subject in _SUBJECTS for one in vars(subject).values()]
    return list(dict.fromkeys(one for one in named if is_typeddict(one)))


def every_union() -> dict[str, object]:
    """What is one of several shapes, by its name."""
    return {
        name: one
        for subject in _SUBJECTS
        for name, one in vars(subject).items()
        if isinstance(one, UnionType) or get_origin(one) is Union
    }
