"""What is kept of a class and its students: listed, taken out as one file, and wiped."""

import io
import json
import zipfile
from dataclasses import dataclass

from footing.core.errors import Refused
from footing.store import class_data
from footing.store.rows import SchoolClass

FORMAT = 1  # of the file


@dataclass(frozen=True)
class Kept:
    """How much of each kind there is."""

    students: int
    studies: int
    edits: int
    films: int
    megabytes: float


def kept_of(class_id: int) -> Kept:
    """How much is kept of a class."""
    return Kept(*class_data.counted(class_id))


def exported(school_class: SchoolClass) -> bytes:
    """All rows of a class as JSON in a zip file; without PINs, which nobody needs."""
    content = {
        "format": FORMAT,
        "class": school_class.name,
        **class_data.plain_rows(school_class.id),
    }
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("class.json", json.dumps(content, indent=1, default=str))
    return made.getvalue()


def wipe(school_class: SchoolClass, *, typed: str) -> None:
    """Remove a class with its students, labs and studies. Films go when the house is tidied.

    Raises
    ------
    Refused : if the name was not typed as it is.
    """
    if typed.strip() != school_class.name:
        raise Refused(f"Type the name of the class, {school_class.name}, to be sure.", field="name")
    class_data.remove(school_class.id)
