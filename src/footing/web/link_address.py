"""The address of a link, as others reach this server."""

from fastapi import Request

from footing.store.rows import StudyLink
from footing.studies.school import looking


def look_address(request: Request, link: StudyLink) -> str:
    """Where a study is looked at by a link."""
    base = request.app.state.settings.public_address or str(request.base_url)
    return f"{base.rstrip('/')}/look/{looking.token_of(link)}"
