"""Working on a study through the API, as the person of a window."""

from typing import Any
from uuid import uuid4

import httpx2 as httpx
from playwright.sync_api import Page

from footing.studies.shapes.state import StateShape


class Client:
    """A person who works on a study through the API."""

    def __init__(self, page: Page, address: str, study: int) -> None:
        cookies = {one["name"]: one["value"] for one in page.context.cookies()}
        self.http = httpx.Client(base_url=address, cookies=cookies, timeout=300)
        self.study = study
        self.seq = self.view()["seq"]

    def view(self, source: str = "") -> StateShape:
        """The whole state, as seen from a source."""
        path = f"/api/studies/{self.study}" + (f"?source={source}" if source else "")
        found: StateShape = self.http.get(path).raise_for_status().json()
        return found

    def does(self, kind: str, source: str = "", **fields: Any) -> dict[str, Any]:
        """Make an edit; give its answer."""
        path = f"/api/studies/{self.study}/edits" + (f"?source={source}" if source else "")
        body = {"edit": {"kind": kind, **fields}, "based_on": self.seq, "token": uuid4().hex}
        answer: dict[str, Any] = self.http.post(path, json=body).raise_for_status().json()
        self.seq = answer["view"]["seq"]
        return answer

    def makes(self, kind: str, **fields: Any) -> int:
        """Make something; give its key."""
        return int(self.does(kind, **fields)["made"].split(":")[1])
