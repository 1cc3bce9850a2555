"""What a reader of a formula's values should know."""

from footing.core.formulas.notes import InRadians, Note, NumberIn


def note_said(note: Note) -> str:
    """One of them as a sentence."""
    if isinstance(note, NumberIn):
        return f"{note.function} takes the number of its argument in {note.unit}."
    if isinstance(note, InRadians):
        return f"{note.function}() takes its angle in radians here; for degrees write 7°."
    return "Noise makes squares of velocities too large; what it adds was taken off."
