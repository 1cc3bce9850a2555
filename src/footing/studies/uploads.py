"""From arriving bytes to footage on the stage."""

from pathlib import Path, PurePosixPath
from typing import Any
from uuid import uuid4

from footing.core.errors import Refused
from footing.media.index import VideoIndex, index_video
from footing.media.service import Video
from footing.settings import Settings
from footing.store.media import IncomingFile, media_path
from footing.store.tables import Footage, Media
from footing.studies.door import Accepted, EditRequest, submit
from footing.studies.edits.footage import AddFootage
from footing.studies.motions import video_index
from footing.studies.people import Person

_NAME_LENGTH = 60


def incoming(settings: Settings) -> IncomingFile:
    """A place for an upload."""
    return IncomingFile(settings.media_folder, limit=settings.upload_megabytes * 2**20)


def check_room(study_id: int) -> None:
    """Refuse an upload, before it begins, into a study that has its footage already."""
    if Footage.select().where(Footage.study == study_id).exists():
        raise Refused(
            "The study has footage already; remove it first, or start a new study for this video."
        )


def keep_media(file: IncomingFile, settings: Settings) -> str:
    """Index an arrived file and keep it; give its content hash.

    Raises
    ------
    Unreadable : if it is not a video that can be used; nothing is kept then.
    """
    file.finish()
    known = Media.get_or_none(Media.content == file.content)
    if known is not None and media_path(settings.media_folder, file.content).exists():
        return file.content
    index = index_video(
        file.path,
        seconds=settings.decode_seconds,
        frame_count=settings.frame_count,
        frame_pixels=settings.frame_pixels,
    )
    content = file.content
    file.keep()
    Media.insert(
        content=content,
        size=file.size,
        frames=index.frames,
        width=index.width,
        height=index.height,
        index=_stored(index),
    ).on_conflict_ignore().execute()
    return content


def add_footage(
    study_id: int, person: Person, content: str, name: str, *, based_on: int
) -> Accepted:
    """Make an uploaded file the footage of a study, through the one door."""
    return submit(
        study_id,
        person,
        EditRequest(
            edit=AddFootage(content=content, name=_short_name(name)),
            based_on=based_on,
            token=uuid4().hex,
        ),
    )


def video_of(footage: Any, settings: Settings) -> Video:
    """The video file of a footage, ready for the frame service."""
    media = footage.media
    path: Path = media_path(settings.media_folder, media.content)
    return Video(media.content, path, video_index(media))


def _stored(index: VideoIndex) -> dict[str, Any]:
    return {name: getattr(index, name) for name in VideoIndex.__dataclass_fields__}


def _short_name(name: str) -> str:
    stem = PurePosixPath(name.replace("\\", "/")).name.strip() or "video"
    return stem if len(stem) <= _NAME_LENGTH else f"{stem[: _NAME_LENGTH - 1]}…"
