"""The code that a phone scans: the address of its page, as a picture."""

from typing import Any

import segno
from fastapi import Request

from footing.studies.films import phones


def phone_code(request: Request, link: Any) -> dict[str, Any]:
    """Address, QR code (SVG path data) and end of a link.

    The address is the one under which phones reach this server: that of the classroom's network
    where it is served there, else the one that the page itself was asked for.
    """
    base = request.app.state.settings.public_address or str(request.base_url)
    address = f"{base.rstrip('/')}/phone/{phones.token_of(link)}"
    code = segno.make(address, error="m", micro=False)
    return {
        "address": address,
        "reachable": not _on_loopback(address),
        "code": code.svg_data_uri(border=2, dark="#1E2723", light="#FFFFFF", scale=4),
        "expires": link.expires.astimezone().strftime("%H:%M"),
    }


def _on_loopback(address: str) -> bool:
    host = address.split("//", 1)[-1].split("/", 1)[0].rsplit(":", 1)[0]
    return host in ("localhost", "[::1]") or host.startswith("127.")
