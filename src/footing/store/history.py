"""The history of studies: what was done, by whom, and whether it still stands."""

from footing.store.tables import Edit


def was_taken_back(study_id: int, run: str) -> bool:
    """Whether an edit of a run was taken back."""
    here = (Edit.study == study_id) & (Edit.run == run) & ~Edit.standing
    return bool(Edit.select().where(here).exists())
