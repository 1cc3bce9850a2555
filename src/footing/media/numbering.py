"""Which frame of the index a decoded picture is."""

import av

from footing.media.index import MediaIndex


class Numbering:
    """Numbers pictures as a decoder gives them, from a key frame on.

    By their times; or one after the other where the times of the file cannot be believed. Frames
    that do not decode are then counted by those that follow, up to the next key frame.

    Parameters
    ----------
    first, end : frames that are wanted: first … end − 1, where ``first`` is a key frame
    """

    def __init__(self, index: MediaIndex, first: int, end: int) -> None:
        self._end = end
        self._by_time = {
            pts: number for number, pts in enumerate(index.pts[first:end], start=first)
        }
        self._last = index.pts[end - 1]
        self._by_order = index.by_order
        self._next = first
        self.done = False

    def of(self, frame: av.VideoFrame) -> int | None:
        """The number of a picture, or None if it is none of those that are wanted.

        Sets ``done`` with the last one.
        """
        if self._by_order:
            number: int | None = self._next if self._next < self._end else None
            self._next += 1
            self.done = self._next >= self._end
            return number
        if frame.pts is None:
            return None
        self.done = frame.pts >= self._last
        return self._by_time.get(frame.pts)
