"""Sending files as the pages do: announced, then in pieces."""

import base64
from typing import Any

import httpx2 as httpx

from footing.studies.school.people import Person
from tests.web.conftest import Browserless

PIECES = {"Tus-Resumable": "1.0.0", "Content-Type": "application/offset+octet-stream"}


class Sender:
    """Somebody who sends a file to a place, as a person or without a sign-in."""

    def __init__(self, site: Browserless, person: Person | None, place: str) -> None:
        self.site = site
        self.person = person
        self.place = place

    def announces(self, name: str, size: int, **said: Any) -> httpx.Response:
        metadata = {"name": name} | {key: str(value) for key, value in said.items()}
        encoded = ",".join(
            f"{key} {base64.b64encode(value.encode()).decode()}" for key, value in metadata.items()
        )
        headers = {"Upload-Length": str(size), "Upload-Metadata": encoded}
        return self.site.asks(self.person, "POST", f"{self.place}/uploads", headers=headers)

    def sends(self, place: str, piece: bytes, *, offset: int = 0) -> httpx.Response:
        headers = PIECES | {"Upload-Offset": str(offset)}
        return self.site.asks(self.person, "PATCH", place, content=piece, headers=headers)

    def received(self, place: str) -> int:
        return int(self.site.asks(self.person, "HEAD", place).headers["Upload-Offset"])

    def state(self, place: str) -> dict[str, Any]:
        found: dict[str, Any] = self.site.asks(self.person, "GET", place).json()
        return found

    def uploads(self, data: bytes, name: str = "clip.mp4", **said: Any) -> httpx.Response:
        """Announce and send in one piece; the answer that refused it, or the last one."""
        announced = self.announces(name, len(data), **said)
        if announced.status_code != 201:
            return announced
        return self.sends(announced.headers["Location"], data)
