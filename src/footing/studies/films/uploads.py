"""From arriving bytes to a source on the stage."""

from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path, PurePosixPath
from uuid import uuid4

from footing.core.errors import FootingError, NotThere, Refused
from footing.media.index import MediaIndex, index_media
from footing.media.service import StoredMedia
from footing.settings import Settings
from footing.store import arrivals, records
from footing.store.contents import is_stored
from footing.store.database import transaction
from footing.store.history import is_known
from footing.store.media import Arrival, check_disk, media_path
from footing.store.notices import notify
from footing.store.reading import read_study
from footing.store.rows import Footage, Media, Upload
from footing.studies.door import EditRequest, submit
from footing.studies.edits.footage import AddFootage, ReplaceFootage
from footing.studies.model.grounds import media_index
from footing.studies.model.keys import made_key
from footing.studies.school.people import Person, person_of

_NAME_LENGTH = 60
_PIECE = 2**20  # bytes
_GIVEN_UP_AFTER = timedelta(days=2)


@dataclass(frozen=True)
class Sender:
    """Who sends files into which study; ``link`` is the phone link that they used, if any."""

    study_id: int
    person: Person
    link: int | None = None


@dataclass(frozen=True)
class Announced:
    """A file that is about to come. ``replaces`` is the footage whose place it takes."""

    name: str
    size: int
    replaces: int | None = None


def begin(sender: Sender, announced: Announced, settings: Settings) -> str:
    """Make room for a file; give the upload's key.

    Raises
    ------
    Refused : if it is too large, empty, or the disk has no room for it.
    """
    limit = settings.upload_megabytes * 2**20
    if announced.size > limit:
        raise Refused(
            f"The file has {announced.size / 2**20:.0f} MB; at most {settings.upload_megabytes} MB "
            "are accepted. Cut the video on the phone."
        )
    if announced.size == 0:
        raise Refused("The file is empty; copy it from the phone again.")
    _forget_given_up(settings)
    key = uuid4().hex
    with transaction():
        # files that are announced together must not all be promised the same room
        arrivals.announcing_one_by_one()
        check_disk(
            settings.media_folder,
            announced.size,
            reserve=settings.disk_reserve_megabytes * 2**20,
            promised=_promised(settings),
        )
        arrival(key, announced.size, settings).begin()
        records.add(
            Upload(
                id=key,
                study_id=sender.study_id,
                teacher_id=sender.person.teacher_id,
                student_id=sender.person.student_id,
                link_id=sender.link,
                name=short_name(announced.name),
                size=announced.size,
                replaces=announced.replaces,
                started_at=datetime.now(UTC),
            )
        )
    return key


def _promised(settings: Settings) -> int:
    """Bytes that files on their way have not brought yet."""
    return sum(
        row.size - arrival(row.id, row.size, settings).received for row in arrivals.arriving()
    )


def find(sender: Sender, key: str) -> Upload:
    """An upload of this sender's study.

    Raises
    ------
    NotThere : if there is none.
    """
    row = records.fetch(Upload, key)
    strange = row is None or row.study_id != sender.study_id
    if row is None or strange or (sender.link is not None and row.link_id != sender.link):
        raise NotThere("There is no such upload; choose the file again.")
    return row


def arrival(key: str, size: int, settings: Settings) -> Arrival:
    """The arriving file of an upload."""
    return Arrival(settings.media_folder, key, size=size)


def tell(upload: Upload, received: int) -> None:
    """Tell everybody who has the study open how far a file is."""
    notify(
        upload.study_id,
        upload={
            "id": upload.id,
            "name": upload.name,
            "received": received,
            "size": upload.size,
            "state": upload.state,
            "reason": upload.reason,
            "made": upload.made,
            "phone": upload.link_id is not None,
        },
    )


def give_up(upload: Upload, settings: Settings) -> None:
    """Forget an upload that has not arrived."""
    if upload.state == "arriving":
        arrival(upload.id, upload.size, settings).discard()
        refused = replace(upload, state="refused", reason="It was given up.")
        tell(records.change(upload, refused), 0)


