"""A file that is the body of a request, written to disk as it comes: for archives of any size.

Who may send it was decided before its first byte is read.
"""

import errno
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from uuid import uuid4

from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from footing.core.errors import Refused
from footing.settings import Settings

_TIMES = 4  # the largest film: an archive may hold some


@asynccontextmanager
async def arrived(request: Request) -> AsyncIterator[Path]:
    """The body of a request as a file, which is gone when the block is left.

    Raises
    ------
    Refused : if there is none, it is too large, or the disk is full.
    """
    settings: Settings = request.app.state.settings
    settings.made_folder.mkdir(parents=True, exist_ok=True)
    path = settings.made_folder / uuid4().hex
    most = settings.upload_megabytes * 2**20 * _TIMES
    left = most
    try:
        with path.open("wb") as file:
            async for piece in request.stream():
                left -= len(piece)
                if left < 0:
                    raise Refused(f"This file is larger than {most // 2**20} MB.", field="file")
                await run_in_threadpool(file.write, piece)
        if left == most:
            raise Refused("Choose a file first.", field="file")
        yield path
    except OSError as error:
        if error.errno not in (errno.ENOSPC, errno.EDQUOT):
            raise
        raise Refused("The disk of this Footing is full.", field="file") from error
    finally:
        path.unlink(missing_ok=True)
