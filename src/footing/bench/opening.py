"""What opening a study takes on a slow network: the first time, and with everything kept."""

from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import CDPSession, Page

from footing.bench.measuring import line, seconds
from footing.bench.site import demo_site, sled_study, window
from footing.settings import Settings

_TURNS = 2  # of a message and its answer, which no page does without: itself, and what it asks for
_FACTOR = 2.0


@dataclass(frozen=True)
class _Network:
    """A network that is slower than the machine.

    latency : seconds of a message and its answer
    rate : bytes a second, down
    """

    name: str
    latency: float
    rate: float

    def at_best(self, count: int) -> float:
        """Seconds that so many bytes take in a few turns."""
        return _TURNS * self.latency + count / self.rate


_NETWORKS = (
    _Network("a full classroom's wireless", 0.1, 5e6 / 8),
    _Network("a phone at the edge of a cell", 0.3, 1.5e6 / 8),
)


@dataclass
class _Loaded:
    requests: int = 0
    count: int = 0  # bytes


def measure(settings: Settings, _folder: Path) -> None:
    """Open the sled run over slow networks."""
    with demo_site(settings) as address:
        path = f"{address}/studies/{sled_study()}/mark"
        with window(address) as page:
            page.goto(path)  # what the server makes for the first one who comes is there afterwards
            page.wait_for_selector("#stage[data-shown]")
        for network in _NETWORKS:
            with window(address) as page:
                session = page.context.new_cdp_session(page)
                _slow_down(session, network)
                for time in ("first time", "again"):
                    _opened(page, session, path, network, time)


def _slow_down(session: CDPSession, network: _Network) -> None:
    session.send("Network.enable")
    conditions = {
        "offline": False,
        "latency": 1000 * network.latency,
        "downloadThroughput": network.rate,
        "uploadThroughput": network.rate,
    }
    session.send("Network.emulateNetworkConditions", conditions)


def _opened(page: Page, session: CDPSession, path: str, network: _Network, time: str) -> None:
    page.goto("about:blank")
    loaded = _Loaded()

    def finished(event: dict[str, float]) -> None:
        loaded.requests += 1
        loaded.count += int(event["encodedDataLength"])

    def until_ready() -> None:
        page.goto(path)
        page.wait_for_selector("#bench[data-ready=true]", timeout=120_000)

    session.on("Network.loadingFinished", finished)
    took = seconds(until_ready)
    session.remove_listener("Network.loadingFinished", finished)
    name = f"{time}, {network.name}"
    line(f"opening a study, {name}", took, "s", 4)
    line("  of what its bytes take at best", took / network.at_best(loaded.count), "×", _FACTOR)
    line("  requests until it is ready", loaded.requests, "", 40)
    line("  bytes until it is ready", loaded.count / 1e3, "kB", 700)
