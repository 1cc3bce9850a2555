"""Files that are saved by a browser, or looked at in it."""

from urllib.parse import quote

from fastapi import Response


def saved_as(name: str, *, inline: bool = False) -> dict[str, str]:
    """Headers of a file to be saved under a name, or to be looked at (RFC 6266)."""
    how = "inline" if inline else "attachment"
    disposition = f"{how}; filename*=UTF-8''{quote(name, safe='')}"
    return {"Content-Disposition": disposition, "Cache-Control": "no-store"}


def file_of(name: str, content: bytes, media_type: str) -> Response:
    """A file to be saved under a name."""
    return Response(content, media_type=media_type, headers=saved_as(name))