def finish(upload: Upload, settings: Settings) -> str:
    """Make a source of a file that has arrived; whether it could be used is kept and told.

    Gives the content hash.

    Raises
    ------
    Unreadable, Refused, Stale : with the reason, if it cannot be used; nothing is kept then.
    """
    file = arrival(upload.id, upload.size, settings)
    became = None
    try:
        content = keep_media(file, settings)
        became = replace(upload, state="used", made=_make_source(upload, content))
    except FootingError as error:
        became = replace(upload, state="refused", reason=str(error))
        raise
    finally:
        if became is not None:  # otherwise it is tried again with the next question
            records.change(upload, became)
            file.discard()
            tell(became, upload.size)
    return content


def went_on(upload: Upload, settings: Settings) -> str | None:
    """Finish an upload whose bytes are all here, but whose end was cut off; give its content."""
    file = arrival(upload.id, upload.size, settings)
    if upload.state != "arriving" or not file.complete:
        return None
    with suppress(FootingError), file.appending(upload.size):
        return finish(upload, settings)
    return None


def keep_media(file: Arrival, settings: Settings) -> str:
    """Index an arrived file and keep it; give its content hash.

    Raises
    ------
    Unreadable : if it is not a video or a picture that can be used.
    """
    content = file.content()
    place = media_path(settings.media_folder, content)
    if is_stored(content) and place.exists():
        place.touch()  # wanted anew, so that tidying leaves it
        return content
    index = index_media(
        file.path,
        seconds=settings.decode_seconds,
        frame_count=settings.frame_count,
        frame_pixels=settings.frame_pixels,
    )
    file.keep(content)
    arrivals.keep_media(
        Media(
            content=content,
            size=media_path(settings.media_folder, content).stat().st_size,
            frames=index.frames,
            width=index.width,
            height=index.height,
            index={name: getattr(index, name) for name in MediaIndex.__dataclass_fields__},
            kind=index.kind,
        )
    )
    return content


def take_in(path: Path, settings: Settings) -> str:
    """Keep a copy of a file of this machine; give its content hash."""
    file = arrival(uuid4().hex, path.stat().st_size, settings)
    file.begin()
    with path.open("rb") as source, file.appending(0) as end:
        while piece := source.read(_PIECE):
            end.write(piece)
    content = keep_media(file, settings)
    file.discard()
    return content


def stored_media(footage: Footage, settings: Settings) -> StoredMedia:
    """The file of a source, ready for the frame service."""
    return stored_file(footage.content, settings)


def stored_file(content: str, settings: Settings) -> StoredMedia:
    """A file by its content, ready for the frame service."""
    return StoredMedia(content, media_path(settings.media_folder, content), media_index(content))


def short_name(name: str) -> str:
    """The name of a file without its folders, not too long."""
    stem = PurePosixPath(name.replace("\\", "/")).name.strip() or "video"
    return stem if len(stem) <= _NAME_LENGTH else f"{stem[: _NAME_LENGTH - 1]}…"


def _make_source(upload: Upload, content: str) -> int:
    """Make the edit in the name of who sent the file."""
    rows = read_study(upload.study_id)
    same = next((one for one in rows.footages if one.content == content), None)
    if same is not None and is_known(upload.study_id, upload.id):
        return same.id  # its edit was made, but not written down here
    if same is not None:
        raise Refused(f"This file is in the study already, as “{same.name}”.")
    edit: AddFootage | ReplaceFootage
    if upload.replaces is None:
        edit = AddFootage(content=content, name=upload.name)
    else:
        edit = ReplaceFootage(footage=upload.replaces, content=content, name=upload.name)
    request = EditRequest(edit=edit, based_on=rows.seq, token=upload.id)
    made = submit(upload.study_id, person_of(upload), request).made
    return made_key(made) or upload.replaces or 0


def _forget_given_up(settings: Settings) -> None:
    """Remove what began to arrive long ago and never went on."""
    old = datetime.now(UTC) - _GIVEN_UP_AFTER
    for row in arrivals.given_up(old):
        arrival(row.id, row.size, settings).discard()
