"""A source as a screen shows it: what its file says, in plain words."""

from footing.core import findings
from footing.media.index import MediaIndex
from footing.store.rows import Footage, Sheet, Surveyed
from footing.studies.model.grounds import Grounded, media_index
from footing.studies.model.keys import SourceKey
from footing.studies.model.kinds import kind_of
from footing.studies.shapes.sources import FootageShape, SourceLine

_NAMED = 8  # frames that are named one by one


def source_line(row: Footage) -> SourceLine:
    """One source in the list of sources."""
    kind = media_index(row.content).kind
    return {"id": row.id, "name": row.name, "kind": kind, "content": row.content}


def sheet_line(row: Sheet) -> SourceLine:
    """A sheet in the list of sources."""
    return {"id": str(SourceKey("sheet", row.id)), "name": row.name, "kind": "sheet", "content": ""}


def footage_view(ground: Grounded) -> FootageShape:
    """The source on the stage with what its file says."""
    row, index = ground.footage, ground.index
    found = ground.survey
    damaged = found["damaged"] if found else []
    return {
        "id": row.id,
        "kind": index.kind,
        "has_time": ground.kind.has_time,
        "content": row.content,
        "name": row.name,
        "width": index.width,
        "height": index.height,
        "frames": index.frames,
        "first": row.first,
        "last": row.last,
        "stride": row.stride,
        "notes": [*index.notes, *_survey_notes(found, row)],
        "facts": file_facts(index) + _survey_facts(found, index),
        "damaged": damaged,
        "surveyed": found is not None or index.frames == 1,
        "moves_from": found["moves_from"] if found else None,
        "times": [round(float(time), 6) for time in ground.times],
    }


def file_facts(index: MediaIndex) -> list[list[str]]:
    """What the index says, as pairs of a name and a text."""
    size = ["size", f"{index.width} × {index.height} px"]
    if not kind_of(index).has_time:
        return [["kind", f"picture ({index.codec.upper()})"], size]
    rhythm = index.cadence
    facts = [["frames", str(index.frames)]]
    if index.frames > 1:
        facts += [
            ["length", f"{findings.significant(rhythm.duration, 4)} s"],
            ["rate", f"{findings.significant(rhythm.rate, 4)} frames/s"],
            [
                "steps",
                f"vary, {1000 * rhythm.shortest_step:.1f} to {1000 * rhythm.longest_step:.1f} ms"
                if rhythm.variable
                else f"even, {1000 * rhythm.duration / (index.frames - 1):.2f} ms",
            ],
        ]
    facts.append(size)
    if index.rotation:
        facts.append(["turned", f"{index.rotation}° clockwise, as the file says"])
    if index.capture_rate:
        facts.append(["captured at", f"{index.capture_rate:g} frames/s, as the file says"])
    return facts


def _survey_facts(found: Surveyed | None, index: MediaIndex) -> list[list[str]]:
    if index.frames == 1:
        return []
    if found is None:
        return [["frames checked", "under way …"]]
    if found.get("problem"):
        return [["frames checked", "could not be"]]
    repeated = _listed(found["repeated"]) if found["repeated"] else "none"
    return [["damaged", _listed(found["damaged"]) or "none"], ["repeated", repeated]]


def _survey_notes(found: Surveyed | None, footage: Footage) -> list[str]:
    if not found:
        return []
    notes = []
    if found.get("problem"):
        notes.append(found["problem"])
    if damaged := found["damaged"]:
        frames = "Frame" if len(damaged) == 1 else "Frames"
        within = sum(footage.first <= frame <= footage.last for frame in damaged)
        matters = (
            f"{within} of the span; stepping passes over, and no mark should be made there"
            if within
            else "outside the span, so it does not matter"
        )
        notes.append(f"{frames} {_listed(damaged)} damaged: {matters}.")
    return notes


def _listed(frames: list[int]) -> str:
    """Frame numbers as people write them: 4, 9–12, 30."""
    runs: list[list[int]] = []
    for frame in frames:
        if runs and frame == runs[-1][1] + 1:
            runs[-1][1] = frame
        else:
            runs.append([frame, frame])
    texts = [str(a) if a == b else f"{a}–{b}" for a, b in runs]
    rest = len(texts) - _NAMED
    return ", ".join(texts[:_NAMED]) + (f" and {rest} more" if rest > 0 else "")
