"""Columns of numbers from a CSV file, as commands take them."""

import csv
from pathlib import Path

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.errors import Refused
from footing.core.units import read_number
from footing.text_files import read_text


def read_columns(file: Path, names: tuple[str, ...]) -> dict[str, FloatArray]:
    """Some columns by their names.

    Raises
    ------
    Refused : if the file is not there, has no such column, or holds something that is no number.
    """
    text = read_text(file)
    reader = csv.DictReader(text.splitlines(), skipinitialspace=True)
    header = reader.fieldnames or []
    for name in names:
        if name not in header:
            raise Refused(f"{file} has no column “{name}”; it has: {', '.join(header)}.")
    values: dict[str, list[float]] = {name: [] for name in names}
    for row in reader:
        for name in names:
            try:
                values[name].append(read_number(row[name] or "", field=name).value)
            except Refused as error:
                raise Refused(f"{file}, line {reader.line_num}, column {name}: {error}") from error
    return {name: np.array(column) for name, column in values.items()}
