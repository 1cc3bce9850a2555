"""Text files that commands take."""

from pathlib import Path

from footing.core.errors import Refused


def read_text(file: Path) -> str:
    """The text of a file, without a mark for its encoding.

    Raises
    ------
    Refused : if it is not there, or holds no text.
    """
    try:
        return file.read_text(encoding="utf-8-sig")
    except FileNotFoundError as error:
        raise Refused(f"There is no file {file}.") from error
    except (OSError, UnicodeDecodeError) as error:
        raise Refused(f"{file} cannot be read as a text file.") from error
