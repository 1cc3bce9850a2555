"""Following a fixed spot of the background through the span of a footage."""

from dataclasses import dataclass

from footing.core.following.leg import Start, Step
from footing.core.following.run import follow
from footing.media.luma import pictures
from footing.settings import Settings
from footing.store.rows import Footage, Mark
from footing.studies.films.uploads import stored_media
from footing.studies.model.grounds import media_index


@dataclass(frozen=True)
class Followed:
    """Marks ``(frame, x, y)`` that were found, and a sentence about how it went."""

    marks: list[tuple[int, float, float]]
    said: str


def follow_spot(footage: Footage, start: Mark, settings: Settings) -> Followed:
    """Follow a spot from its mark ``start`` to the end of the span, then back to the beginning.

    Where it cannot be found with certainty the frame is left out.
    """
    stored = stored_media(footage, settings)
    index = media_index(footage.content)
    begin = Start(start.frame, (start.x, start.y))
    found: dict[int, tuple[float, float]] = {}
    ways = (
        range(start.frame, footage.last + 1),
        range(start.frame, footage.first - 1, -1),
    )
    for way in ways:
        frames = pictures(stored.path, index, way, seconds=settings.survey_seconds)
        for told in follow(frames, {0: begin}, patience=len(way)):
            for step in told:
                if isinstance(step, Step) and step.sure and step.place:
                    found[step.frame] = step.place
    marks = [(frame, x, y) for frame, (x, y) in sorted(found.items())]
    lost = len(set().union(*map(set, ways)) - found.keys()) - 1
    said = f"The background spot was followed through {len(marks)} frames."
    if lost > 0:
        said += f" In {lost} it could not be found; those frames do not count."
    return Followed(marks, said)
