"""That what came in can be shown: a bad file is refused at once, and not by the page later."""

from footing.core.errors import FootingError, NotThere
from footing.store.access import class_study
from footing.store.reading import read_study
from footing.studies.packing.archive import Opened
from footing.studies.school.people import Person
from footing.studies.views.view import study_view


def check_it_shows(study_id: int, person: Person, archive: Opened) -> None:
    """Have everything computed that a page would show.

    Raises
    ------
    Refused : if something cannot be.
    """
    study = class_study(study_id)
    if study is None:
        raise NotThere("The study is not there any more.")
    rows = read_study(study_id)
    sources = [*(str(row.id) for row in rows.footages), *(f"s{row.id}" for row in rows.sheets)]
    for source in sources:
        try:
            study_view(study, person, source=source)
        except FootingError as error:
            raise archive.refusal(str(error)) from error
        except (ArithmeticError, LookupError, TypeError, ValueError) as error:
            raise archive.refusal() from error
