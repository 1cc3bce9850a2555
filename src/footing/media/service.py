"""The frame service: the picture of any frame, decoded when first asked for.

Decoding a key-frame group writes all of its frames to the cache; whoever waits for one of them is
served as soon as that one is there, not when the group is finished.
"""

import threading
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

from footing.core.arrays import Image
from footing.core.errors import NotThere, Unreadable
from footing.media.cache import LONG_SIDE, FrameCache, FrameSize
from footing.media.frames import decode_group
from footing.media.index import MediaIndex

_DECODERS = 2
_MOST_UNKEPT = 400
_LOOK_AGAIN = 0.1  # seconds; another process may be at the same group
_WAITING_PICTURES = 4  # decoded but not yet written, for each decoder; bounds the memory


@dataclass
class _Group:
    """A key-frame group that is being decoded.

    unkept : pictures that the disk had no room for, by frame and size
    """

    unkept: dict[tuple[int, FrameSize], bytes] = field(default_factory=dict)
    done: set[int] = field(default_factory=set)
    finished: bool = False
    error: Exception | None = None
    changed: threading.Condition = field(default_factory=threading.Condition)


@dataclass(frozen=True)
class StoredMedia:
    """A file, its content hash and its index."""

    content: str
    path: Path
    index: MediaIndex

    def served_as(self, size: FrameSize) -> FrameSize:
        """Full size is the screen size where the picture is not larger than that."""
        small = max(self.index.width, self.index.height) <= LONG_SIDE["screen"]
        return "screen" if size == "full" and small else size


class FrameService:
    """Serves JPEGs of frames from the cache, decoding what is missing.

    Parameters
    ----------
    cache : where the JPEGs are kept
    seconds : time limit for one key-frame group
    """

    def __init__(self, cache: FrameCache, *, seconds: float) -> None:
        self._cache = cache
        self._seconds = seconds
        self._decoders = ThreadPoolExecutor(_DECODERS, thread_name_prefix="decode")
        self._writers = ThreadPoolExecutor(_DECODERS, thread_name_prefix="encode")
        self._groups: dict[tuple[str, int, FrameSize], _Group] = {}
        self._lock = threading.Lock()

    def jpeg(self, media: StoredMedia, frame: int, size: FrameSize) -> bytes:
        """The picture of a frame.

        Raises
        ------
        NotThere : if the file has no such frame.
        Unreadable : if the frame does not decode.
        """
        kept = self.kept(media, frame, size)
        if kept is not None:
            return kept
        size = media.served_as(size)
        group = self._decoding(media, frame, size)
        with group.changed:
            while not (frame in group.done or group.finished):
                group.changed.wait(_LOOK_AGAIN)
                kept = self._cache.read(media.content, frame, size)
                if kept is not None:  # from another process
                    return kept
        picture = self._cache.read(media.content, frame, size) or group.unkept.get((frame, size))
        if picture is None:
            raise Unreadable(f"Frame {frame} cannot be decoded; step past it.") from group.error
        return picture

    def kept(self, media: StoredMedia, frame: int, size: FrameSize) -> bytes | None:
        """The picture of a frame, if it need not be decoded.

        Raises
        ------
        NotThere : if the file has no such frame.
        """
        if not 0 <= frame < media.index.frames:
            last = media.index.frames - 1
            raise NotThere(f"There is no frame {frame}; the last one is {last}.")
        return self._cache.read(media.content, frame, media.served_as(size))

    def close(self) -> None:
        """Wait for decoding under way and stop."""
        self._decoders.shutdown(cancel_futures=True)
        self._writers.shutdown()

    def _decoding(self, media: StoredMedia, frame: int, size: FrameSize) -> _Group:
        """The decoding of the frame's group: the one under way, or a new one."""
        first, end = media.index.group(frame)
        kind: FrameSize = "full" if size == "full" else "screen"
        key = (media.content, first, kind)
        with self._lock:
            group = self._groups.get(key)
            if group is None:
                group = self._groups[key] = _Group()
                self._decoders.submit(self._decode, key, group, media, end)
            return group

    def _decode(
        self, key: tuple[str, int, FrameSize], group: _Group, media: StoredMedia, end: int
    ) -> None:
        content, first, kind = key
        sizes: tuple[FrameSize, ...] = ("full",) if kind == "full" else ("screen", "thumb")
        room = threading.Semaphore(_WAITING_PICTURES)

        def write(number: int, picture: Image) -> None:
            try:
                for size in sizes:
                    unkept = self._cache.write(content, number, size, picture)
                    if unkept is not None and len(group.unkept) < _MOST_UNKEPT:
                        group.unkept[number, size] = unkept
            finally:
                room.release()
            with group.changed:
                group.done.add(number)
                group.changed.notify_all()

        writing = []
        try:
            with self._cache.claimed(content, first, kind):
                here = range(first, end)
                if all(self._cache.holds(content, here, size) for size in sizes):
                    return
                for number, picture in decode_group(
                    media.path, media.index, first, end, seconds=self._seconds
                ):
                    room.acquire()
                    writing.append(self._writers.submit(write, number, picture))
                for one in writing:
                    one.result()
        except Exception as error:  # handed to everyone who waits for a frame of the group
            group.error = error
        finally:
            with self._lock:
                del self._groups[key]
            with group.changed:
                group.finished = True
                group.changed.notify_all()
