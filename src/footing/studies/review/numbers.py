"""The numbers of a study at one moment, and what differs between two: numbers and texts."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from itertools import zip_longest

from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import FrozenNumber
from footing.store.snapshot import StudyRows
from footing.studies.model.results import NoResult
from footing.studies.model.sources import Sources
from footing.studies.school.people import Person
from footing.studies.shapes.fits import FitShape
from footing.studies.shapes.ground import GroundShape
from footing.studies.shapes.sources import FootageShape
from footing.studies.shapes.state import StateShape
from footing.studies.views.shown import NO_PARTS
from footing.studies.views.view import study_view


def numbers_of(study: ClassStudy, person: Person) -> list[FrozenNumber]:
    """What a study comes to: findings, fits, ground and marks, by what each is called."""
    rows = read_study(study.id)
    keys: list[str] = [str(one.id) for one in rows.footages]
    keys += [f"s{one.id}" for one in rows.sheets]
    found: list[FrozenNumber] = []
    for place, key in enumerate(keys or [""]):
        view = study_view(study, person, source=key or None, shown=NO_PARTS)
        if place == 0:
            found += _findings(view, rows)
        if view["footage"] is not None and view["ground"] is not None:
            found += _ground(view["footage"], view["ground"])
            found += [
                _number(
                    "marks", f"{body['name']}, {view['footage']['name']}", str(len(body["marks"]))
                )
                for body in view["bodies"]
            ]
        for fit in view["fits"]:
            found += _fit(fit)
    return found


def _findings(view: StateShape, rows: StudyRows) -> Iterator[FrozenNumber]:
    results = Sources(rows).results
    for finding in view["findings"]:
        found = results[finding["id"]]
        if finding["reason"] is not None or isinstance(found, NoResult):
            yield _number("finding", finding["name"], f"none: {finding['reason']}")
            continue
        yield {
            "of": "finding",
            "name": finding["name"],
            "text": finding["text"],
            "value": found.value.value,
            "uncertainty": found.value.uncertainty,
            "unit": str(found.unit),
        }


def _ground(film: FootageShape, ground: GroundShape) -> Iterator[FrozenNumber]:
    name = film["name"]
    yield _number("ground", f"span of {name}", f"{film['first']} … {film['last']}")
    for number, length in enumerate(ground["known_lengths"], 1):
        yield _number("ground", f"known length {number} of {name}", length["text"])
    yield _number("ground", f"zero of {name}", ground["zero_text"])
    yield _number("ground", f"angle of the axes of {name}", ground["angle_text"])
    if film["has_time"]:
        yield _number("ground", f"rate of {name}", ground["clock"]["rate"])


def _fit(fit: FitShape) -> Iterator[FrozenNumber]:
    name = fit["label_text"] or f"{fit['title']} through {fit['series']} of {fit['owner_name']}"
    if fit["reason"] is not None:
        yield _number("fit", name, f"none: {fit['reason']}")
        return
    for one in fit["parameters"]:
        letters = "".join("".join(part) for part in one["formula"])
        yield _number("fit", f"{letters or one['label']} of {name}", one["text"])
    yield _number("fit", f"points of {name}", str(fit["n"]))


def _number(of: str, name: str, text: str) -> FrozenNumber:
    return {"of": of, "name": name, "text": text, "value": None, "uncertainty": None, "unit": ""}


@dataclass(frozen=True)
class Differing:
    """A number before and after; empty where there was or is none."""

    of: str
    name: str
    before: str
    after: str


def differing(before: Sequence[FrozenNumber], after: Sequence[FrozenNumber]) -> list[Differing]:
    """The numbers that are not the same at two moments, in the order that they have."""
    first, second = (_by_name(one) for one in (before, after))
    return [
        Differing(*key[:2], first.get(key, ""), second.get(key, ""))
        for key in dict.fromkeys((*second, *first))
        if first.get(key, "") != second.get(key, "")
    ]


def _by_name(numbers: Sequence[FrozenNumber]) -> dict[tuple[str, str, int], str]:
    """Texts by what they are of; a second one of the same name is told apart."""
    found: dict[tuple[str, str, int], str] = {}
    for one in numbers:
        nth = 0
        while (one["of"], one["name"], nth) in found:
            nth += 1
        found[one["of"], one["name"], nth] = one["text"]
    return found


@dataclass(frozen=True)
class DifferingText:
    """Words of a report before and after; empty where there were or are none."""

    before: str
    after: str


def differing_texts(before: StudyRows, after: StudyRows) -> list[DifferingText]:
    """The texts of a report that were written anew between two moments."""
    first, second = (
        [block.words.strip() for block in rows.report if block.words.strip()]
        for rows in (before, after)
    )
    found = []
    matcher = SequenceMatcher(a=first, b=second, autojunk=False)
    for what, a, b, c, d in matcher.get_opcodes():
        if what != "equal":
            pairs = zip_longest(first[a:b], second[c:d], fillvalue="")
            found += [DifferingText(one, other) for one, other in pairs]
    return found
